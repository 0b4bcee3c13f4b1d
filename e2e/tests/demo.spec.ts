import { choose } from '../support/choose.mjs';
import { expect, signIn, test } from '../support/app.ts';

/** The demo fleet, looked at by each role. */

test('Ahead is usable by keyboard alone', async ({ page, app }) => {
  await signIn(page, app);
  const panel = page.getByRole('complementary', { name: 'Why this date' });
  await expect(panel.getByRole('heading')).toHaveText(/axle \d/);
  await page.getByRole('group', { name: /^Lanes/ }).focus();
  const first = await panel.getByRole('heading').textContent();
  await page.keyboard.press('ArrowDown');
  await expect(panel.getByRole('heading')).not.toHaveText(first ?? '');
  const second = await panel.getByRole('heading').textContent();
  await page.keyboard.press('ArrowRight');
  await expect(panel.getByRole('heading')).not.toHaveText(second ?? '');
  await page.keyboard.press('k');
  await expect(panel.getByRole('heading')).toHaveText(first ?? '');
  await page.keyboard.press('/');
  await page.keyboard.type('T0');
  await expect(panel.getByRole('heading')).toHaveText(/^T0/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Tab');
  await page.getByRole('group', { name: /^Lanes/ }).focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Keys');
  await page.keyboard.press('Escape');
  await page.getByRole('group', { name: /^Lanes/ }).focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/vehicles\//);
  await expect(page.getByRole('heading', { name: 'Readings, newest first' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(new RegExp(`^${app.url}/(\\?|$)`));
});

test('filters narrow the road and say when nothing passes', async ({ page, app }) => {
  await signIn(page, app);
  await choose(page.getByLabel('Depot'), 'Northfold');
  await choose(page.getByLabel('Class'), 'Heavy trucks');
  const lanes = page.getByRole('group', { name: /^[PVT]\d+$/ });
  await expect(lanes.first()).toBeVisible();
  for (const name of await lanes.evaluateAll((nodes) => nodes.map((node) => node.getAttribute('aria-label'))))
    expect(name).toMatch(/^T/);
  await page.getByLabel('Find a unit').fill('ZZ');
  await expect(page.getByText('No lane passes the filter')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(lanes.first()).toBeVisible();
});

test('a computed figure tells why', async ({ page, app }) => {
  await signIn(page, app);
  // What the panel still asks for, its job and kit, moves its lines down as it comes in: a press may miss what it was aimed at.
  await page.waitForLoadState('networkidle');
  await page.getByRole('button', { name: 'Service limit: the largest of these: why?' }).click();
  await expect(page.getByText('Local codes and licensed practice come first.')).toBeVisible();
  await expect(page.getByText(/49 CFR 393\.47\(d\)/).first()).toBeVisible();
});

test('a reading is questioned at the field, answered, corrected later with a reason', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/measure`);
  await page.getByLabel('Unit number').fill('v10');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'V10' })).toBeVisible();
  await page.getByRole('link', { name: 'Type it in as a sheet instead' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'bay');
  await choose(page.getByLabel('Gauge', { exact: true }), 'Vernier, Creamery yard (mm)');
  await page.getByLabel('Odometer, mi').fill('10');
  const field = page.getByLabel('Axle 1, left, inner pad');
  await field.fill('−1');
  await expect(page.getByText("A thickness can't be below zero")).toBeVisible();
  await field.fill('85');
  await expect(page.getByText(/more than pad and backing plate together/)).toBeVisible();
  await expect(page.getByRole('button', { name: /Save 1 reading/ })).toBeDisabled();
  const expectation =
    /expect ([\d.]+)/.exec(
      (await page
        .getByText(/^expect [\d.]+/)
        .nth(1)
        .textContent()) ?? '',
    )?.[1] ?? '0';
  await field.fill((Number(expectation) + 6).toFixed(1));
  await expect(page.getByText('Was the backing plate included?')).toBeVisible();
  await page.getByRole('button', { name: 'Measured twice, same result' }).click();
  await page.getByRole('button', { name: /Save 1 reading/ }).click();
  await expect(page.getByText(/an odometer doesn't fall/).first()).toBeVisible();
  await expect(field).toHaveValue((Number(expectation) + 6).toFixed(1));
  const now = /about ([\d,]+) mi/.exec((await page.getByText(/expected today/).textContent()) ?? '')?.[1] ?? '0';
  await page.getByLabel('Odometer, mi').fill(now);
  await page.getByRole('button', { name: /Save 1 reading/ }).click();
  await expect(page.getByText('The technician measured twice, same result.')).toBeVisible();
  await page
    .getByRole('button', { name: /left inner .* correct/ })
    .first()
    .click();
  await page.getByLabel(/As it should have been/).fill(expectation);
  await page.getByLabel('Why', { exact: true }).fill('plate was included after all');
  await page.getByRole('button', { name: 'Correct it' }).click();
  await expect(page.getByText('(corrected)')).toBeVisible();
});

test('what the network cut off is kept and saved once when it is back', async ({ page, app, context }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/measure/V12/sheet`);
  await choose(page.getByLabel('Gauge', { exact: true }), 'Vernier, Creamery yard (mm)');
  const now = /about ([\d,]+) mi/.exec((await page.getByText(/expected today/).textContent()) ?? '')?.[1] ?? '0';
  await page.getByLabel('Odometer, mi').fill(now);
  const expected =
    (
      await page
        .getByText(/^expect [\d.]+/)
        .nth(1)
        .textContent()
    )?.match(/[\d.]+/)?.[0] ?? '0';
  await page.getByLabel('Axle 1, left, inner pad').fill(expected);
  await context.setOffline(true);
  await page.getByRole('button', { name: /Save 1 reading/ }).click();
  await expect(page.getByText('What you typed is kept.')).toBeVisible();
  await context.setOffline(false);
  await page.getByRole('button', { name: /Save 1 reading/ }).click();
  await expect(page.getByText(/^V12 saved/)).toBeVisible();
});

test('a viewer sees, and is not offered to write', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await expect(page.getByRole('link', { name: 'Measure', exact: true })).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'Import', exact: true })).toHaveCount(0);
  await page.goto(`${app.url}/vehicles/P06`);
  await expect(page.getByRole('heading', { name: 'Readings, newest first' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Pads fitted …' })).toHaveCount(0);
});

test('a file of 200 MB is refused before it is sent', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/import`);
  await page.getByLabel('Files to import').evaluate((input: HTMLInputElement) => {
    const file = new File(['x'], 'huge.csv');
    Object.defineProperty(file, 'size', { value: 200 * 1024 * 1024 });
    const transfer = new DataTransfer();
    transfer.items.add(file);
    Object.defineProperty(input, 'files', { value: [file] });
    input.dispatchEvent(new Event('change', { bubbles: true }));
  });
  await expect(page.getByText('200 MB is too large; up to 30 MB is accepted.')).toBeVisible();
});

test('an address that leads nowhere says so', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/Z99`);
  await expect(page.getByText('There is no vehicle Z99 on record.')).toBeVisible();
  await page.goto(`${app.url}/nowhere`);
  await expect(page.getByText('There is no page here')).toBeVisible();
});

test('what a place asks for first is fetched when the pointer comes near it, once', async ({ page, app }) => {
  await signIn(page, app);
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  const places = page.getByRole('navigation', { name: 'Places' });
  await Promise.all([
    page.waitForResponse((answer) => answer.url().endsWith('/api/backtest')),
    places.getByRole('link', { name: 'Records' }).hover(),
  ]);
  await expect(page).toHaveURL(`${app.url}/`);
  await places.getByRole('link', { name: 'Records' }).click();
  await expect(page.getByRole('heading', { name: 'How past forecasts came out' })).toBeVisible();
  expect(asked.filter((path) => path === '/api/backtest')).toHaveLength(1);
});
