import { expect, type App } from './app.ts';
import type { Locator, Page } from '@playwright/test';

/** The form of a new person under *Fleet, People*, with name, address and password in it; what else is theirs, and *Add*, is left. */
export async function newPerson(
  page: Page,
  app: App,
  { name, address, password }: { name: string; address: string; password: string },
): Promise<Locator> {
  await page.goto(`${app.url}/fleet/people`);
  // The form stands under the list: it is typed into when the list is there.
  await expect(page.getByRole('cell', { name: 'Maren Ashdown', exact: true })).toBeVisible();
  const form = page.locator('form').filter({ hasText: 'A new person' });
  await form.getByLabel('Name').fill(name);
  await form.getByLabel(/E-mail address/).fill(`${address}@linden-vale.example`);
  await form.getByLabel('First password').fill(password);
  return form;
}
