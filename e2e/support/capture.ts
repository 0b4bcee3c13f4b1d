import { choose } from './choose.mjs';
import { expect, type Page } from '@playwright/test';
import type { App } from './app.ts';

/** Opens a vehicle in Measure and fills in its start: the gauge, and the odometer expected today plus some miles. */
export async function begin(
  page: Page,
  unit: string,
  { gauge, ahead = 0 }: { gauge: string; ahead?: number },
): Promise<void> {
  await page.getByLabel('Unit number').fill(unit);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: unit, exact: true })).toBeVisible();
  await choose(page.getByLabel('Gauge', { exact: true }), { label: gauge });
  const told = (await page.getByText(/expected today/).textContent()) ?? '';
  const now = Number(/about ([\d,]+) mi/.exec(told)?.[1]?.replaceAll(',', ''));
  await page.getByLabel('Odometer, mi').fill(String(now + ahead));
  await page.getByLabel('Odometer, mi').press('Enter');
}

/** What the field of a pad says is expected of it, as a figure. */
export async function expectationOf(page: Page, pad: string): Promise<number> {
  const field = page.getByLabel(pad);
  const told =
    (await field
      .locator('xpath=../..')
      .getByText(/^expect/)
      .textContent()) ?? '';
  return Number(/expect ([\d.]+)/.exec(told)?.[1]);
}

/** Taps a figure on the number pad, key by key. */
export async function tap(page: Page, figure: string): Promise<void> {
  const pad = page.getByRole('group', { name: 'Number pad' });
  for (const sign of figure)
    await pad.getByRole('button', { name: sign === '.' ? 'point' : sign, exact: true }).click();
}

export const VERNIER = 'Vernier, Creamery yard (mm)';
export const keep = async (page: Page, readings: number) => {
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await page.getByRole('button', { name: new RegExp(`^Save ${readings} reading`) }).click();
};
export const sent = (page: Page) => expect(page.getByText('Nothing waits on this device; all is sent.')).toBeVisible();
export const readingsOf = async (page: Page, app: App, unit: string) => {
  const answer = await page.request.get(`${app.url}/api/vehicles/${unit}`);
  return (
    (await answer.json()) as { readings: { typed: string; date: string; answer: string | null; suspicion: unknown }[] }
  ).readings.filter(({ date }) => date === '2026-11-20');
};

/** The figures that the device itself holds of a vehicle's inspection. */
export const keptOf = (page: Page, unit: string) =>
  page.evaluate(
    (key) =>
      new Promise<string[]>((resolve, reject) => {
        const opened = indexedDB.open('mile-mark');
        opened.onerror = () => reject(new Error('the device’s database does not open'));
        opened.onsuccess = () => {
          const asked = opened.result.transaction('drafts').objectStore('drafts').get(key);
          asked.onsuccess = () => {
            const draft = asked.result as { pads: Record<string, { typed: string }> } | undefined;
            opened.result.close();
            resolve(Object.values(draft?.pads ?? {}).map(({ typed }) => typed));
          };
        };
      }),
    unit,
  );
