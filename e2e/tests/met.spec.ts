/** What bay and desk met: safety on every screen, mistakes taken back, a phone's Monday morning, a week on one page. */
import type { Page } from '@playwright/test';
import { choose } from '../support/choose.mjs';
import { expect, signIn, test, type App } from '../support/app.ts';
import { begin, sent, tap, VERNIER } from '../support/capture.ts';

const SIZES = [
  { name: 'desk', unit: 'T12', size: { width: 1280, height: 800 } },
  { name: 'tablet', unit: 'T13', size: { width: 1024, height: 768 } },
  { name: 'phone', unit: 'T14', size: { width: 390, height: 844 } },
];

/** One finding at a wheel, saved and sent. */
async function find(page: Page, app: App, unit: string, wheel: string, item: string, state: string): Promise<void> {
  await page.goto(`${app.url}/measure`);
  await begin(page, unit, { gauge: VERNIER, ahead: 2 });
  await page.getByRole('button', { name: wheel }).click();
  await page.getByRole('tab', { name: 'Found' }).click();
  await page.getByRole('group', { name: item, exact: true }).getByRole('button', { name: state, exact: true }).click();
}

for (const { name, unit, size } of SIZES)
  test(`a cracked rotor forbids driving on every screen until it is lifted (${name})`, async ({
    page,
    app,
    browser,
  }) => {
    await page.setViewportSize(size);
    await signIn(page, app, 'technician');
    await find(page, app, unit, 'Axle 1, left', 'Rotor surface', 'cracked');
    const more = page.getByRole('group', { name: 'rotor cracked: more' });
    await expect(more).toContainText('Do not drive; everybody is told');
    await more.getByRole('button', { name: 'outer face' }).click();
    await more.getByRole('button', { name: 'clear', exact: true }).click();
    await more.getByLabel('Note on rotor cracked').fill('edge to hub');
    await page.getByRole('group', { name: 'Boots' }).getByRole('button', { name: 'torn' }).click();
    await page.getByRole('button', { name: 'Review', exact: true }).click();
    // Everything found is said again before it is saved.
    const found = page.getByRole('list', { name: 'Found' });
    await expect(found).toContainText('rotor cracked (outer face, clear, edge to hub). Do not drive.');
    await expect(found).toContainText('boots torn. Before next use.');
    await page.getByRole('button', { name: /^Save 0 readings and 2 more/ }).click();
    await sent(page);
    // The technician's own list says so; withdrawing it is not theirs.
    const own = page.getByRole('listitem').filter({ hasText: unit }).filter({ hasText: 'do not drive' });
    await own.getByRole('button', { name: 'Take back …' }).click();
    await expect(page.getByRole('dialog')).toContainText('It forbids driving: the coordinator withdraws it.');
    await page.keyboard.press('Escape');

    const desk = await (await browser.newContext({ viewport: size })).newPage();
    await signIn(desk, app);
    const told = desk.getByText(`${unit} is not to be driven.`);
    for (const path of [`/vehicles/${unit}`, `/measure/${unit}`, '/questions', `/specifications?unit=${unit}&axle=1`]) {
      await desk.goto(app.url + path);
      await expect(told.first(), path).toBeVisible();
    }
    await desk.goto(`${app.url}/this-week`);
    await expect(desk.getByRole('listitem').filter({ hasText: unit }).first()).toContainText('rotor cracked');
    await desk.goto(`${app.url}/?find=${unit}`);
    await expect(desk.getByText('do not drive').first()).toBeVisible();

    await desk.goto(`${app.url}/jobs?unit=${unit}`);
    await desk.getByRole('listitem').filter({ hasText: 'cracked' }).getByRole('button', { name: 'Settle …' }).click();
    const dialog = desk.getByRole('dialog');
    await dialog.getByLabel('Reason').fill('to the next shop at walking pace');
    await dialog.getByRole('button', { name: /Let it be driven/ }).click();
    await desk.goto(`${app.url}/vehicles/${unit}`);
    await expect(desk.getByRole('heading', { name: unit, exact: true })).toBeVisible();
    await expect(told).toHaveCount(0);
    await desk.close();
  });

