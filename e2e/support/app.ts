import { test as base, expect, type Page } from '@playwright/test';
import path from 'node:path';
import { withDatabase } from './databases.ts';
import { startServer, stop, type App, type AppOptions } from './server.ts';

const ROOT = path.resolve(import.meta.dirname, '../..');

export { startServer, stop, type App, type AppOptions };

/** Tests with an application of their own for each file (worker): `app` is running, `options` say how. */
export const test = base.extend<object, { options: AppOptions; app: App }>({
  options: [
    { demo: true, today: '2026-11-20' },
    { option: true, scope: 'worker' },
  ],
  app: [
    async ({ options }, use) => {
      await withDatabase(options, async (databaseUrl) => {
        const app = await startServer(databaseUrl, options);
        await use(app);
        await stop(app);
      });
    },
    { scope: 'worker', timeout: 480_000 },
  ],
});

export async function signIn(page: Page, app: App, address = 'coordinator'): Promise<void> {
  await page.goto(`${app.url}/sign-in`);
  await page.getByLabel('E-mail address').fill(`${address}@linden-vale.example`);
  await page.getByLabel('Password').fill('milk-before-dawn');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** Signed in without the form, for what is not about that: no page is open yet. */
export async function signInAtOnce(page: Page, app: App, address = 'coordinator'): Promise<void> {
  const answer = await page.request.post(`${app.url}/api/session`, {
    headers: { origin: app.url },
    data: { email: `${address}@linden-vale.example`, password: 'milk-before-dawn' },
  });
  expect(answer.status()).toBe(200);
}

export const fixture = (name: string): string => path.join(ROOT, 'e2e/fixtures', name);
export { expect };

/** Waits until the device keeps the application itself: only then does a page open without a network. */
export async function keptOnDevice(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
    if (navigator.serviceWorker.controller) return;
    await new Promise((taken) => navigator.serviceWorker.addEventListener('controllerchange', taken, { once: true }));
  });
}
