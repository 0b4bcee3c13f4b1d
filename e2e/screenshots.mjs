import { choose } from './support/choose.mjs';
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
await desk.getByLabel('Password').fill('milk-before-dawn');
await desk.getByRole('button', { name: 'Sign in' }).click();
await desk
  .getByRole('group', { name: /^[PVT]\d+$/ })
  .first()
  .waitFor();
await desk.getByText('Thinnest pad').waitFor();
await shoot(desk, 'ahead');

await desk.goto(`${base}/vehicles/P08`);
await desk.getByText('Readings, newest first').waitFor();
await desk.waitForTimeout(500);
await shoot(desk, 'vehicle');

await desk.goto(`${base}/this-week`);
await desk.getByText('To be calibrated').waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'this-week');

await desk.goto(`${base}/gauges`);
await desk.getByText('What would help').waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'gauges');

await desk.goto(`${base}/parts`);
await desk.getByRole('heading', { name: /^To order/ }).waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'parts');

await desk.goto(`${base}/jobs/learned`);
await desk.getByText('Parts asked for half-way').waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'learned');

await desk.goto(`${base}/plan?depot=Creamery%20yard`);
await desk.getByRole('button', { name: /^(Propose|Plan anew|Propose another)/ }).click();
await desk.getByRole('dialog').getByRole('button', { name: 'Propose', exact: true }).click();
await desk.getByRole('button', { name: 'Publish' }).waitFor();
await desk.locator('[data-visit^="T"]').nth(2).click();
await desk.waitForTimeout(300);
await shoot(desk, 'plan');
await desk.getByRole('button', { name: 'Drop it' }).click();
await desk.getByText('Dropped.').waitFor();

await desk.goto(`${base}/questions`);
await desk.getByText('Said at the field').waitFor();
await shoot(desk, 'questions');

await desk.goto(`${base}/vehicles/V08/why/1`);
await desk.getByText('It stands at').waitFor();
await choose(desk.getByLabel('Duty').last(), { label: 'Doorstep delivery' });
await desk.getByText('The mark would stand at').waitFor();
await desk.waitForTimeout(400);
await shoot(desk, 'why');

await desk.goto(`${base}/duty?for=V08&since=2026-04-02`);
await desk.getByLabel('Stops a mile').fill('4.6');
await desk.getByLabel('Descent, m a mile').fill('21');
await desk.waitForTimeout(300);
await shoot(desk, 'duty');

await desk.goto(`${base}/records`);
await desk.getByText('Did the intervals hold?').waitFor();
await shoot(desk, 'records');

await desk.goto(`${base}/jobs`);
await desk.getByRole('link', { name: 'V21' }).waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'jobs');
await desk.getByRole('link', { name: 'V21' }).click();
await desk.getByRole('heading', { name: 'Its story' }).waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'job');
const card = `${desk.url()}/card?step=${encodeURIComponent('torque Guide pin bolt/1/left')}`;
await desk.goto(`${base}/vehicles/P06`);
await desk.getByText('Readings, newest first').waitFor();
await desk.keyboard.press('b');
await desk.getByRole('button', { name: 'Book it' }).waitFor();
await desk.waitForTimeout(400);
await shoot(desk, 'book-it');

