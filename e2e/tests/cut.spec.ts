import { createServer } from 'node:net';
import pg from 'pg';
import { seededRandom } from '@mile-mark/core';
import { expect, signIn, startServer, stop, test, type App } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';
import type { Page } from '@playwright/test';

/**
 * 200 inspections captured on the real screens of one device, with the network cut at random and the server
 * killed (SIGKILL) at random while they are sent: afterwards every reading is on record exactly once.
 */

const INSPECTIONS = 200;
const KILLS = 5;

/** A port that is free now, so that the server comes back at the same address. */
function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

const kill = ({ process: server }: App) =>
  new Promise<void>((resolve) => {
    server.removeAllListeners('exit');
    server.on('exit', () => resolve());
    server.kill('SIGKILL');
  });

/** Captures one inspection of two pads by keyboard, as a typing gauge would. */
async function capture(page: Page, unit: string, odometer: number, figures: readonly [string, string]): Promise<void> {
  await page.getByLabel('Unit number').fill(unit);
  await page.keyboard.press('Enter');
  const field = page.getByLabel('Odometer, mi');
  await field.fill(String(odometer));
  await field.press('Enter');
  await page.getByLabel('Axle 1, left, outer pad').fill(figures[0]);
  await page.getByLabel('Axle 1, left, inner pad').fill(figures[1]);
  for (const answer of await page.getByRole('button', { name: 'Measured twice, same result' }).all())
    if (await answer.isVisible()) await answer.click();
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await page.getByRole('button', { name: 'Save 2 readings' }).click();
  await expect(page.getByLabel('Unit number')).toBeVisible();
}

test('200 inspections, a network cut at random and a server killed: all readings there exactly once', async ({
  browser,
}) => {
  test.setTimeout(1_200_000);
  await withDatabase({ demo: true, today: '2026-11-20' }, async (databaseUrl) => {
    const random = seededRandom(200);
    const options = { demo: true, today: '2026-11-20', port: await freePort() };
    let app = await startServer(databaseUrl, options);
    const context = await browser.newContext({ viewport: { width: 1024, height: 768 } });
    const page = await context.newPage();
    await signIn(page, app, 'technician');
    const bay = (await (await page.request.get(`${app.url}/api/bay`)).json()) as {
      gauges: { id: string; name: string }[];
      vehicles: {
        unit: string;
        odometerNowMi: number;
        axles: { pads: { side: string; pad: string; meanMm: number }[] }[];
      }[];
    };
    const gauge = bay.gauges.find(({ name }) => name === 'Vernier, Creamery yard');
    await page.evaluate((id) => localStorage.setItem('mile-mark.gauge', id), gauge?.id ?? '');
    await page.getByRole('link', { name: 'Measure', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();

    // Meanwhile the network comes and goes, and the server dies and comes back.
    let over = false;
    let kills = 0;
    let cuts = 0;
    const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
    const trouble = (async () => {
      while (!over) {
        await pause(600 + 2400 * random());
        if (over) return;
        if (kills < KILLS && random() < 0.35) {
          await kill(app);
          kills += 1;
          await pause(1500 * random());
          app = await startServer(databaseUrl, options);
        } else {
          await context.setOffline(true);
          cuts += 1;
          await pause(400 + 2000 * random());
          await context.setOffline(false);
        }
      }
    })();
    try {
      for (let i = 0; i < INSPECTIONS; i += 1) {
        const vehicle = bay.vehicles[i % bay.vehicles.length];
        if (!vehicle) throw new Error('no vehicle');
        const lap = Math.floor(i / bay.vehicles.length);
        const expected = (pad: string) =>
          (vehicle.axles[0]?.pads.find((one) => one.side === 'left' && one.pad === pad)?.meanMm ?? 5).toFixed(1);
        await capture(page, vehicle.unit, vehicle.odometerNowMi + 1 + 3 * lap, [expected('outer'), expected('inner')]);
      }
    } catch (error) {
      const shown = await page.locator('body').innerText();
      throw new Error(`After ${kills} kills and ${cuts} cuts the screen says:\n${shown}`, { cause: error });
    } finally {
      over = true;
      await trouble;
    }
    await context.setOffline(false);
    while (kills < 2) {
      await kill(app);
      kills += 1;
      app = await startServer(databaseUrl, options);
    }
    await page.goto(`${app.url}/measure`);
    await expect(page.getByText('Nothing waits on this device; all is sent.')).toBeVisible({ timeout: 120_000 });
    test.info().annotations.push({ type: 'trouble', description: `${kills} kills, ${cuts} cuts` });
    expect(cuts).toBeGreaterThan(5);

    const database = new pg.Client({ connectionString: databaseUrl });
    await database.connect();
    // What the demo has of the same technician and day was typed with its unit; this device types figures.
    const { rows } = await database.query<{ inspections: number; readings: number; places: number }>(
      `select count(distinct i.id)::int inspections, count(*)::int readings,
         count(distinct (r.vehicle_id, r.odometer_m, r.axle, r.side, r.pad))::int places
       from reading r join inspection i on i.id = r.inspection_id join person p on p.id = r.technician_id
       where p.name = 'Tobi Varga' and r.measured_on = '2026-11-20' and i.odometer_typed !~ 'mi'`,
    );
    await database.end();
    expect(rows[0]).toEqual({ inspections: INSPECTIONS, readings: 2 * INSPECTIONS, places: 2 * INSPECTIONS });
    await context.close();
    await stop(app);
  });
});