test('a finding is withdrawn with a reason, and what it asked for goes', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/measure`);
  await begin(page, 'P13', { gauge: VERNIER, ahead: 2 });
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await choose(page.getByLabel('Who measures'), 'Tobi Varga');
  await page.getByRole('button', { name: 'Axle 1, right' }).click();
  await page.getByRole('tab', { name: 'Found' }).click();
  await page.getByRole('group', { name: 'Boots', exact: true }).getByRole('button', { name: 'torn' }).click();
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await page.getByRole('button', { name: /^Save/ }).click();
  await sent(page);
  await page.goto(`${app.url}/jobs?unit=P13`);
  await expect(page.getByRole('heading', { name: '1 open defect' })).toBeVisible();
  await page.goto(`${app.url}/vehicles/P13`);
  await page.getByRole('listitem').filter({ hasText: 'torn' }).getByRole('button', { name: 'Withdraw' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Why').fill('grease, not a tear');
  // Esc throws nothing typed away.
  await page.keyboard.press('Escape');
  await expect(dialog).toContainText('What you typed here is not saved.');
  await dialog.getByRole('button', { name: 'Go on typing' }).click();
  await dialog.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(page.getByText('boots torn: withdrawn')).toBeVisible();
  await page.goto(`${app.url}/jobs?unit=P13`);
  await expect(page.getByRole('heading', { name: '0 open defects' })).toBeVisible();
});

test('measured the wrong vehicle: the sheet is moved whole, and the mark of the first stands as before', async ({
  page,
  app,
  browser,
}) => {
  await page.setViewportSize({ width: 1024, height: 768 });
  await signIn(page, app, 'technician');
  const read = async (unit: string) =>
    (await (await page.request.get(`${app.url}/api/vehicles/${unit}`)).json()) as {
      readings: { mm: number | null; supersededBy: string | null; date: string }[];
      axleDetails: { mark: { markDate: string } | null }[];
      odometerNowMi: number;
      refresh: { pending: number };
    };
  type Sheet = Awaited<ReturnType<typeof read>>;
  const before = await read('V18');
  /** How far the marks stand from where they stood, days, that which moved farthest. */
  const daysMoved = ({ axleDetails }: Sheet) =>
    Math.max(
      ...axleDetails.map(({ mark }, i) =>
        Math.abs(Date.parse(mark?.markDate ?? '') - Date.parse(before.axleDetails[i]?.mark?.markDate ?? '')),
      ),
    ) / 86_400_000;
  await page.goto(`${app.url}/measure`);
  await begin(page, 'V18', { gauge: VERNIER, ahead: 2 });
  await tap(page, '6.4');
  await page.getByRole('button', { name: 'Inner pad' }).click();
  const asks = page.getByRole('button', { name: 'Measured twice, same result' });
  if (await asks.isVisible()) await asks.click();
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await page.getByRole('button', { name: 'Save 1 reading' }).click();
  await sent(page);
  // The toast says what it did to the marks.
  await expect(page.getByText(/V18 saved\. axle 1: mark/)).toBeVisible({ timeout: 40_000 });
  const moved = daysMoved(await read('V18'));
  const row = page.getByRole('listitem').filter({ hasText: 'V18' }).filter({ hasText: '1 reading' });
  await row.getByRole('button', { name: 'Take back …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('It is of unit').fill('v19');
  await dialog.getByRole('button', { name: 'Move it to V19' }).click();
  // Its odometer is not that vehicle's: the field says so, and takes another.
  const odometer = dialog.getByLabel('Odometer of V19, mi');
  await expect(odometer).toBeVisible();
  const other = await read('V19');
  await odometer.fill(String(Math.round(other.odometerNowMi) + 3));
  await dialog.getByRole('button', { name: 'Move it to V19' }).click();
  await expect(page.getByText('Moved to V19: wrong vehicle')).toBeVisible();
  // What the fleet has learnt meanwhile may move a mark by a day or so; what that reading did to it is gone.
  const LEARNT_DAYS = 3;
  expect(moved).toBeGreaterThan(2 * LEARNT_DAYS);
  const standing = ({ readings }: Sheet) =>
    readings.filter(({ mm, supersededBy }) => mm !== null && supersededBy === null).length;
  await expect
    .poll(async () => {
      const now = await read('V18');
      return [now.refresh.pending, standing(now), daysMoved(now) <= LEARNT_DAYS];
    })
    .toEqual([0, standing(before), true]);
  expect((await read('V19')).readings.some(({ date, mm }) => date === '2026-11-20' && mm === 6.4)).toBe(true);
  // The coordinator finds it again from the vehicle it was taken from.
  const desk = await (await browser.newContext()).newPage();
  await signIn(desk, app);
  await desk.goto(`${app.url}/vehicles/V18`);
  await desk.getByRole('link', { name: 'A whole sheet of V18 is wrong …' }).click();
  const sheets = desk.getByRole('region', { name: 'Sheets of V18' });
  await expect(sheets.getByRole('listitem').first()).toContainText('Moved to V19: wrong vehicle');
});

test('a softer route that drives farther: seen before it begins, told by its two causes, taken back', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/P17`);
  const marks = () =>
    page.getByRole('region', { name: 'Wheel ends along the chassis' }).getByRole('button').allInnerTexts();
  await expect.poll(async () => (await marks()).join()).toContain('mark in');
  const before = await marks();
  await page.getByRole('button', { name: 'Begin another duty …' }).click();
  const dialog = page.getByRole('dialog');
  await choose(dialog.getByLabel('Duty'), 'Moor rounds');
  await dialog.getByLabel('It drives a day, mi').fill('240');
  const preview = dialog.getByRole('table');
  await expect(preview).toContainText('240 mi then');
  await expect(preview.getByRole('row').first()).toContainText('→');
  await dialog.getByLabel('From', { exact: true }).fill('1 Nov 2026');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/P17 is on .* from 1 Nov 2026/)).toBeVisible();
  await expect.poll(marks, { timeout: 120_000 }).not.toEqual(before);
  const began = await marks();
  await page.getByRole('link', { name: 'Why, and what if …' }).click();
  const why = page.getByRole('region', { name: 'What moved the mark' });
  await expect(why.getByRole('button', { name: 'Miles a day of its duty: why?' })).toBeVisible();
  await expect(why).toContainText('their days add up');
  await page.goBack();
  await page
    .getByRole('main')
    .getByRole('button', { name: /^Correct / })
    .first()
    .click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('button', { name: 'Withdraw it' })).toBeDisabled();
  await sheet.getByLabel('Why').fill('the wrong vehicle');
  await sheet.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(page.getByText(/is withdrawn; its marks are made anew/)).toBeVisible();
  await expect.poll(marks, { timeout: 120_000 }).not.toEqual(began);
});

