import type { Page } from '@playwright/test';
import { choose } from '../support/choose.mjs';
import { expect, signIn, test } from '../support/app.ts';

/** The coordinator's other writes, through the interface: pads fitted, a duty begun, people and gauges, units. */

test('pads fitted begin a new life: the axle stands dashed until it is measured', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/P02`);
  const odometer = /about ([\d,]+) mi today/.exec((await page.getByText(/mi today/).textContent()) ?? '')?.[1] ?? '';
  await page.getByRole('button', { name: 'Pads fitted …' }).click();
  await page
    .getByRole('dialog')
    .getByLabel(/^Odometer/)
    .fill('12 mi');
  await page.getByRole('button', { name: 'Record it' }).click();
  await expect(page.getByText(/an odometer doesn't fall/)).toBeVisible();
  await page
    .getByRole('dialog')
    .getByLabel(/^Odometer/)
    .fill(`${odometer} mi`);
  await recordIt(page);
  await expect(page.getByText('Recorded. The axle starts a new life.')).toBeVisible();
  await expect(page.getByText('new pads not measured yet').first()).toBeVisible();
  await expect(page.getByText('Axle 1: pads, both sides').first()).toBeVisible();
  await page.getByRole('link', { name: 'Ahead', exact: true }).click();
  await page.getByLabel('Find a unit').fill('P02');
  await expect(page.getByRole('button', { name: /^P02 axle 1: mark/ })).toHaveCSS('border-top-style', 'dashed');
});

/** Records what was filled in; of an axle whose mark is far ahead it is asked once, with what it does to the mark. */
async function recordIt(page: Page) {
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: /ecord it$/ }).click();
  const asked = dialog.getByRole('button', { name: 'They were fitted: record it' });
  const recorded = page.getByText('Recorded. The axle starts a new life.');
  await expect(asked.or(recorded).first()).toBeVisible();
  if (await asked.isVisible()) await asked.click();
}

test('pads fitted by mistake are asked about where the mark is far ahead, undone, and withdrawn with a reason', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  type Marks = { items: { unit: string; axle: number; markDate: string; markOdometerMi: number }[] };
  const marks = async () => ((await (await page.request.get(`${app.url}/api/mile-marks`)).json()) as Marks).items;
  const far = (await marks()).find(({ unit, markDate }) => unit.startsWith('V') && markDate > '2027-03-01');
  const { unit = '', axle = 0, markOdometerMi = 0 } = far ?? {};
  const markNow = async () => (await marks()).find((one) => one.unit === unit && one.axle === axle)?.markOdometerMi;
  await page.goto(`${app.url}/vehicles/${unit}`);
  const odometer = /about ([\d,]+) mi today/.exec((await page.getByText(/mi today/).textContent()) ?? '')?.[1] ?? '';
  const dialog = page.getByRole('dialog');
  const fill = async () => {
    await page.getByRole('button', { name: 'Pads fitted …' }).click();
    await choose(dialog.getByLabel('Axle'), String(axle));
    await dialog.getByLabel(/^Odometer/).fill(`${odometer} mi`);
    await dialog.getByRole('button', { name: 'Record it' }).click();
    await expect(dialog.getByText(/still far ahead .* moves out until the new pads are measured/)).toBeVisible();
    await dialog.getByRole('button', { name: 'They were fitted: record it' }).click();
  };
  await fill();
  // From the bar, wherever one went meanwhile.
  await page.getByRole('link', { name: 'Records', exact: true }).click();
  await page.getByRole('banner').getByRole('button', { name: 'Undo: Recorded. The axle starts a new life.' }).click();
  await expect(page.getByText(`Undone: axle ${axle} goes on with the life it had.`)).toBeVisible();
  await expect.poll(markNow, { timeout: 120_000 }).toBe(markOdometerMi);

  await page.goto(`${app.url}/vehicles/${unit}`);
  await fill();
  await expect.poll(markNow, { timeout: 120_000 }).not.toBe(markOdometerMi);
  const list = page.getByRole('region', { name: 'Pads and rotors fitted' });
  await list.getByRole('button', { name: /20 Nov 2026$/ }).click();
  await dialog.getByLabel('Why').fill('it was the other van');
  await dialog.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(page.getByText(/goes on with the life it had; its mark is computed anew/)).toBeVisible();
  await expect(list.getByRole('button', { name: /20 Nov 2026$/ })).toHaveCount(0);
  await expect.poll(markNow, { timeout: 120_000 }).toBe(markOdometerMi);
});

test('a duty begun ahead bends the forecast and leaves the past', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/V02`);
  const axle = page.getByRole('button', { name: 'Axle 1: show its wear' });
  const before = await axle.textContent();
  await page.getByRole('button', { name: 'Begin another duty …' }).click();
  await choose(page.getByLabel('Duty', { exact: true }), 'Doorstep delivery');
  await page.getByLabel('From').fill('2026-11-25');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('the past keeps its duty', { exact: false })).toBeVisible();
  await expect(page.getByText('from 25 Nov 2026', { exact: true })).toBeVisible();
  await expect(page.getByText('20 May 2025 – 25 Nov 2026')).toBeVisible();
  await expect(axle).not.toHaveText(before ?? '');
  // Beside the road: what it drives, and what it will.
  await page.goto(`${app.url}/?find=V02`);
  const panel = page.getByRole('complementary', { name: 'Why this date' });
  await expect(panel.getByRole('heading', { name: /V02/ })).toBeVisible();
  await expect(panel.getByText(/^Doorstep delivery from 25 Nov 2026, severity \d\.\d\d$/)).toBeVisible();
  await expect(panel.getByText('Then', { exact: true })).toBeVisible();
});

