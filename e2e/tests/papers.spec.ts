import { choose } from '../support/choose.mjs';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { digitalGauge } from '@mile-mark/standins';
import { expectationOf } from '../support/capture.ts';
import { expect, fixture, test, type App } from '../support/app.ts';

/**
 * The spine of the product, walked as a coordinator walks it: an empty start, seven papers in, a questioned
 * row mended, a mark that moves, one more inspection, and the mark moves again.
 */
test.use({ options: { demo: false, today: '2026-11-20' } });
test.describe.configure({ mode: 'serial' });

const SHEETS = { okafor: 'Chidi Okafor', lindqvist: 'Tove Lindqvist', castellano: 'Rita Castellano' };
let page: Page;

interface Mark {
  unit: string;
  axle: number;
  markOdometerMi: number;
  markDate: string;
  evidence: { readings: number };
}

test.beforeAll(async ({ browser, app }) => {
  page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(app.url);
});
test.afterAll(async () => page.close());

async function marksOf(app: App): Promise<Mark[]> {
  await expect
    .poll(
      async () =>
        ((await (await page.request.get(`${app.url}/api/mile-marks`)).json()) as { refresh: { pending: number } })
          .refresh.pending,
      { timeout: 120_000 },
    )
    .toBe(0);
  return ((await (await page.request.get(`${app.url}/api/mile-marks`)).json()) as { items: Mark[] }).items;
}
const markOf = async (app: App, unit: string, axle: number) =>
  (await marksOf(app)).find((one) => one.unit === unit && one.axle === axle) as Mark;

test('the first person makes the first account', async () => {
  await expect(page.getByText('Nobody has an account here yet')).toBeVisible();
  await page.getByLabel('Your name').fill('Ada Wrenfield');
  await page.getByLabel('E-mail address').fill('ada@dairy.example');
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Make the first account' }).click();
  await expect(page.getByText('At least 10 characters are accepted.')).toBeVisible();
  await page.getByLabel('Password').fill('curds and whey 26');
  await page.getByRole('button', { name: 'Make the first account' }).click();
  await expect(page.getByText('No vehicle on record yet')).toBeVisible();
});

test('seven files dropped at once are put in a sensible order', async () => {
  await page.getByRole('link', { name: 'Go to Import' }).click();
  const names = [
    'readings-okafor',
    'services',
    'vehicles',
    'models',
    'readings-castellano',
    'duties',
    'readings-lindqvist',
  ];
  await page.getByLabel('Files to import').setInputFiles(names.map((name) => fixture(`${name}.csv`)));
  await expect(page.getByRole('heading', { name: 'models.csv' })).toBeVisible();
  const order = await page
    .getByRole('navigation', { name: 'Files and imports' })
    .locator('li button span:first-child')
    .allTextContents();
  expect(order).toEqual([
    'models.csv',
    'duties.csv',
    'vehicles.csv',
    'services.csv',
    'readings-castellano.csv',
    'readings-lindqvist.csv',
    'readings-okafor.csv',
  ]);
});

test('the lists go in', async ({ app }) => {
  for (const [name, next] of [
    ['models', 'duties'],
    ['duties', 'vehicles'],
    ['vehicles', 'services'],
    ['services', 'readings-castellano'],
  ]) {
    await expect(page.getByRole('heading', { name: `${name}.csv`, exact: true })).toBeVisible();
    await page.getByRole('button', { name: /^Take in \d+ record/ }).click();
    await page.getByRole('button', { name: `Next: ${next}.csv` }).click();
  }
  const { items } = (await (await page.request.get(`${app.url}/api/vehicles`)).json()) as { items: { unit: string }[] };
  expect(items).toHaveLength(24);
});

async function answerWho(name: string) {
  await page.getByLabel('or a new technician').fill(name);
  await page.getByRole('button', { name: 'Add technician' }).click();
  await expect(page.getByRole('button', { name: 'Add technician' })).toHaveCount(0);
}

async function answerGauge(name?: string) {
  if (name) await page.getByLabel('or a new gauge').fill(name);
  await page.getByRole('button', { name: 'Add gauge' }).click();
  await expect(page.getByRole('button', { name: 'Add gauge' })).toHaveCount(0);
}

/** The reasons shown for a line of the file. */
const line = (number: number) => page.getByRole('row').filter({ hasText: new RegExp(`^line ${number}(?!\\d)`) });

