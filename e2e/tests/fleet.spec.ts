import type { Page } from '@playwright/test';
import { choose } from '../support/choose.mjs';
import { expect, signIn, test } from '../support/app.ts';
import { newPerson } from '../support/people.ts';

/** The record kept up on screen: models, vehicles and depots are added, corrected, moved, and leave. */

/** A line of the list of vehicles. */
const row = (page: Page, unit: string) => page.getByRole('row', { name: new RegExp(`^${unit} `) });
const panel = (page: Page, unit: string) => page.getByRole('complementary', { name: `Entry of ${unit}` });
const undo = (page: Page) => page.getByRole('listitem').getByRole('button', { name: 'Undo' });

const FIGURES: [label: string, axles: [string, string]][] = [
  ['New pad, mm', ['12', '11']],
  ['Backing plate, mm', ['6', '5.5']],
  ['Maker’s least pad, mm', ['2', '2']],
  ['Rotor discard, mm', ['26', '16']],
  ['Share of the brake work', ['0,68', '0,32']],
];

test('a model is added from its sheet and a vehicle of it; a figure is corrected, and the mark moves', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.getByRole('link', { name: 'Fleet', exact: true }).click();
  await page.getByRole('link', { name: 'Models', exact: true }).click();
  await page.getByRole('button', { name: 'Add a model …' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Model', { exact: true }).fill('Ostrey Courier 28');
  await sheet.getByLabel('Tare, kg').fill('2050');
  await sheet.getByLabel('GVWR, kg').fill('1990');
  for (const [label, axles] of FIGURES)
    for (const [k, figure] of axles.entries()) await sheet.getByLabel(`${label}, axle ${k + 1}`).fill(figure);
  await expect(sheet.getByText('blank: machining is never advised')).toBeVisible();
  await sheet.getByRole('button', { name: 'Add it' }).click();
  await expect(sheet.getByText('More than the tare is accepted.')).toBeVisible();
  await sheet.getByLabel('GVWR, kg').fill('2990');
  await sheet.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('heading', { name: 'Ostrey Courier 28' })).toBeVisible();

  await page.getByRole('link', { name: 'Vehicles', exact: true }).click();
  await page.getByRole('button', { name: 'Add a vehicle …' }).click();
  // The lists are there: what is chosen then stays chosen.
  for (const list of ['Model', 'Depot']) await expect(sheet.getByLabel(list)).toHaveText(/\w/);
  await sheet.getByLabel('Unit number').fill('c90');
  await choose(sheet.getByLabel('Model'), 'Ostrey Courier 28');
  await choose(sheet.getByLabel('Depot'), 'Northfold');
  await sheet.getByLabel('On that duty since').fill('3 Aug 2026');
  await sheet.getByLabel(/^Odometer on that day/).fill('12,000');
  await sheet.getByRole('button', { name: 'Add it' }).click();
  await expect(panel(page, 'C90')).toContainText('3 Aug 2026 at 12,000 mi');
  // The first forecast is made behind the scenes; a vehicle that drives since August may have passed its mark.
  const mark = panel(page, 'C90').getByText(/^\d+ \w{3} 20\d\d, axle \d(, passed)?$/);
  await expect(async () => {
    await page.reload();
    await expect(mark).toBeVisible({ timeout: 10_000 });
  }).toPass();
  const before = await mark.textContent();

  await page.goto(`${app.url}/fleet/models?model=Ostrey%20Courier%2028`);
  for (const axle of [1, 2]) await page.getByLabel(`Maker’s least pad, mm, axle ${axle}`).fill('5');
  await expect(page.getByRole('listitem').filter({ hasText: 'Axle 1: Maker’s least pad, mm: 2 → 5' })).toBeVisible();
  await page.getByLabel('Why').fill('the sheet says five');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Ostrey Courier 28 is corrected; the marks of its vehicle are made anew.')).toBeVisible();
  await expect(async () => {
    await page.goto(`${app.url}/fleet?unit=C90`);
    await expect(mark).not.toHaveText(before ?? '', { timeout: 10_000 });
  }).toPass();
});

