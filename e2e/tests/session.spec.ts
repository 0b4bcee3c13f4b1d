import type { BrowserContext } from '@playwright/test';
import { expect, signIn, test } from '../support/app.ts';

/** Getting in, getting to where one was going, and a session that ends under one's hands. */

test('a scanned label opens its vehicle, through the sign-in', async ({ page, app }) => {
  await page.goto(`${app.url}/vehicles/P09?axle=2`);
  await expect(page).toHaveURL(/\/sign-in$/);
  await page.getByLabel('E-mail address').fill('coordinator@linden-vale.example');
  await page.getByLabel('Password').fill('milk-before-dawn');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/\/vehicles\/P09\?axle=2$/);
  await expect(page.getByRole('heading', { name: 'P09', exact: true })).toBeVisible();
});

test('each role begins where its day begins', async ({ page, app, browser }) => {
  await signIn(page, app, 'technician');
  await expect(page).toHaveURL(/\/measure$/);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, app, 'viewer');
  await expect(other).toHaveURL(/\/this-week$/);
  await other.close();
});

const endSession = async (context: BrowserContext) => context.clearCookies();

test('a session that ends asks for the password over the page, and what was typed stays', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/shop-policy?view=models`);
  await page.getByRole('button', { name: 'Change Veldring 26 tanker' }).click();
  const dialog = page.getByRole('dialog', { name: /^How Veldring/ });
  await dialog.getByLabel('Where it is lifted').fill('Front beam.');
  await endSession(page.context());
  await dialog.getByRole('button', { name: 'Save' }).click();
  const again = page.getByRole('dialog', { name: 'Sign in again, Maren Ashdown' });
  await expect(again).toBeVisible();
  // Neither Esc nor a wrong password does away with it, or with what was typed.
  const typed = page.locator('[role=dialog]').filter({ hasText: 'How Veldring 26 tanker is built' });
  await expect(typed).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(typed).toHaveCount(1);
  await again.getByLabel(/^Password of/).fill('not the password');
  await again.getByRole('button', { name: 'Sign in' }).click();
  await expect(again.getByRole('alert')).toBeVisible();
  await expect(typed).toHaveCount(1);
  await again.getByLabel(/^Password of/).fill('milk-before-dawn');
  await again.getByRole('button', { name: 'Sign in' }).click();
  await expect(again).toBeHidden();
  await expect(dialog.getByLabel('Where it is lifted')).toHaveValue('Front beam.');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Front beam.')).toBeVisible();
});

test('somebody else at that tablet signs in for themselves', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/jobs`);
  await expect(page.getByRole('heading', { name: 'Jobs', exact: true })).toBeVisible();
  await endSession(page.context());
  await page.getByRole('link', { name: 'Records' }).click();
  await page.getByRole('button', { name: 'I am somebody else' }).click();
  await expect(page).toHaveURL(/\/sign-in$/);
  await signIn(page, app, 'viewer');
  await expect(page.getByRole('button', { name: /viewer/ })).toBeVisible();
});

test('the window is named by its page, a new page takes the focus, and the head can be skipped', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.goto(`${app.url}/jobs`);
  await expect(page).toHaveTitle('Jobs · Mile Mark');
  await page.getByRole('link', { name: 'Records' }).click();
  await expect(page).toHaveTitle(/^(?!Jobs).+ · Mile Mark$/);
  await expect(page.locator('main h1')).toBeFocused();
  await page.getByRole('link', { name: 'Skip to the page' }).focus();
  await expect(page.getByRole('link', { name: 'Skip to the page' })).toBeInViewport();
  await page.keyboard.press('Enter');
  await expect(page.locator('main')).toBeFocused();
});

test('what the browser loads comes compressed', async ({ page, app }) => {
  await page.goto(`${app.url}/sign-in`);
  const script = await page.locator('script[src]').first().getAttribute('src');
  const answer = await page.request.get(`${app.url}${script ?? ''}`, { headers: { 'Accept-Encoding': 'gzip' } });
  expect(answer.headers()['content-encoding']).toBe('gzip');
});

test('the first page comes with what it will ask for, and asks nothing of it twice', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto('about:blank');
  // What is kept on the device would answer in the server's place.
  const fresh = await page.context().browser()?.newContext({ serviceWorkers: 'block' });
  if (!fresh) throw new Error('no browser');
  await fresh.addCookies(await page.context().cookies());
  const cold = await fresh.newPage();
  const asked: string[] = [];
  cold.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await cold.goto(app.url);
  await expect(cold.getByRole('heading', { level: 1 })).toBeVisible();
  const first = (address: string) => asked.indexOf(address);
  for (const address of ['/api/session', '/api/mile-marks']) {
    expect(asked.filter((one) => one === address)).toHaveLength(1);
    expect(first(address)).toBeLessThan(asked.findIndex((one) => one.startsWith('/api/changes')));
  }
  await fresh.close();
});
