import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import pg from 'pg';
import writeWorkbook from 'write-excel-file/node';
import { choose } from '../support/choose.mjs';
import { expect, fixture, startServer, stop, test, type App } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';
import { checksOf, workbookRows, yardSheet } from '../support/sheets.ts';

/**
 * A shop's first days, from nothing: its papers are on record, then sheets nobody shaped come in, one goes out again, and
 * the record is kept up on screen: vehicles, a model, a person, a fitting. At the end all of it goes into a second place.
 */
test.use({ options: { demo: false, today: '2026-11-20' } });
test.describe.configure({ mode: 'serial' });

const SECRET = 'curds and whey 26';
let page: Page;

interface Mark {
  unit: string;
  axle: number;
  markOdometerMi: number;
  markDate: string;
}

/** The marks once nothing is left to be learnt: that no vehicle is behind does not tell that the fleet is not. */
async function marksOf({ url, databaseUrl }: App, of = page): Promise<Mark[]> {
  const ask = async () =>
    (await (await of.request.get(`${url}/api/mile-marks`)).json()) as { items: Mark[]; refresh: { pending: number } };
  const database = new pg.Client({ connectionString: databaseUrl });
  await database.connect();
  const left = async () => {
    const { rows } = await database.query<{ untold: number; queued: number }>(
      `select (select count(*)::int from outbox where delivered_at is null) untold, (select count(*)::int from pgboss.job
         where name in ('refresh-fleet', 'refresh-vehicle') and state in ('created', 'retry', 'active')) queued`,
    );
    return { ...rows[0], pending: (await ask()).refresh.pending };
  };
  await expect.poll(left, { timeout: 90_000 }).toEqual({ untold: 0, queued: 0, pending: 0 });
  await database.end();
  return (await ask()).items.map(({ unit, axle, markOdometerMi, markDate }) => ({
    unit,
    axle,
    markOdometerMi,
    markDate,
  }));
}
/** By how much each mark moved, mi, by its vehicle and axle. */
function movedBy(before: readonly Mark[], after: readonly Mark[]): Map<string, number> {
  const key = ({ unit, axle }: Mark) => `${unit}/${axle}`;
  const now = new Map(after.map((mark) => [key(mark), mark.markOdometerMi]));
  return new Map(before.map((mark) => [key(mark), Math.abs((now.get(key(mark)) ?? Infinity) - mark.markOdometerMi)]));
}
const markOf = async (app: App, unit: string, axle: number) =>
  (await marksOf(app)).find((one) => one.unit === unit && one.axle === axle)?.markOdometerMi;
const unitsIn = async (app: App, fileName: string) =>
  (await (await page.request.get(`${app.url}/api/readings.csv`)).text())
    .split('\n')
    .filter((l) => l.includes(fileName));

const button = (name: string | RegExp) => page.getByRole('button', { name });
const sheet = () => page.getByRole('dialog');
const entry = (unit: string) => page.getByRole('complementary', { name: `Entry of ${unit}` });