test('a phone’s Monday morning: what is next, one vehicle, back, and every place in reach of a thumb', async ({
  page,
  app,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, app);
  await expect(page.getByRole('heading', { name: 'What is next' })).toBeVisible();
  await choose(page.getByLabel('Due'), { label: 'passed' });
  await expect(page).toHaveURL(/due=passed/);
  const first = page.getByRole('main').getByRole('listitem').first();
  await expect(first).toContainText('ago');
  await page.reload();
  await expect(page.getByLabel('Due')).toContainText('passed');
  await first.getByRole('link').click();
  await expect(page).toHaveURL(/\/vehicles\//);
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'What is next' })).toBeVisible();
  const bar = page.getByRole('navigation', { name: 'Places' });
  const box = await bar.boundingBox();
  expect((box?.y ?? 0) + (box?.height ?? 0)).toBeGreaterThan(820);
  await bar.getByRole('button', { name: 'More' }).click();
  await page.getByRole('dialog', { name: 'Places' }).getByRole('link', { name: 'Records' }).click();
  await expect(page.getByRole('heading', { name: 'How past forecasts came out' })).toBeVisible();
  // Any unit, from here.
  await page.getByRole('button', { name: /^Find/ }).click();
  await page.getByLabel('Unit number, model or depot').fill('v07');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/vehicles\/V07/);
});