test('a vehicle moves, is moved back, gets another number, and is sold; its records stay', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/fleet`);
  await page.getByRole('button', { name: 'Add a vehicle …' }).click();
  const sheet = page.getByRole('dialog');
  // The lists are there: what is chosen then stays chosen.
  for (const list of ['Model', 'Depot']) await expect(sheet.getByLabel(list)).toHaveText(/\w/);
  await sheet.getByLabel('Unit number').fill('C91');
  await choose(sheet.getByLabel('Depot'), 'Northfold');
  await sheet.getByLabel(/^Odometer on that day/).fill('9000');
  await sheet.getByRole('button', { name: 'Add it' }).click();
  const entry = panel(page, 'C91');
  await entry.getByRole('button', { name: 'Move C91' }).click();
  await choose(sheet.getByLabel('To', { exact: true }), 'Saltmarsh depot');
  await sheet.getByRole('button', { name: 'Move it' }).click();
  await expect(page.getByText('C91 is in Saltmarsh depot now.')).toBeVisible();
  await expect(row(page, 'C91')).toContainText('Saltmarsh depot');
  await undo(page).click();
  await expect(row(page, 'C91')).toContainText('Northfold');

  await entry.getByRole('button', { name: 'Move C91' }).click();
  await choose(sheet.getByLabel('To', { exact: true }), 'Creamery yard');
  await sheet.getByLabel('On', { exact: true }).fill('1 Dec 2026');
  await sheet.getByLabel('Back on, where it is for a time').fill('8 Dec 2026');
  await sheet.getByRole('button', { name: 'Move it' }).click();
  await expect(entry).toContainText('to Creamery yard on 1 Dec 2026, back in Northfold on 8 Dec 2026');
  await entry.getByRole('button', { name: 'Take back the move of C91' }).click();
  await expect(entry).not.toContainText('Creamery yard');

  await entry.getByRole('button', { name: 'Instrument of C91 replaced' }).click();
  await sheet.getByLabel(/^The old one showed last/).fill('8,000');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(sheet.getByText('The old one was read on 2026-11-20; a later day is accepted.')).toBeVisible();
  await sheet.getByLabel('The new one is read from').fill('21 Nov 2026');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(sheet.getByText('It showed 9,000 mi on 2026-11-20 already; that or more is accepted.')).toBeVisible();
  await sheet.getByLabel(/^The old one showed last/).fill('9,040');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(entry).toContainText('the old one showed 9,040 mi');
  const told = page.getByRole('listitem').filter({ hasText: 'is read on a new instrument' });
  await told.getByRole('button', { name: 'Undo' }).click();
  await expect(entry).not.toContainText('the old one showed');

  await entry.getByRole('button', { name: 'Another unit number for C91' }).click();
  await sheet.getByLabel('Unit number').fill('P02');
  await sheet.getByLabel('Why').fill('misread');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(sheet.getByText('There is a vehicle P02 already; another number is accepted.')).toBeVisible();
  // Esc asks before it throws away what was typed; the entry, to which the sheet belongs, stays with it.
  await page.keyboard.press('Escape');
  await sheet.getByRole('button', { name: 'Go on typing' }).click();
  await sheet.getByLabel('Unit number').fill('C92');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(row(page, 'C92')).toBeVisible();

  await panel(page, 'C92').getByRole('button', { name: 'Sold or retired …' }).click();
  await sheet.getByRole('button', { name: 'It was sold' }).click();
  await expect(row(page, 'C92')).toHaveCount(0);
  await choose(page.getByLabel('Shown'), 'Sold or retired');
  await expect(row(page, 'C92')).toContainText('sold 20 Nov 2026');
  await page.goto(`${app.url}/vehicles/C92`);
  await expect(page.getByText('sold 20 Nov 2026')).toBeVisible();
  await expect(page.getByRole('link', { name: /^Measure M/ })).toHaveCount(0);
  await page.goto(`${app.url}/`);
  await page.getByLabel('Find a unit').fill('C92');
  await expect(page.getByRole('button', { name: /^C92 axle/ })).toHaveCount(0);
});

test('a depot is opened and renamed; one with jobs says what stands in the way of closing', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/fleet/depots`);
  await page.getByRole('button', { name: 'Open a depot …' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Name').fill('Mill yrad');
  await sheet.getByLabel('Time zone').fill('Middle earth');
  await sheet.getByRole('button', { name: 'Open it' }).click();
  await expect(sheet.getByText('The name of a time zone such as Europe/Oslo or UTC is accepted.')).toBeVisible();
  await sheet.getByLabel('Time zone').fill('Europe/Oslo');
  await sheet.getByRole('button', { name: 'Open it' }).click();
  await page.getByRole('button', { name: 'Edit Mill yrad' }).click();
  await sheet.getByLabel('Name').fill('Mill yard');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: /^Mill yard 0 Europe\/Oslo open/ })).toBeVisible();
  await page.getByRole('button', { name: 'Close Mill yard' }).click();
  await sheet.getByRole('button', { name: 'Close it' }).click();
  await expect(page.getByRole('row', { name: /^Mill yard/ })).toContainText('closed 20 Nov 2026');

  await page.getByRole('button', { name: 'Close Northfold' }).click();
  await sheet.getByRole('button', { name: 'Close it' }).click();
  await expect(sheet.getByText(/Northfold can’t close yet\. .*parts lie on its shelves/)).toBeVisible();
});

