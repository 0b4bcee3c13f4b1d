/** Takes the pictures of docs/screenshots from a running demo: `npm start`, then `npm run screenshots`. */
import { chromium } from '@playwright/test';
import { CHROMIUM } from './support/chromium.mjs';
import path from 'node:path';

const base = process.argv[2] ?? 'http://127.0.0.1:4600';
const folder = path.resolve(import.meta.dirname, '../docs/screenshots');
const browser = await chromium.launch(CHROMIUM);
const desk = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const shoot = (page, name, options = {}) => page.screenshot({ path: path.join(folder, `${name}.png`), ...options });

await desk.goto(`${base}/sign-in`);
await desk.getByLabel('E-mail address').fill('coordinator@linden-vale.example');
await desk.waitForTimeout(300);
await shoot(desk, 'sign-in');
await desk.getByLabel('Password').fill('milk-before-dawn');
await desk.getByRole('button', { name: 'Sign in' }).click();
await desk
  .getByRole('group', { name: /^[PVT]\d+$/ })
  .first()
  .waitFor();
await desk.getByText('Thinnest pad').waitFor();
await shoot(desk, 'ahead');

await desk.goto(`${base}/vehicles/V04`);
await desk.getByText('Readings, newest first').waitFor();
await desk.waitForTimeout(500);
await shoot(desk, 'vehicle');

await desk.goto(`${base}/gauges`);
await desk.getByRole('columnheader', { name: 'Least step' }).waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'gauges');

/** A made-up sheet of a demo technician with the slips such sheets have. */
const SHEET = `Date;Unit;Odometer km;Wheel;Inner mm;Outer mm;Note
19.11.2026;P03;121 300;LF;5,3;5,6;
19.11.2026;P03;121 300;RF;5,2;54;
19.11.2026; p03;121 300;LR;7,9;8,0;
19.11.2026;P33;121 300;RR;8,1;8,3;
18.11.2026;V12;100 050;LF;9,4;9,2;
18.11.2026;V12;100 050;RF;9,1;15,2;
18.11.2026;V12;100 050;LR;11/23;7,1;
18.11.2026;V12;100 050;LF;9,4;9,2;
`;
await desk.goto(`${base}/import`);
await desk
  .getByLabel('Files to import')
  .setInputFiles({ name: 'lindmoor-november.csv', mimeType: 'text/csv', buffer: Buffer.from(SHEET) });
await desk.getByLabel('Who measured').selectOption('Petra Lindmoor');
await desk.getByLabel('Measured with').selectOption('Vernier, Northfold');
await desk.getByText('Is a decimal mark missing').waitFor();
await desk.waitForTimeout(400);
await shoot(desk, 'import');

async function measure(page, name) {
  await page.goto(`${base}/measure/V10`);
  await page.getByLabel('Who measured').selectOption('Tobi Varga');
  await page.getByLabel('Gauge', { exact: true }).selectOption({ label: 'Vernier, Creamery yard (mm)' });
  const expected = await page.getByText(/^expect [\d.]+ mm/).allTextContents();
  const figures = expected.map((text) => Number(/[\d.]+/.exec(text)[0]));
  const fields = page.getByLabel(/^Axle 1, /);
  for (const index of [0, 1, 2]) await fields.nth(index).fill((figures[index] + (index === 1 ? 6 : 0.1)).toFixed(1));
  await page.waitForTimeout(400);
  await shoot(page, name);
}
await measure(desk, 'measure');
await desk.setViewportSize({ width: 834, height: 1112 });
await measure(desk, 'measure-tablet');
await browser.close();
