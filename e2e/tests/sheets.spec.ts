import writeWorkbook from 'write-excel-file/node';
import type { Page } from '@playwright/test';
import { choose } from '../support/choose.mjs';
import { expect, signIn, test, type App } from '../support/app.ts';
import { checksOf, nearSideSheet, workbookRows, yardSheet } from '../support/sheets.ts';

/** Sheets of other forms than a header and a row a wheel: understood, or asked about what nothing in them decides. */

const drop = async (page: Page, name: string, content: string | Buffer) => {
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page.getByRole('button', { name: /Drop files anywhere/ }).click();
  await page
    .getByLabel('Files to import')
    .setInputFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(content as string) });
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
};

const readingsOf = async (page: Page, app: App, unit: string) =>
  (await (await page.request.get(`${app.url}/api/readings.csv`)).text())
    .split('\n')
    .filter((line) => line.includes(`,${unit},2026-11-0`));

test('a vehicle a row under a title and two lines of header: only what nothing decides is asked', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const checks = await checksOf(page, app.url, ['P02', 'P04']);
  await drop(page, 'yard sheet.csv', yardSheet(checks));
  await expect(page.getByText('header in lines 3 and 4')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Take in/ })).toBeDisabled();
  await page.getByText('How it was understood:').click();
  await expect(page.getByText(/Odometers are miles: 2 of 2 vehicles go with their records/)).toBeVisible();
  const leftOut = page.getByRole('list', { name: 'Lines left out' });
  await expect(leftOut).toContainText('Line 1 left out, above the header: Brake checks of November');
  await expect(leftOut).toContainText('Line 7 left out, a total');
  const dates = page.getByRole('group', { name: /^The dates can be read in more than one order/ });
  await expect(dates.getByRole('button')).toHaveText([/3 November 2026/, /11 March 2026/]);
  await dates.getByRole('button', { name: /3 November 2026/ }).click();
  await expect(dates).toHaveCount(0);
  await choose(page.getByLabel('Who measured'), 'Tobi Varga');
  await choose(page.getByLabel('Measured with'), 'Digital depth gauge 2');
  await page.getByRole('button', { name: 'Take in 16 records' }).click();
  await expect(page.getByText('yard sheet.csv is in')).toBeVisible();
  const read = await readingsOf(page, app, 'P02');
  expect(read).toHaveLength(8);
  expect(read.every((line) => line.includes('Tobi Varga') && line.includes(',2026-11-03,'))).toBe(true);

  // It was another yard's: taken back whole, and on record as such.
  await page.getByRole('button', { name: 'Take it back …' }).click();
  const ask = page.getByRole('dialog', { name: 'Take yard sheet.csv back' });
  await expect(ask.getByRole('button', { name: 'Take it back' })).toBeDisabled();
  await ask.getByLabel('Why').fill('the other yard');
  await ask.getByRole('button', { name: 'Take it back' }).click();
  await expect(
    page.getByText('yard sheet.csv is taken back; the marks of 2 vehicles are computed anew.'),
  ).toBeVisible();
  await expect(page.getByText(/Maren Ashdown took it back on .*: the other yard/)).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Files and imports' })).toContainText('taken back');
  // All sixteen stand with what took their place: withdrawn is not gone.
  expect((await readingsOf(page, app, 'P02')).length).toBeGreaterThan(8);
});

test('near side and off side are asked once and remembered; a name like one on record is asked about', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const checks = await checksOf(page, app.url, ['V04', 'V07']);
  await drop(page, 'near side.csv', nearSideSheet(checks, 'T Varga'));
  const asked = page.getByRole('region', { name: /answers? wanted/ });
  await expect(asked).toContainText('7 answers wanted');
  for (const [name, place] of [
    ['NSF', 'axle 1, left'],
    ['OSF', 'axle 1, right'],
    ['NSR', 'rear axle, left (of two axles)'],
    ['OSR', 'rear axle, right (of two axles)'],
  ] as const)
    await choose(asked.getByLabel(`“${name}” is`), place);
  // What was answered outlives the page, and whoever looks after it finds it as it was left.
  await expect(asked).toContainText('3 answers wanted');
  await page.reload();
  await expect(asked).toContainText('3 answers wanted');
  await page.getByRole('link', { name: 'Questions' }).click();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page.getByRole('button', { name: /^near side\.csv/ }).click();
  await page.getByRole('button', { name: /^millimetres/ }).click();
  await page.getByRole('button', { name: 'The same as Tobi Varga' }).click();
  await choose(page.getByLabel('Measured with'), 'Digital depth gauge 2');
  await expect(asked).toHaveCount(0);
  await page.getByRole('button', { name: 'Take in 16 records' }).click();
  await expect(page.getByText('near side.csv is in')).toBeVisible();

  const more = await checksOf(page, app.url, ['V11']);
  await drop(page, 'near side again.csv', nearSideSheet(more, 'T Varga'));
  await expect(page.getByText('as remembered from last time')).toBeVisible();
  await expect(asked).toContainText('1 answer wanted');
  await expect(asked).toContainText('The sheet doesn’t say with which gauge');
  await page.getByRole('button', { name: 'Put away' }).click();
  await expect(page.getByText('near side again.csv is put away; nothing of it was taken in.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^near side again/ })).toHaveCount(0);
});

test('a workbook goes in, and what is no table is refused with what to do', async ({ page, app }) => {
  await signIn(page, app);
  const checks = await checksOf(page, app.url, ['V09', 'V13', 'V15']);
  const sheets = [
    { data: [[{ value: 'Printed for the office', type: String }]], sheet: 'Cover' },
    { data: workbookRows(checks), sheet: 'Vans' },
  ];
  await drop(page, 'vans.xlsx', await writeWorkbook(sheets as Parameters<typeof writeWorkbook>[0]).toBuffer());
  await expect(page.getByText('sheet “Vans”')).toBeVisible();
  await choose(page.getByLabel('Who measured'), 'Tobi Varga');
  await choose(page.getByLabel('Measured with'), 'Digital depth gauge 2');
  await page.getByRole('button', { name: 'Take in 12 records' }).click();
  await expect(page.getByText('vans.xlsx is in')).toBeVisible();
  expect(await readingsOf(page, app, 'V13')).toHaveLength(4);

  await page.getByRole('button', { name: /Drop files anywhere/ }).click();
  await page.getByLabel('Files to import').setInputFiles([
    { name: 'old.xls', mimeType: 'application/vnd.ms-excel', buffer: Buffer.from('d0cf11e0a1b11ae1', 'hex') },
    { name: 'scan.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.7 ') },
  ]);
  await expect(page.getByText(/old\.xls: .*Save it as XLSX or as CSV/)).toBeVisible();
  await expect(page.getByText(/scan\.pdf: .*Ask for the sheet as CSV or XLSX/)).toBeVisible();

  // A study goes in elsewhere: the way there takes the file along.
  const study = { name: 'spring study.csv', mimeType: 'text/csv', buffer: Buffer.from('part,appraiser,trial,value\n') };
  await page.getByLabel('Files to import').setInputFiles(study);
  await page.getByRole('link', { name: 'Take it there' }).click();
  await expect(page.getByRole('heading', { name: 'Take in a study from a file' })).toBeVisible();
  await expect(page.getByText('spring study.csv', { exact: true })).toBeVisible();
});