test('a technician is put on record, signs in, and reads in 32nds', async ({ page, app, browser }) => {
  await signIn(page, app);
  await page.getByRole('link', { name: 'Fleet', exact: true }).click();
  await page.getByRole('link', { name: 'People', exact: true }).click();
  // The form stands under the list: it is typed into when the list is there.
  await expect(page.getByRole('cell', { name: 'Maren Ashdown', exact: true })).toBeVisible();
  const people = page.locator('form').filter({ hasText: 'A new person' });
  await people.getByLabel('Name').fill('Lotte Brandreth');
  await people.getByLabel(/E-mail address/).fill('lotte@linden-vale.example');
  await people.getByLabel('First password').fill('short');
  await people.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('At least 10 characters are accepted.')).toBeVisible();
  await people.getByLabel('First password').fill('whey and curds 7');
  await people.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('cell', { name: 'lotte@linden-vale.example', exact: true })).toBeVisible();

  const other = await browser.newPage();
  await other.goto(`${app.url}/sign-in`);
  await other.getByLabel('E-mail address').fill('lotte@linden-vale.example');
  await other.getByLabel('Password').fill('wrong password');
  await other.getByRole('button', { name: 'Sign in' }).click();
  await expect(other.getByText('E-mail address and password don’t go together')).toBeVisible();
  await other.getByLabel('Password').fill('whey and curds 7');
  await other.getByRole('button', { name: 'Sign in' }).click();
  await other.getByRole('button', { name: /Lotte Brandreth · technician/ }).click();
  // Each is chosen when it shows as chosen: whoever leaves before may leave without it.
  for (const unit of ['1/32 in', 'km']) {
    await other.getByRole('radio', { name: unit }).click();
    await expect(other.getByRole('radio', { name: unit })).toBeChecked();
  }
  await other.keyboard.press('Escape');
  await other.goto(`${app.url}/vehicles/V03`);
  await expect(other.getByText(/km today/)).toBeVisible();
  await expect(other.getByRole('img', { name: /left wheel: outer \d+\/32 in/ }).first()).toBeVisible();
  await other.getByRole('button', { name: /Lotte Brandreth/ }).click();
  await other.getByRole('button', { name: 'Sign out' }).click();
  await expect(other.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await other.close();
});

test('a gauge is put on record once', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Fleet', exact: true }).click();
  await page.getByRole('link', { name: 'Gauges', exact: true }).click();
  const form = page.locator('form').filter({ hasText: 'A new gauge' });
  const add = async () => {
    await form.getByLabel('Name').fill('Ball micrometer');
    await form.getByLabel(/Least step/).fill('0,05');
    await form.getByRole('button', { name: 'Add', exact: true }).click();
  };
  await add();
  await expect(page.getByRole('cell', { name: '0.05 mm' })).toBeVisible();
  await add();
  await expect(page.getByText('A gauge of this name is on record already.')).toBeVisible();
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await expect(page.getByRole('cell', { name: 'Maren Ashdown', exact: true })).toBeVisible();
  await expect(page.locator('form').filter({ hasText: 'A new person' })).toHaveCount(0);
});