test('Castellano’s sheet: kilometres among miles, blanks and a unit in lower case', async () => {
  await answerWho(SHEETS.castellano);
  await answerGauge();
  await expect(line(42)).toContainText('98,172 km is 61,001 mi');
  await expect(line(42)).toContainText('stays out');
  await page.getByRole('button', { name: /\d+ refused/ }).click();
  await expect(page.getByRole('row')).toHaveCount(2);
  await expect(page.getByText('The thickness is blank')).toBeVisible();
  await expect(page.getByText('“n/a” is not a thickness')).toBeVisible();
  await page.getByRole('button', { name: /\d+ rows/ }).click();
  await page.getByRole('button', { name: 'Take in 293 records' }).click();
  await expect(page.getByText('readings-castellano.csv is in')).toBeVisible();
  await page.getByRole('button', { name: 'Next: readings-lindqvist.csv' }).click();
});

test('Lindqvist’s sheet: a fraction no gauge shows, a row entered twice, backing plates', async () => {
  await answerWho(SHEETS.lindqvist);
  await answerGauge('Step gauge, 32nds');
  await page.getByRole('button', { name: /\d+ refused/ }).click();
  await expect(page.getByRole('row')).toHaveCount(1);
  await expect(page.getByText('“11/23” has 23 under the line')).toBeVisible();
  await page.getByRole('button', { name: /\d+ questioned/ }).click();
  await expect(line(118)).toContainText('The same as line 5');
  await expect(page.getByText('Was the backing plate included?').first()).toBeVisible();
  await page.getByRole('button', { name: /^Take in \d+ record/ }).click();
  await page.getByRole('button', { name: 'Next: readings-okafor.csv' }).click();
});

test('Okafor’s sheet: semicolons, decimal commas and kilometres are understood; 85 and V99 are refused', async () => {
  await answerWho(SHEETS.okafor);
  await answerGauge('Vernier');
  await expect(page.getByText('How it was understood:')).toBeVisible();
  await expect(
    page.getByText(/decimal comma, dates day\.month\.year, odometer in km, thickness in mm, wheels/),
  ).toBeVisible();
  await page.getByRole('button', { name: /\d+ refused/ }).click();
  await expect(page.getByRole('row')).toHaveCount(2);
  await expect(page.getByText('Is a decimal mark missing (8.5)?')).toBeVisible();
  await expect(page.getByText('There is no vehicle V99 on record')).toBeVisible();
  await page.getByRole('button', { name: 'Use 8,5' }).click();
  await expect(page.getByRole('row')).toHaveCount(1);
  await page.getByRole('button', { name: /^Take in \d+ record/ }).click();
  await expect(page.getByText('readings-okafor.csv is in')).toBeVisible();
});

test('every reading that could be read is on record, exactly once', async ({ app }) => {
  // Counted from the papers themselves: cells with a thickness, less those of form that can't go in.
  const cells = (name: string, columns: number[], separator: RegExp) =>
    readFileSync(fixture(`${name}.csv`), 'utf8')
      .split(/\r?\n/)
      .slice(1)
      .filter(Boolean)
      .flatMap((row) => columns.map((column) => row.split(separator)[column])).length;
  const inPapers =
    cells('readings-okafor', [4, 5], /;/) +
    cells('readings-lindqvist', [0, 1, 2, 3], /,/) +
    cells('readings-castellano', [6], /,/);
  // Left out: 2 cells of V99; 11/23; 4 cells of the row entered twice; the km row, the blank and the n/a.
  const expected = inPapers - 2 - 1 - 4 - 3;
  const csv = await (await page.request.get(`${app.url}/api/readings.csv`)).text();
  expect(csv.trim().split('\n').length - 1).toBe(expected);
});

test('Ahead shows a mark for all 54 axles; the five with unmeasured new pads stand dashed', async ({ app }) => {
  const items = await marksOf(app);
  expect(items).toHaveLength(54);
  const dashed = items
    .filter(({ evidence }) => evidence.readings === 0)
    .map(({ unit, axle }) => `${unit}/${axle}`)
    .sort();
  expect(dashed).toEqual(['P16/2', 'P17/2', 'T16/1', 'V17/2', 'V18/1']);
  await page.getByRole('link', { name: 'Ahead', exact: true }).click();
  await page.getByLabel('Find a unit').fill('P17');
  const post = page.getByRole('button', { name: /^P17 axle 2: mark .* not measured since pads were fitted/ });
  await expect(post).toHaveCSS('border-top-style', 'dashed');
  await expect(page.getByRole('button', { name: /^P17 axle 1: mark/ })).toHaveCSS('border-top-style', 'solid');
});

