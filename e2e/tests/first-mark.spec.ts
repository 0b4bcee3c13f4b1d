import type { Locator } from '@playwright/test';
import { expect, fixture, test } from '../support/app.ts';

/** From nothing to the first mile marks, as quickly as ready files allow. */
test.use({ options: { demo: false, today: '2026-11-20' } });

/** Presses that are enough from an empty installation to the first marks. */
const MOST_PRESSES = 20;

test('the first marks stand after no more than twenty presses from an empty installation', async ({ page, app }) => {
  let presses = 0;
  const press = async (what: Locator) => {
    presses += 1;
    await what.click();
  };
  const button = (name: string | RegExp) => page.getByRole('button', { name });
  await page.goto(app.url);
  await page.getByLabel('Your name').fill('Ada Wrenfield');
  await page.getByLabel('E-mail address').fill('ada@dairy.example');
  await page.getByLabel('Password').fill('curds and whey 26');
  await press(button('Make the first account'));
  await press(page.getByRole('link', { name: 'Go to Import' }));
  const names = ['models', 'duties', 'vehicles', 'readings-okafor'];
  presses += 1;
  await page.getByLabel('Files to import').setInputFiles(names.map((name) => fixture(`${name}.csv`)));
  for (const [name, next] of [
    ['models', 'duties'],
    ['duties', 'vehicles'],
    ['vehicles', 'readings-okafor'],
  ] as const) {
    await expect(page.getByRole('heading', { name: `${name}.csv`, exact: true })).toBeVisible();
    await press(button(/^Take in \d+ record/));
    await press(button(`Next: ${next}.csv`));
  }
  await page.getByLabel('or a new technician').fill('Chidi Okafor');
  await press(button('Add technician'));
  await expect(button('Add technician')).toHaveCount(0);
  await page.getByLabel('or a new gauge').fill('Digital depth gauge');
  await press(button('Add gauge'));
  await expect(button('Add gauge')).toHaveCount(0);
  await press(button(/^Take in \d+ record/));
  // Where the way leads on, and what is still wanting: not every vehicle was measured.
  await expect(page.getByText(/vehicles? of 24 (was|were) never measured/)).toBeVisible();
  await press(page.getByRole('link', { name: 'See what is next on Ahead' }));
  await expect(page.getByRole('button', { name: /^V?\w+ axle \d/ }).first()).toBeVisible();
  expect(presses).toBeLessThanOrEqual(MOST_PRESSES);
});
