/** Ahead: what it shows is in its address, and its bars, legend and keys lead on. */
import { expect, signIn, signInAtOnce, test } from '../support/app.ts';

test('Ahead lives in its address, its bars narrow it to a week, and a legend explains it', async ({ page, app }) => {
  await signIn(page, app);
  const bars = page.getByRole('slider', { name: 'Week shown alone' });
  await bars.focus();
  const lanes = page.getByRole('group', { name: /^Lanes/ }).getByRole('group');
  // Week after week by the same key, one without a lane too: the bars stay, and so does where the keys go.
  const told: string[] = [];
  const next = async (key: string) => {
    const [before, address] = [(await bars.getAttribute('aria-valuetext')) ?? '', page.url()];
    await page.keyboard.press(key);
    await expect(page).not.toHaveURL(address);
    await expect(bars).not.toHaveAttribute('aria-valuetext', before);
    await expect(bars).toBeFocused();
    told.push((await bars.getAttribute('aria-valuetext')) ?? '');
  };
  for (let week = 0; week < 12; week += 1) await next('ArrowRight');
  const empty = told.findIndex((one) => one.startsWith('0 axles due in the week from'));
  const full = told.findLastIndex((one) => /^[1-9]\d* axles? due in the week from/.test(one));
  expect(
    [empty, full].every((week) => week >= 0),
    told.join('; '),
  ).toBe(true);
  for (let week = 11; week > full; week -= 1) await next('ArrowLeft');
  await expect(lanes.first()).toBeVisible();
  await expect(page).toHaveURL(/week=\d{4}-\d\d-\d\d/);
  const some = await lanes.count();
  await page.reload();
  await expect(lanes).toHaveCount(some);
  await page.getByRole('button', { name: /^week from/ }).click();
  await expect.poll(() => lanes.count()).toBeGreaterThan(some);
  await page.getByRole('button', { name: 'Legend' }).click();
  await expect(page.getByRole('dialog', { name: 'How to read the road' })).toContainText('80 % interval');
  await page.keyboard.press('Escape');
  // From anywhere a slash finds any unit.
  await page.getByRole('link', { name: 'Records' }).click();
  await expect(page.getByRole('heading', { name: 'How past forecasts came out' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('t03');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/vehicles\/T03/);
});

test('a vehicle whose forecast could not be made is named with why, and leads to what is on record of it', async ({
  page,
  app,
}) => {
  const failed = ['V03', 'P12', 'T01', 'V16'].map((unit) => ({
    unit,
    message: 'its miles a day came out as no number',
  }));
  for (const [path, named] of [
    ['mile-marks', failed],
    ['vehicles/V03', failed.slice(0, 1)],
  ] as const)
    await page.route(`**/api/${path}`, async (route) => {
      const response = await route.fetch();
      const answer = (await response.json()) as { refresh: object };
      await route.fulfill({ response, json: { ...answer, refresh: { ...answer.refresh, failed: named } } });
    });
  await signInAtOnce(page, app);
  await page.goto(`${app.url}/`);
  const told = page.getByRole('alert');
  await expect(told).toContainText('Forecasts of V03 could not be made: its miles a day came out as no number.');
  await expect(told).toContainText('1 more could not be made either: V16.');
  // What is due stays in sight under it.
  await expect(
    page
      .getByRole('group', { name: /^Lanes/ })
      .getByRole('group')
      .first(),
  ).toBeInViewport();
  await told.getByRole('link', { name: 'V03' }).click();
  await expect(page.getByRole('heading', { name: /V03/ })).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('Forecasts of V03 could not be made');
});
