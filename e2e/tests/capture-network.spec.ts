import type { BrowserContext, Page } from '@playwright/test';
import type { BayAnswer } from '@mile-mark/contract/inspections';
import { digitalGauge } from '@mile-mark/standins';
import { begin, expectationOf, keep, keptOf, readingsOf, sent, VERNIER } from '../support/capture.ts';
import { expect, keptOnDevice, signIn, test, type App } from '../support/app.ts';

/** Capture where the network comes and goes, and what the server says late. */

test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true });

const API = '**/api/**';

/** The network is cut. A page just opened may hear late from the browser that it is: no call passes in any case. */
async function cutOff(context: BrowserContext) {
  await context.route(API, (route) => route.abort('internetdisconnected'));
  await context.setOffline(true);
}

/** The network is back. */
async function backAgain(context: BrowserContext) {
  await context.unroute(API);
  await context.setOffline(false);
}

/** Signed in as a technician on a device that keeps the application, and then without a network. */
async function measuringOffline(page: Page, app: App) {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();
  await keptOnDevice(page);
  // Once more, so that the worker serves the page.
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();
  await cutOff(page.context());
}

test('without a network the application opens, captures and keeps; with it again all is sent once', async ({
  page,
  app,
  context,
}) => {
  await measuringOffline(page, app);
  await page.goto(`${app.url}/measure`);
  await expect(page.getByText('No network. Measuring goes on')).toBeVisible();
  await begin(page, 'V12', { gauge: VERNIER });
  const gauge = digitalGauge({ unit: 'mm', step: 0.1, biasMm: 0, repeatabilityMm: 0.02, seed: 9 });
  await page.keyboard.type(gauge.press(await expectationOf(page, 'Axle 1, left, outer pad')));
  await expect(page.getByLabel('Axle 1, left, inner pad')).toBeFocused();
  // The tablet is put away and taken up again: nothing typed is lost.
  await expect.poll(() => keptOf(page, 'V12')).toContain(await page.getByLabel('Axle 1, left, outer pad').inputValue());
  await page.reload();
  await page.getByRole('button', { name: 'Axle 1, left' }).click();
  await expect(page.getByLabel('Axle 1, left, outer pad')).not.toHaveValue('');
  await keep(page, 1);
  await expect(page.getByText('1 entry waits on this device to be sent: V12.')).toBeVisible();
  // Signing out warns; the entry stays.
  await page.getByRole('button', { name: /Tobi Varga/ }).click();
  await expect(page.getByText('1 entry is on this device only.')).toBeVisible();
  await page.keyboard.press('Escape');
  expect(await page.getByText('1 to send').count()).toBe(1);
  await backAgain(context);
  await sent(page);
  expect(await readingsOf(page, app, 'V12')).toHaveLength(1);
});

test('an answer cut off half-way, or a server that fails, takes nothing off the screen or the device', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();
  const whole = await (await page.request.get(`${app.url}/api/bay`)).text();
  const half = whole.slice(0, Math.floor(whole.length / 2));
  await page.route('**/api/bay*', (route) => route.fulfill({ contentType: 'application/json', body: half }));
  await page.route('**/api/session', (route) => route.fulfill({ status: 503, body: '' }));
  await begin(page, 'V15', { gauge: VERNIER, ahead: 5 });
  const figure = await expectationOf(page, 'Axle 1, left, outer pad');
  await page.getByLabel('Axle 1, left, outer pad').fill(String(figure.toFixed(1)));
  // Back at the network, everything is asked for again.
  await page.evaluate(() => window.dispatchEvent(new Event('visibilitychange')));
  await keep(page, 1);
  // Sent, and asked for again in vain: the device goes on with what it has, and says of when.
  await expect(page.getByText('what is expected of the pads is as of')).toBeVisible();
  await expect(page.getByText(/on this device to be sent/)).toHaveCount(0);
  expect(await readingsOf(page, app, 'V15')).toHaveLength(1);
  await expect(page.getByLabel('Unit number')).toBeVisible();
  // Taken up again, the device has the vehicles as they last came whole.
  await page.reload();
  await expect(page.getByLabel('Unit number')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();
  await begin(page, 'V16', { gauge: VERNIER, ahead: 5 });
});