test('a reader of the fleet finds and sorts, and is offered nothing that is not theirs to do', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'viewer');
  await page.goto(`${app.url}/fleet?unit=P04`);
  await expect(panel(page, 'P04').getByRole('link', { name: 'Its page' })).toBeVisible();
  for (const name of [/^Move/, /^Sold/, /^Add a/, /^Another/, /^Correct/])
    await expect(page.getByRole('button', { name })).toHaveCount(0);
  await page.getByLabel('Find a unit, model or duty').fill('tanker');
  await page.getByRole('button', { name: 'Last look' }).click();
  await page.getByRole('button', { name: 'Last look' }).click();
  await expect(page.getByRole('columnheader', { name: 'Last look' })).toHaveAttribute('aria-sort', 'descending');
  const dates = await page
    .getByRole('row')
    .getByText(/^\d+ \w{3} 202\d$/)
    .allTextContents();
  const days = dates.map((text) => Date.parse(text));
  expect(days.length).toBeGreaterThan(5);
  expect(days).toEqual([...days].sort((a, b) => b - a));
  await page.goto(`${app.url}/fleet/models`);
  await expect(page.getByLabel('New pad, mm, axle 1')).not.toBeEditable();
  await expect(page.getByRole('button', { name: /^Add/ })).toHaveCount(0);
});

test('a forgotten password is reset by a link that works once, and the trail says who made it', async ({
  page,
  app,
  browser,
}) => {
  await signIn(page, app);
  const form = await newPerson(page, app, { name: 'Yrsa Holt', address: 'yrsa', password: 'the word she forgot' });
  await form.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'A new password for Yrsa Holt' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Make a link' }).click();
  const link = await sheet.getByLabel(/^Give it to Yrsa Holt now/).inputValue();
  await page.keyboard.press('Escape');

  const context = await browser.newContext();
  const theirs = await context.newPage();
  await theirs.goto(link);
  await theirs.getByLabel('New password').fill('short');
  await theirs.getByRole('button', { name: 'Set it and sign in' }).click();
  await expect(theirs.getByText('At least 10 characters are accepted.')).toBeVisible();
  await theirs.getByLabel('New password').fill('a word she keeps');
  await theirs.getByRole('button', { name: 'Set it and sign in' }).click();
  await expect(theirs.getByRole('button', { name: /Yrsa Holt/ })).toBeVisible();
  await context.close();
  const later = await browser.newContext();
  const again = await later.newPage();
  await again.goto(link);
  await again.getByLabel('New password').fill('another word again');
  await again.getByRole('button', { name: 'Set it and sign in' }).click();
  await expect(again.getByText(/This link does not work any more/)).toBeVisible();
  await later.close();

  await page.goto(`${app.url}/fleet/trail`);
  await expect(
    page.getByRole('row', { name: /Maren Ashdown made a link to reset a password Yrsa Holt/ }),
  ).toBeVisible();
  await expect(page.getByRole('row', { name: /Yrsa Holt set a new password by a link Yrsa Holt/ })).toBeVisible();
});

test('two entries of one person are made one', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/fleet/people`);
  await page.getByLabel('Name', { exact: true }).fill('Tobias V');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'Tobias V is somebody else on record' }).click();
  const sheet = page.getByRole('dialog', { name: 'Who is Tobias V?' });
  await expect(sheet.getByRole('button', { name: 'Make them one' })).toBeDisabled();
  await choose(sheet.getByLabel('Tobias V is the same person as'), 'Tobi Varga');
  await expect(sheet).toContainText('stands under Tobi Varga from then on');
  await sheet.getByRole('button', { name: 'Make them one' }).click();
  await expect(page.getByText(/^Tobias V is Tobi Varga now/)).toBeVisible();
  await expect(page.getByRole('cell', { name: 'Tobias V', exact: true })).toHaveCount(0);
  // Who signs in is nobody else.
  await expect(page.getByRole('button', { name: 'Tobi Varga is somebody else on record' })).toHaveCount(0);
});