test('a questioned row is mended, and the axle’s mark moves', async ({ app }) => {
  const before = await markOf(app, 'P15', 1);
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Files and imports' })
    .getByRole('button', { name: /readings-castellano/ })
    .click();
  const row = page.getByRole('listitem').filter({ hasText: '98,172 km is 61,001 mi' });
  await row.getByRole('button', { name: 'Use 61001' }).click();
  await expect(page.getByText('Line 42 is in.')).toBeVisible();
  const after = await markOf(app, 'P15', 1);
  expect(after.markOdometerMi).not.toBe(before.markOdometerMi);
  await page.getByRole('link', { name: 'Ahead', exact: true }).click();
  await page.getByLabel('Find a unit').fill('P15');
  const shown = `${after.markOdometerMi.toLocaleString('en-US')} mi`;
  await page.getByRole('button', { name: /^P15 axle 1: mark/ }).click();
  await expect(page.getByRole('complementary', { name: 'Why this date' })).toContainText(shown);
});

test('the vehicle opens, one more inspection is typed by a gauge, and the mark moves again', async ({ app }) => {
  const before = await markOf(app, 'P15', 1);
  await page.getByRole('group', { name: /^Lanes/ }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'P15', exact: true })).toBeVisible();
  await page.keyboard.press('m');
  await choose(page.getByLabel('Who measures'), SHEETS.okafor);
  await choose(page.getByLabel('Gauge', { exact: true }), { label: 'Vernier (mm)' });
  await page.getByLabel('Odometer, mi').fill('85,600');
  await page.keyboard.press('Enter');
  // The gauge types its figure and Enter, which goes on to the next pad.
  const gauge = digitalGauge({ unit: 'mm', step: 0.1, biasMm: 0, repeatabilityMm: 0.05, seed: 3 });
  // As in the drawing, left to right: outer first at the left wheel, inner first at the right one.
  for (const [side, pads] of [
    ['left', ['outer', 'inner']],
    ['right', ['inner', 'outer']],
  ] as const) {
    await page.getByRole('button', { name: `Axle 1, ${side}` }).click();
    for (const pad of pads) {
      const name = `Axle 1, ${side}, ${pad} pad`;
      await expect(page.getByLabel(name)).toBeFocused();
      await page.keyboard.type(gauge.press(await expectationOf(page, name)));
    }
  }
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await page.getByRole('button', { name: /Save 4 readings/ }).click();
  await expect(page.getByText('Nothing waits on this device; all is sent.')).toBeVisible();
  const after = await markOf(app, 'P15', 1);
  expect(after.markOdometerMi).not.toBe(before.markOdometerMi);
  expect(after.evidence.readings).toBe(before.evidence.readings + 4);
});

test('the same file a second time adds nothing, and its reading is remembered', async ({ app }) => {
  const count = async () =>
    (await (await page.request.get(`${app.url}/api/readings.csv`)).text()).trim().split('\n').length;
  const before = await count();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page.getByLabel('Files to import').setInputFiles(fixture('readings-okafor.csv'));
  await expect(page.getByText('as remembered from last time')).toBeVisible();
  // How such a sheet is read is remembered; who measured this one is not guessed.
  await choose(page.getByLabel('Who measured'), SHEETS.okafor);
  await expect(page.getByRole('button', { name: '198 already in' })).toBeVisible();
  await page.getByRole('button', { name: 'Take in 0 records' }).click();
  await expect(page.getByText('readings-okafor.csv is in')).toBeVisible();
  expect(await count()).toBe(before);
});

test('rows not taken are downloaded, mended and go in', async ({ app }) => {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    (async () => {
      await page
        .getByRole('navigation', { name: 'Files and imports' })
        .getByRole('button', { name: /readings-lindqvist/ })
        .click();
      await page.getByRole('link', { name: 'Download these rows' }).click();
    })(),
  ]);
  const rows = readFileSync(await download.path(), 'utf8');
  expect(rows).toContain('11/23');
  expect(rows).toContain('why not taken');
  const mended = rows.replace('11/23', '11/32');
  await page.getByRole('button', { name: /Drop files anywhere/ }).click();
  await page
    .getByLabel('Files to import')
    .setInputFiles({ name: `mended ${randomUUID()}.csv`, mimeType: 'text/csv', buffer: Buffer.from(mended) });
  // His gauge and his order of dates are remembered from the sheet these rows are from.
  await choose(page.getByLabel('Who measured'), SHEETS.lindqvist);
  await page.getByRole('button', { name: 'Take in 1 record' }).click();
  await expect(page.getByText(/^mended .* is in$/)).toBeVisible();
  const csv = await (await page.request.get(`${app.url}/api/readings.csv`)).text();
  expect(csv).toMatch(/P13,2026-02-11,65999,1,left,inner,8\.731,11\/32/);
});