test('the network coming and going moves nothing under a finger', async ({ page, app, context }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'V17', { gauge: VERNIER, ahead: 5 });
  const review = page.getByRole('button', { name: 'Review', exact: true });
  const before = await review.boundingBox();
  // The finger is down when the network goes, and lifted when it is gone.
  await review.hover();
  await page.mouse.down();
  await context.setOffline(true);
  await expect(page.getByText('No network. Measuring goes on')).toBeVisible();
  expect(await review.boundingBox()).toEqual(before);
  await page.mouse.up();
  await expect(page.getByRole('button', { name: /^Save/ })).toBeVisible();
  await page.getByRole('button', { name: /^No network/ }).click();
  await expect(page.getByRole('dialog').getByText('Elsewhere what is shown may be old')).toBeVisible();
  await page.keyboard.press('Escape');
  await context.setOffline(false);
  await expect(page.getByText('No network.')).toHaveCount(0);
  expect((await review.boundingBox())?.y).toBe(before?.y);
});

test('a vehicle that changed meanwhile is shown, and goes in when the technician says so', async ({
  page,
  app,
  context,
  browser,
}) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'V14', { gauge: VERNIER, ahead: 5 });
  await page.getByLabel('Axle 1, left, outer pad').fill('11.4');
  await page.keyboard.press('Enter');
  const asked = page.getByRole('button', { name: 'Measured twice, same result' });
  if (await asked.isVisible()) await asked.click();
  await context.setOffline(true);
  await keep(page, 1);
  await expect(page.getByText('1 entry waits')).toBeVisible();
  const desk = await browser.newPage();
  await signIn(desk, app);
  await desk.goto(`${app.url}/vehicles/V14`);
  const now = /about ([\d,]+) mi/.exec((await desk.getByText(/mi today/).textContent()) ?? '')?.[1] ?? '';
  const done = await desk.request.post(`${app.url}/api/services`, {
    data: { id: crypto.randomUUID(), unit: 'V14', axle: 1, date: '2026-11-20', odometer: `${now} mi`, fitted: 'pads' },
    headers: { origin: app.url },
  });
  expect(done.status()).toBe(201);
  await context.setOffline(false);
  await expect(
    page.getByText(/V14 changed meanwhile: Meanwhile Maren Ashdown recorded pads fitted on axle 1/),
  ).toBeVisible();
  expect(await readingsOf(page, app, 'V14')).toHaveLength(0);
  await page.getByRole('button', { name: 'The readings hold: send them' }).click();
  await sent(page);
  expect(await readingsOf(page, app, 'V14')).toHaveLength(1);
  await desk.close();
});