const bench = await browser.newPage({ viewport: { width: 1024, height: 768 } });
await bench.goto(`${base}/sign-in`);
await bench.getByLabel('E-mail address').fill('technician@linden-vale.example');
await bench.getByLabel('Password').fill('milk-before-dawn');
await bench.getByRole('button', { name: 'Sign in' }).click();
await bench.getByRole('navigation', { name: 'Places' }).waitFor();
await bench.goto(`${base}/specifications?unit=P04&axle=1`);
await bench.getByRole('article').waitFor();
await shoot(bench, 'bench-sheet');
await bench.goto(card);
await bench.getByRole('button', { name: 'It was done; sign this all the same' }).click();
for (const key of ['2', '8']) await bench.getByRole('button', { name: key, exact: true }).click();
await bench.waitForTimeout(300);
await shoot(bench, 'service-card');
/** A made-up sheet of a demo technician with the slips such sheets have, its figures near what is expected. */
async function sheet() {
  const [pickup, van] = await Promise.all(
    ['P03', 'V12'].map(async (unit) => (await desk.request.get(`${base}/api/vehicles/${unit}`)).json()),
  );
  const km = ({ odometerNowMi }) => Math.round((odometerNowMi - 60) * 1.609344);
  const mm = ({ axleDetails }, axle, side, pad, more = 0) => {
    const found = axleDetails[axle - 1].pads.find((one) => one.side === side && one.pad === pad);
    return (found.meanMm + more).toFixed(1).replace('.', ',');
  };
  const wheel = (vehicle, name, axle, side) =>
    `19.11.2026;${vehicle.unit};${km(vehicle)};${name};${mm(vehicle, axle, side, 'inner')};${mm(vehicle, axle, side, 'outer')};`;
  const plate = `19.11.2026;V12;${km(van)};RF;${mm(van, 1, 'right', 'inner')};${mm(van, 1, 'right', 'outer', 6)};`;
  return [
    'Date;Unit;Odometer km;Wheel;Inner mm;Outer mm;Note',
    wheel(pickup, 'LF', 1, 'left'),
    `19.11.2026;P03;${km(pickup)};RF;${mm(pickup, 1, 'right', 'inner')};54;`,
    wheel(pickup, 'LR', 2, 'left').replace('P03', ' p03'),
    wheel(pickup, 'RR', 2, 'right').replace('P03', 'P33'),
    wheel(van, 'LF', 1, 'left'),
    plate,
    `19.11.2026;V12;${km(van)};LR;11/23;${mm(van, 2, 'left', 'outer')};`,
    wheel(van, 'LF', 1, 'left'),
    wheel(van, 'RR', 2, 'right'),
  ].join('\n');
}
await desk.goto(`${base}/import`);
await desk
  .getByLabel('Files to import')
  .setInputFiles({ name: 'lindmoor-november.csv', mimeType: 'text/csv', buffer: Buffer.from(await sheet()) });
await choose(desk.getByLabel('Who measured'), 'Petra Lindmoor');
await choose(desk.getByLabel('Measured with'), 'Vernier, Northfold');
await desk.getByText('Is a decimal mark missing').waitFor();
await desk.waitForTimeout(400);
await shoot(desk, 'import');

await desk.goto(`${base}/fleet?unit=P06&sort=mark`);
await desk.getByRole('heading', { name: 'P06' }).waitFor();
await desk.waitForTimeout(300);
await shoot(desk, 'fleet');

// The bay, on a tablet.
await desk.setViewportSize({ width: 1024, height: 768 });
await desk.goto(`${base}/measure`);
await desk.getByText('Worth a look today').waitFor();
await desk.getByLabel('Unit number').fill('V10');
await desk.keyboard.press('Enter');
await choose(desk.getByLabel('Who measures'), 'Tobi Varga');
await choose(desk.getByLabel('Gauge', { exact: true }), { label: 'Vernier, Creamery yard (mm)' });
const odometer = /about ([\d,]+) mi/.exec(await desk.getByText(/expected today/).textContent())[1];
await desk.getByLabel('Odometer, mi').fill(odometer.replace(',', ''));
await desk.keyboard.press('Enter');
await desk
  .getByText(/^expect [\d.]+/)
  .first()
  .waitFor();
const told = await desk.getByText(/^expect [\d.]+/).allTextContents();
const usual = told.map((text) => Number(/[\d.]+/.exec(text)[0]));
await desk.getByLabel('Axle 1, left, outer pad').fill(usual[0].toFixed(1));
await desk.getByLabel('Axle 1, left, inner pad').fill((usual[1] + 6).toFixed(1));
await desk.keyboard.press('Enter');
await desk.waitForTimeout(300);
await shoot(desk, 'measure-tablet');
await browser.close();