async function drop(name: string, content: string | Buffer): Promise<void> {
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page.getByLabel('Files to import').setInputFiles({
    name,
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(content as string),
  });
  // One of the same name may have been taken in before.
  await page
    .getByRole('region', { name: 'These files' })
    .getByRole('button', { name: new RegExp(`^${name.replaceAll('.', '\\.')}`) })
    .click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

test.beforeAll(async ({ browser, app }) => {
  page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(app.url);
  await page.getByLabel('Your name').fill('Ada Wrenfield');
  await page.getByLabel('E-mail address').fill('ada@dairy.example');
  await page.getByLabel('Password').fill(SECRET);
  await button('Make the first account').click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  // How the papers go in by hand is walked elsewhere: here they are on record.
  const post = async (path: string, data: object) => {
    const answer = await page.request.post(`${app.url}/api/${path}`, { headers: { origin: app.url }, data });
    expect([path, answer.ok()]).toEqual([path, true]);
  };
  const [technicianId, gaugeId] = [randomUUID(), randomUUID()];
  await post('people', { id: technicianId, name: 'Chidi Okafor', role: 'technician' });
  const gauge = { name: 'Digital depth gauge', kind: 'digital depth gauge', resolutionMm: 0.1, unit: 'mm' };
  await post('gauges', { id: gaugeId, ...gauge });
  for (const name of ['models', 'duties', 'vehicles', 'services', 'readings-okafor'])
    await post('imports', {
      fileName: `${name}.csv`,
      text: readFileSync(fixture(`${name}.csv`), 'utf8'),
      ...(name.startsWith('readings') ? { understanding: { technicianId, gaugeId } } : {}),
    });
});
test.afterAll(async () => page.close());

test('a wide sheet with a title and two lines of header: its questions are answered, and it goes in', async ({
  app,
}) => {
  await drop('yard.csv', yardSheet(await checksOf(page, app.url, ['V12', 'V14'])));
  await expect(button(/^Take in/)).toBeDisabled();
  await page
    .getByRole('group', { name: /^The dates can be read/ })
    .getByRole('button', { name: /November/ })
    .click();
  await choose(page.getByLabel('Who measured'), 'Chidi Okafor');
  await choose(page.getByLabel('Measured with'), 'Digital depth gauge');
  await button('Take in 16 records').click();
  await expect(page.getByText('yard.csv is in', { exact: true })).toBeVisible();
});

test('a workbook goes in, is undone from the bar on another page, and comes in again', async ({ app }) => {
  const before = await marksOf(app);
  const data = workbookRows(await checksOf(page, app.url, ['V16', 'V19']));
  const book = [{ data, sheet: 'Vans' }] as Parameters<typeof writeWorkbook>[0];
  const file = await writeWorkbook(book).toBuffer();
  const takeIn = async (remembered: boolean) => {
    await drop('vans.xlsx', file);
    await choose(page.getByLabel('Who measured'), 'Chidi Okafor');
    if (remembered) await expect(page.getByText('as remembered from last time')).toBeVisible();
    else await choose(page.getByLabel('Measured with'), 'Digital depth gauge');
    await button('Take in 8 records').click();
    await expect(page.getByText('vans.xlsx is in', { exact: true })).toBeVisible();
  };
  await takeIn(false);
  const moved = movedBy(before, await marksOf(app));
  const furthest = [...moved].sort(([, a], [, b]) => b - a).slice(0, 11);
  expect(furthest.at(-1)?.[1]).toBeGreaterThan(1000);
  await page.getByRole('link', { name: 'Records', exact: true }).click();
  await page.getByRole('banner').getByRole('button', { name: 'Undo: vans.xlsx is in: 8 records.' }).click();
  await expect(page.getByText('vans.xlsx is taken back.')).toBeVisible();
  // The fleet's learning rests where another round teaches nothing new: a trace of where it began stays.
  const stillOff = async () => {
    const off = movedBy(before, await marksOf(app));
    return Math.max(...furthest.map(([key, by]) => (off.get(key) ?? Infinity) / by));
  };
  await expect.poll(stillOff, { timeout: 90_000 }).toBeLessThan(0.25);
  await takeIn(true);
});

test('a list of vehicles of another yard is taken back whole, with what it moved', async ({ app }) => {
  const units = async () =>
    ((await (await page.request.get(`${app.url}/api/vehicles`)).json()) as { items: { unit: string; depot: string }[] })
      .items;
  const before = await units();
  await drop(
    'other yard.csv',
    'unit,model,depot,duty,duty_from,odometer_mi_at_start\nZ1,Quillon Box 35,Far yard,herd rounds,2026-09-01,1200\nP12,Corvane P2 4x4,Far yard,herd rounds,2025-08-04,30036\n',
  );
  await page
    .getByRole('row', { name: /^line 3/ })
    .getByRole('radio', { name: 'take as typed' })
    .click();
  await button('Take in 2 records').click();
  await expect(page.getByText('other yard.csv is in', { exact: true })).toBeVisible();
  expect((await units()).map(({ unit, depot }) => `${unit} ${depot}`)).toEqual(
    expect.arrayContaining(['Z1 Far yard', 'P12 Far yard']),
  );
  await button('Take it back …').click();
  await sheet().getByLabel('Why').fill('the other yard');
  await sheet().getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByText(/^other yard\.csv is taken back; the marks of/)).toBeVisible();
  expect(await units()).toEqual(before);
  expect(await unitsIn(app, 'Z1')).toEqual([]);
});

test('a vehicle is added, moved and sold', async ({ app }) => {
  await page.goto(`${app.url}/fleet`);
  await button('Add a vehicle …').click();
  for (const list of ['Model', 'Depot']) await expect(sheet().getByLabel(list)).toHaveText(/\w/);
  await sheet().getByLabel('Unit number').fill('V30');
  await choose(sheet().getByLabel('Model'), 'Quillon Box 35');
  await choose(sheet().getByLabel('Depot'), 'Plant');
  await sheet()
    .getByLabel(/^Odometer on that day/)
    .fill('9000');
  await sheet().getByRole('button', { name: 'Add it' }).click();
  await entry('V30').getByRole('button', { name: 'Move V30' }).click();
  await choose(sheet().getByLabel('To', { exact: true }), 'Coast depot');
  await sheet().getByRole('button', { name: 'Move it' }).click();
  await expect(entry('V30')).toContainText('Coast depot');
  await entry('V30').getByRole('button', { name: 'Sold or retired …' }).click();
  await sheet().getByRole('button', { name: 'It was sold' }).click();
  await expect(page.getByRole('row', { name: /^V30 / })).toHaveCount(0);
  await expect.poll(async () => (await marksOf(app)).some(({ unit }) => unit === 'V30')).toBe(false);
});