test('what the server refuses comes back to be mended where it was typed', async ({ page, app, context }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'P12', { gauge: VERNIER });
  await context.setOffline(true);
  await page
    .getByLabel('Axle 1, left, outer pad')
    .fill((await expectationOf(page, 'Axle 1, left, outer pad')).toFixed(1));
  await keep(page, 1);
  // Somebody else's odometer of the same day, far on, makes this one impossible.
  const api = await page.context().browser()?.newContext();
  const desk = await api?.newPage();
  if (!desk) throw new Error('no browser');
  await signIn(desk, app);
  const vehicles = (await (await desk.request.get(`${app.url}/api/vehicles`)).json()) as {
    items: { unit: string; odometerMi: number }[];
  };
  const miles = vehicles.items.find(({ unit }) => unit === 'P12')?.odometerMi ?? 0;
  const entry = await desk.request.post(`${app.url}/api/services`, {
    data: {
      id: crypto.randomUUID(),
      unit: 'P12',
      axle: 2,
      date: '2026-11-19',
      odometer: `${miles + 20_000} mi`,
      fitted: 'rotors',
    },
    headers: { origin: app.url },
  });
  expect(entry.status()).toBe(201);
  await context.setOffline(false);
  await expect(page.getByText(/P12 came back: .*an odometer doesn't fall/)).toBeVisible();
  await page.getByRole('button', { name: 'Open and mend' }).click();
  await expect(page.getByText(/It came back:/)).toBeVisible();
  await page.getByLabel('Odometer, mi').fill(String(miles + 20_050));
  await page.keyboard.press('Enter');
  const ahead = page.getByRole('button', { name: 'Measured twice, same result' });
  if (await ahead.isVisible()) await ahead.click();
  await keep(page, 1);
  await sent(page);
  expect(await readingsOf(page, app, 'P12')).toHaveLength(1);
  await api?.close();
});

test('what came back is thrown away only where its technician says so once more', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  const why = 'This gauge is at the calibrator’s; one that is here is accepted.';
  await page.route('**/api/readings*', (route) =>
    route.fulfill({
      status: 400,
      contentType: 'application/problem+json',
      body: JSON.stringify({ type: 'urn:mile-mark:problem:invalid', title: why, status: 400 }),
    }),
  );
  await begin(page, 'P13', { gauge: VERNIER, ahead: 5 });
  await page.getByLabel('Axle 1, left, outer pad').fill(String(await expectationOf(page, 'Axle 1, left, outer pad')));
  await keep(page, 1);
  const back = page.getByText(`P13 came back: ${why}`);
  const ask = page.getByRole('button', { name: 'Throw away …' });
  await ask.click();
  await expect(page.getByRole('dialog').getByText(/^1 reading of 20 Nov 2026 at [\d,]+ mi/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(back).toBeVisible();
  await ask.click();
  await page.getByRole('button', { name: 'Throw it away' }).click();
  await expect(page.getByText('Nothing waits on this device; all is sent.')).toBeVisible();
  await page.unroute('**/api/readings*');
  await page.reload();
  await expect(page.getByText('Nothing waits on this device; all is sent.')).toBeVisible();
  expect(await readingsOf(page, app, 'P13')).toHaveLength(0);
});

test('a look without a network is of the device’s day; where its clock was set meanwhile the day is asked for', async ({
  page,
  app,
  context,
}) => {
  await measuringOffline(page, app);
  const now = Date.now();
  // Four days back: the record's day stays the earliest a new look can be of, and the office will ask.
  await page.clock.setFixedTime(new Date(now - 4 * 86_400_000));
  await page.goto(`${app.url}/measure`);
  // What it last heard is of the day before its clock was set: were it to hear of the record now, nothing would be odd.
  await expect(page.getByText('what is expected of the pads is as of')).toBeVisible();
  await begin(page, 'P14', { gauge: VERNIER, ahead: 5 });
  await page.getByLabel('Axle 1, left, outer pad').fill(String(await expectationOf(page, 'Axle 1, left, outer pad')));
  await keep(page, 1);
  // Three days on: what was last heard of the record was of the 20th.
  await page.clock.setFixedTime(new Date(now + 3 * 86_400_000));
  await page.goto(`${app.url}/measure/P19`);
  await expect(page.getByLabel('Today', { exact: true })).toHaveValue('23 Nov 2026');
  await page.clock.setFixedTime(new Date(now - 4 * 86_400_000));
  const asked = page.waitForResponse(/api\/readings\?deviceDay=/);
  await backAgain(context);
  expect((await asked).url()).toMatch(/deviceDay=2026-11-16$/);
  await page.goto(`${app.url}/measure`);
  await expect(page.getByText(/The clock of this device was set meanwhile: by it today is 2026-11-16/)).toBeVisible();
  expect(await readingsOf(page, app, 'P14')).toHaveLength(0);
  await page.getByRole('button', { name: 'Open and mend' }).click();
  await keep(page, 1);
  await sent(page);
  expect(await readingsOf(page, app, 'P14')).toHaveLength(1);
});

test('a device that has the vehicles is told what changed since, and goes on with all of them', async ({
  page,
  app,
}) => {
  const answers: BayAnswer[] = [];
  await page.route('**/api/bay*', async (route) => {
    const response = await route.fetch();
    answers.push((await response.json()) as BayAnswer);
    // The page may have gone on meanwhile.
    await route.fulfill({ response }).catch(() => undefined);
  });
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Worth a look today' })).toBeVisible();
  const [whole] = answers;
  expect([whole?.whole, whole?.vehicles.length]).toEqual([true, whole?.fleet.length]);
  await begin(page, 'V20', { gauge: VERNIER, ahead: 5 });
  const figure = await expectationOf(page, 'Axle 1, left, outer pad');
  await page.getByLabel('Axle 1, left, outer pad').fill(String(figure.toFixed(1)));
  await keep(page, 1);
  await sent(page);
  // Where the fleet has just learnt, the whole comes once more before.
  await expect(async () => {
    const before = answers.length;
    await page.reload();
    await expect.poll(() => answers.length).toBeGreaterThan(before);
    expect(answers.at(-1)?.whole).toBe(false);
  }).toPass();
  const since = answers.slice(1);
  expect(since.flatMap(({ vehicles }) => vehicles.map(({ unit }) => unit))).toContain('V20');
  const parts = since.filter((one) => !one.whole);
  for (const { vehicles, fleet } of parts) expect(vehicles.length).toBeLessThan(fleet.length / 2);
  // One that was not sent again is there as before.
  const told = parts.flatMap(({ vehicles }) => vehicles.map(({ unit }) => unit));
  const other = whole?.vehicles.find(({ unit }) => !told.includes(unit));
  await page.goto(`${app.url}/measure/${other?.unit ?? ''}`);
  await expect(page.getByText(other?.model ?? 'no vehicle').first()).toBeVisible();
});
