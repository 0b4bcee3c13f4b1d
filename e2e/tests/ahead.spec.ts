/** Ahead: what it shows is in its address, and its bars, legend and keys lead on. */
import { expect, signIn, test } from '../support/app.ts';

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