test('a figure of a model is corrected, and the marks of its vehicles move', async ({ app }) => {
  const before = await marksOf(app);
  await page.goto(`${app.url}/fleet/models?model=Quillon%20Box%2035`);
  await page.getByLabel('Maker’s least pad, mm, axle 1').fill('4');
  await page.getByLabel('Why').fill('the sheet says four');
  await button('Save').click();
  await expect(page.getByText(/^Quillon Box 35 is corrected/)).toBeVisible();
  // Two millimetres less to wear: sooner on nearly every front axle of that model, whatever else is learnt meanwhile.
  const wasAt = new Map(before.map(({ unit, axle, markOdometerMi }) => [`${unit}/${axle}`, markOdometerMi]));
  const sooner = (await marksOf(app)).filter(
    ({ unit, axle, markOdometerMi }) =>
      unit.startsWith('V') && axle === 1 && markOdometerMi < (wasAt.get(`${unit}/${axle}`) ?? 0) - 1000,
  );
  expect(sooner.length).toBeGreaterThanOrEqual(8);
});

test('somebody who left is shut out while signed in elsewhere; what they measured stays', async ({ app, browser }) => {
  await page.goto(`${app.url}/fleet/people`);
  const people = page.locator('form').filter({ hasText: 'A new person' });
  await expect(page.getByRole('cell', { name: 'Chidi Okafor', exact: true })).toBeVisible();
  await people.getByLabel('Name').fill('Orla Fenwick');
  await people.getByLabel(/E-mail address/).fill('orla@dairy.example');
  await people.getByLabel('First password').fill('whey and curds 7');
  await people.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('cell', { name: 'orla@dairy.example', exact: true })).toBeVisible();
  const other = await browser.newPage();
  await other.goto(`${app.url}/sign-in`);
  await other.getByLabel('E-mail address').fill('orla@dairy.example');
  await other.getByLabel('Password').fill('whey and curds 7');
  await other.getByRole('button', { name: 'Sign in' }).click();
  await expect(other.getByRole('navigation', { name: 'Places' })).toBeVisible();
  await button('End the access of Orla Fenwick').click();
  await sheet().getByRole('button', { name: 'End it' }).click();
  await expect(page.getByText('Orla Fenwick can no longer sign in.')).toBeVisible();
  expect((await other.request.get(`${app.url}/api/mile-marks`)).status()).toBe(401);
  await other.goto(`${app.url}/questions`);
  await expect(other.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await other.close();
});

test('pads fitted on the wrong vehicle are withdrawn with a reason, and the mark returns', async ({ app }) => {
  const before = await markOf(app, 'V14', 1);
  await page.goto(`${app.url}/vehicles/V14`);
  const odometer = /about ([\d,]+) mi today/.exec((await page.getByText(/mi today/).textContent()) ?? '')?.[1] ?? '';
  await button('Pads fitted …').click();
  await choose(sheet().getByLabel('Axle'), '1');
  await sheet()
    .getByLabel(/^Odometer/)
    .fill(`${odometer} mi`);
  await sheet().getByRole('button', { name: 'Record it' }).click();
  // Asked once where the mark is far ahead; recorded at once where it is near.
  const sure = sheet().getByRole('button', { name: 'They were fitted: record it' });
  await expect(sure.or(page.getByText('Recorded. The axle starts a new life.'))).toBeVisible();
  if (await sure.isVisible()) await sure.click();
  await expect.poll(async () => markOf(app, 'V14', 1), { timeout: 120_000 }).not.toBe(before);
  await page
    .getByRole('region', { name: 'Pads and rotors fitted' })
    .getByRole('button', { name: /20 Nov 2026$/ })
    .click();
  await sheet().getByLabel('Why').fill('it was the other van');
  await sheet().getByRole('button', { name: 'Withdraw it' }).click();
  await expect.poll(async () => markOf(app, 'V14', 1), { timeout: 120_000 }).toBe(before);
});

test('the whole record goes into a second place, to equal marks', async ({ app, browser }) => {
  test.slow();
  const before = await marksOf(app);
  await page.goto(`${app.url}/fleet/archive`);
  const waiting = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download the archive' }).click();
  const file = await (await waiting).path();
  await withDatabase({ demo: false, today: '2026-11-20' }, async (databaseUrl) => {
    const second = await startServer(databaseUrl, { demo: false, today: '2026-11-20' });
    const other = await browser.newPage();
    try {
      await other.goto(second.url);
      await other.getByLabel('Your name').fill('Ada');
      await other.getByLabel('E-mail address').fill('ada@dairy.example');
      await other.getByLabel('Password').fill(SECRET);
      await other.getByRole('button', { name: 'Make the first account' }).click();
      await expect(other.getByRole('navigation', { name: 'Places' })).toBeVisible();
      await other.goto(`${second.url}/fleet/archive`);
      await other.getByLabel('Archive, as it was downloaded').setInputFiles(file);
      await other.getByRole('button', { name: 'Take it in' }).click();
      await expect(other.getByText(/^The record is in: [\d,]+ rows/)).toBeVisible({ timeout: 120_000 });
      expect(await marksOf(second, other)).toEqual(before);
    } finally {
      await other.close();
      await stop(second);
    }
  });
});