test('this week: one page for the yard manager, and one sheet of paper', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await expect(page.getByRole('heading', { name: 'This week' })).toBeVisible();
  await choose(page.getByLabel('Depot'), { label: 'Northfold' });
  await expect(page).toHaveURL(/depot=Northfold/);
  const href = await page.getByRole('link', { name: 'Print it (PDF)' }).getAttribute('href');
  const answer = await page.request.get(`${app.url}${href ?? ''}`);
  expect([answer.status(), answer.headers()['content-type']]).toEqual([200, 'application/pdf']);
  expect((await answer.body()).subarray(0, 5).toString()).toBe('%PDF-');
  // A table goes to CSV as it is shown.
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV of this table: marks-this-week' }).click();
  const text = await (await (await download).createReadStream()).toArray();
  const [head] = Buffer.concat(text as Buffer[])
    .toString('utf8')
    .split('\n');
  expect(head).toBe('\uFEFFUnit,Axle,Mark,Odometer,Thinnest,Next');
});

test('a settled question is opened again from its toast; single-letter keys can be switched off', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.goto(`${app.url}/questions`);
  const count = page.getByRole('heading', { name: /questions? open/ });
  const before = (await count.textContent()) ?? '';
  await page.keyboard.press('1');
  await expect(count).not.toHaveText(before);
  await page.getByRole('listitem').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Taken back; the question is open again.')).toBeVisible();
  await expect(count).toHaveText(before);
  await page.keyboard.press('?');
  const help = page.getByRole('dialog');
  await help.getByLabel('Single letters and figures are shortcuts').click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(count).toHaveText(before);
  await page
    .getByRole('banner')
    .getByRole('button', { name: /Maren Ashdown/ })
    .click();
  await help.getByLabel('Single letters and figures are shortcuts').click();
});

test('who is new is offered a walk through their places, once, and may take it again', async ({ page, app }) => {
  await signIn(page, app, 'parts');
  const offer = page.getByRole('region', { name: 'First walk' });
  await offer.getByRole('button', { name: 'Show me' }).click();
  const walk = page.getByRole('dialog');
  await expect(walk).toContainText('1 of 4');
  await walk.getByRole('button', { name: 'Next place' }).click();
  await walk.getByRole('button', { name: 'Next place' }).click();
  await walk.getByRole('button', { name: 'Next place' }).click();
  await walk.getByRole('button', { name: 'Done' }).click();
  await expect(offer).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Parts', exact: true })).toBeVisible();
  await expect(offer).toHaveCount(0);
  await page
    .getByRole('banner')
    .getByRole('button', { name: /Ilse Quarrie/ })
    .click();
  await page.getByRole('button', { name: 'Walk through my places' }).click();
  await expect(page.getByRole('dialog')).toContainText('1 of 4');
});

test('Ahead on paper and in the system’s own colours tells what it tells on the screen', async ({ page, app }) => {
  await signIn(page, app);
  const post = page
    .getByRole('group', { name: /^[PVT]\d+$/ })
    .first()
    .getByRole('button')
    .first();
  const onScreen = (await post.boundingBox())?.height;
  await page.emulateMedia({ media: 'print' });
  expect((await post.boundingBox())?.height).toBe(onScreen);
  await page.emulateMedia({ media: 'screen', forcedColors: 'active' });
  const ground = (name: string) =>
    page.getByRole('radio', { name, exact: true }).evaluate((one) => getComputedStyle(one).backgroundColor);
  expect(await ground('any')).not.toBe(await ground('passed'));
  const grounds = await page
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link')
    .evaluateAll((links) => links.map((link) => getComputedStyle(link).backgroundColor));
  expect(grounds.filter((colour) => colour === grounds[0])).toHaveLength(1);
});
