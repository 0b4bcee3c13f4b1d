/** The parts keeper's own walks: from a proposal to a part that is used, and what goes wrong on the way. */
import type { Page } from '@playwright/test';
import { expect, signIn, test } from '../support/app.ts';
import { kitOf, kitsOf, parts } from '../support/parts.ts';

test.describe.configure({ mode: 'serial' });

const receiveByHand = async (page: Page, part: string, units: string, bin: string, depot: string) => {
  await page.getByRole('button', { name: 'Receive without an order …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Part number').fill(part);
  await dialog.getByRole('combobox', { name: 'Depot', exact: true }).click();
  await page.getByRole('option', { name: depot }).click();
  await dialog.getByLabel('Bin', { exact: true }).fill(bin);
  await dialog.getByLabel('Units').fill(units);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(new RegExp(`^${part}: \\d+ at ${depot} now\\.$`))).toBeVisible();
};

test('pads of the wrong axle are caught before they are ordered, and so is what the supplier does not sell', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'parts');
  await parts(page, app, 'orders', 'Creamery yard');
  const order = page.getByRole('region', { name: /^Order PO-/ });
  const dialog = page.getByRole('dialog');
  const add = async (number: string) => {
    await dialog.getByLabel('Add a part by its number').fill(number);
    await dialog.getByRole('button', { name: 'Add', exact: true }).click();
    await dialog.getByRole('button', { name: 'Save the change' }).click();
  };
  const leaveOut = (number: string) =>
    dialog.getByRole('listitem').filter({ hasText: number }).getByRole('button', { name: 'Leave out' }).click();
  await order.getByRole('button', { name: 'Look over, approve …' }).click();
  await add('PD-XX-9');
  await expect(dialog).toContainText('There is no part PD-XX-9 in the catalogue');
  await leaveOut('PD-XX-9');
  await add('RT-OC3-1');
  await expect(dialog).toContainText('RT-OC3-1 comes in packs of 2');
  await leaveOut('RT-OC3-1');
  // T06 waits for the front; somebody orders the third axle's.
  await add('pd-v2t-3');
  await expect(order).toContainText('PD-V2T-3 fits another axle: T06 needs a brake pad at axle 1.');
  await order.getByRole('button', { name: 'Look over, approve …' }).click();
  await dialog.getByRole('button', { name: /^Approve and send/ }).click();
  await expect(dialog).toContainText('Why it is right is needed, or other lines.');
  await leaveOut('PD-V2T-3');
  await dialog.getByRole('button', { name: 'Save the change' }).click();
  await expect(order).not.toContainText('fits another axle');
});

test('from a proposal to a part that is used: approved, promised, received against its measures, picked', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'parts');
  // Signing in leads to the day.
  await expect(page.getByRole('heading', { name: 'Parts', exact: true })).toBeVisible();
  const short = page.getByRole('region', { name: 'Short' });
  await expect(short.getByRole('link', { name: 'T06' })).toBeVisible();
  await expect(short).toContainText('brake pad axle 1 PD-V2T-1: 1 unit short, none on order');
  await page.getByRole('button', { name: 'Look over and approve' }).click();
  await page
    .getByRole('navigation', { name: 'Orders' })
    .getByRole('button', { name: /Creamery yard/ })
    .first()
    .click();
  const order = page.getByRole('region', { name: /^Order PO-/ });
  await expect(order).toContainText('PD-V2T-1');
  await order.getByRole('button', { name: 'PD-V2T-1: why' }).click();
  await expect(page.getByText(/^Reorder point \d+: that many suffice over the lead time with [\d.]+ %/)).toBeVisible();
  await page.keyboard.press('Escape');

  // One more set than proposed; first saved, then approved.
  await order.getByRole('button', { name: 'Look over, approve …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Units of PD-V2T-1').fill('3');
  await dialog.getByRole('button', { name: 'Save the change' }).click();
  await expect(order.getByRole('listitem').filter({ hasText: 'PD-V2T-1' }).first()).toContainText('3');
  await order.getByRole('button', { name: 'Look over, approve …' }).click();
  await dialog.getByRole('button', { name: /^Approve and send/ }).click();
  await expect(order).toContainText('the supplier has it', { timeout: 120_000 });
  await expect(order).toContainText('promised 2');

  await order.getByRole('button', { name: 'Receive …' }).click();
  const pads = dialog.getByRole('listitem').filter({ hasText: 'PD-V2T-1' });
  await pads.getByLabel('Units that came').fill('4');
  await pads.getByLabel('Into bin').fill('q-01');
  await pads.getByLabel('Thickness, mm').fill('17');
  await dialog.getByRole('button', { name: 'Put 1 line on the shelf' }).click();
  await expect(pads).toContainText('3 were ordered and 0 came before; up to 3 is accepted');
  await expect(pads).toContainText('the wrong part, or another axle’s?');
  await pads.getByLabel('Units that came').fill('3');
  await pads.getByLabel('Thickness, mm').fill('');
  const retainers = dialog.getByRole('listitem').filter({ hasText: 'PR-V2T-1' });
  await retainers.getByLabel('Units that came').fill('2');
  await retainers.getByLabel('Into bin').fill('q-02');
  await dialog.getByRole('button', { name: 'Put 2 lines on the shelf' }).click();
  await expect(page.getByText('2 lines of PO-', { exact: false })).toBeVisible();

  // Its kit is complete now; picked by scanning, it is the job's.
  await expect.poll(async () => (await kitOf(page, app, 'T06'))?.state).toBe('complete');
  const kit = await kitOf(page, app, 'T06');
  await page.goto(`${app.url}/jobs/${kit?.jobId ?? ''}`);
  const own = page.getByRole('region', { name: 'Kit' });
  await own.getByRole('button', { name: 'Pick it …' }).click();
  const scan = dialog.getByLabel('Scan or type a part number');
  await scan.fill('PD-V2T-2');
  await scan.press('Enter');
  await expect(dialog.getByRole('alert')).toContainText('PD-V2T-2 is not of this kit');
  await scan.fill('pd-v2t-1');
  await scan.press('Enter');
  await dialog.getByRole('button', { name: 'Tick all that lie there' }).click();
  await dialog.getByRole('button', { name: /^Take \d+ of \d+ lines$/ }).click();
  await expect(own).toContainText('1 × PD-V2T-1');
  await expect(own.getByRole('heading', { name: 'Picked' })).toBeVisible();
  // What is not needed goes back, and is wanted from the shelf again.
  await own
    .getByRole('listitem')
    .filter({ hasText: 'PD-V2T-1' })
    .last()
    .getByRole('button', { name: /^Put back in/ })
    .click();
  await expect(page.getByText('1 × PD-V2T-1 back in Q-01.')).toBeVisible();
});

test('a shortage: something else that fits is said to be that, and the coordinator sees what is short on Ahead', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const kit = (await kitsOf(page, app)).find(
    ({ needs, jobState, depot }) =>
      jobState === 'booked' &&
      depot !== '' &&
      needs.some(({ kind, options }) => kind === 'brake pad' && options.length > 1),
  );
  if (!kit) throw new Error('the demo has no booked job with two makers’ pads');
  const [first, second] = kit.needs.find(({ kind }) => kind === 'brake pad')?.options ?? [];
  await parts(page, app, 'shelves', kit.depot);
  await page.getByLabel('Part, name or bin').fill(first?.part ?? '');
  const rows = page.getByRole('row').filter({ has: page.getByRole('cell', { name: first?.part ?? '', exact: true }) });
  for (let left = await rows.count(); left > 0; left -= 1) {
    const units = await rows.first().getByRole('cell').nth(3).innerText();
    await rows.first().getByRole('button', { name: 'Move …' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('radio', { name: 'Scrap it' }).click();
    await dialog.getByLabel('Units').fill(units.trim());
    await dialog.getByLabel('Why').fill('wet');
    await dialog.getByRole('button', { name: 'Save' }).click();
    await expect(rows).toHaveCount(left - 1);
  }
  await receiveByHand(page, second?.part ?? '', '1', 'q-05', kit.depot);
  await page.goto(`${app.url}/jobs/${kit.jobId}`);
  await expect(page.getByRole('region', { name: 'Kit' })).toContainText(`there as ${second?.part ?? ''}`);
  // Under the road: what must be ordered today leads to the orders.
  await page.goto(app.url);
  await expect(page.getByText('kits short, by week')).toBeVisible();
});

test('nothing more comes of an order: said with its reason, and no longer waited for', async ({ page, app }) => {
  await signIn(page, app, 'parts');
  await page.goto(`${app.url}/parts`);
  await page.getByRole('region', { name: 'To receive' }).getByRole('button', { name: 'Receive …' }).first().click();
  const order = page.getByRole('region', { name: /^Order PO-/ });
  await order.getByRole('button', { name: 'No more comes …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'No more comes' }).click();
  await expect(dialog).toContainText('A reason of at least 3 characters is needed.');
  await dialog.getByLabel('Why').fill('the rest is out of stock');
  await dialog.getByRole('button', { name: 'No more comes' }).click();
  await expect(page.getByText(/^PO-\d+ is called off\.$/)).toBeVisible();
  await page.goto(`${app.url}/parts`);
  await expect(page.getByRole('region', { name: 'To receive' })).toContainText('Nothing is on its way.');
});

test('a count with a difference: the record follows, and says by how much', async ({ page, app }) => {
  await signIn(page, app, 'parts');
  await parts(page, app, 'shelves', 'Northfold');
  await page.getByLabel('Part, name or bin').fill('BC-500');
  const row = page.getByRole('row').filter({ hasText: 'BC-500' }).first();
  const before = Number((await row.getByRole('cell').nth(3).innerText()).trim());
  await row.getByRole('button', { name: 'Count …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).not.toContainText(`${before} by the record`);
  await dialog.getByLabel('How many lie there?').fill('two');
  await expect(dialog).toContainText('A whole number, nought or more, is accepted.');
  await dialog.getByLabel('How many lie there?').fill(String(before - 2));
  await dialog.getByLabel('How many lie there?').press('Enter');
  await expect(page.getByText(/: 2 fewer than on record; the record follows\.$/)).toBeVisible();
  await expect(row.getByRole('cell').nth(3)).toHaveText(String(before - 2));
});

test('two pickers want the last one: one gets it, the other is told who has it', async ({ page, app, browser }) => {
  await signIn(page, app);
  const booked = (await kitsOf(page, app)).filter(({ jobState }) => jobState === 'booked' || jobState === 'in work');
  const kit = booked.find(({ unit }) => unit !== 'T06');
  if (!kit) throw new Error('the demo has no job to pick for');
  await parts(page, app, 'shelves', kit.depot);
  // Hub film: of no kit by itself here; the last tube is put in, and both ask for it.
  const film = 'HF-75';
  const ask = (one: Page) =>
    one.request.post(`${app.url}/api/stock/picks`, {
      headers: { 'content-type': 'application/json' },
      data: { id: crypto.randomUUID(), jobId: kit.jobId, lines: [{ part: film, units: 1 }] },
    });
  const other = await (await browser.newContext()).newPage();
  await signIn(other, app, 'technician');
  let taken = 0;
  for (let answer = await ask(page); answer.ok(); answer = await ask(page)) taken += 1;
  expect(taken).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Receive without an order …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Part number').fill(film);
  await dialog.getByRole('combobox', { name: 'Depot', exact: true }).click();
  await page.getByRole('option', { name: kit.depot }).click();
  await dialog.getByLabel('Bin', { exact: true }).fill('q-07');
  await dialog.getByLabel('Last day it may be used').fill('1 Nov 2026');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('It expired on 2026-11-01');
  await dialog.getByLabel('Last day it may be used').fill('1 Nov 2027');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(`${film}: 1 at ${kit.depot} now.`)).toBeVisible();
  const answers = await Promise.all([ask(page), ask(other)]);
  expect(answers.map((answer) => answer.status()).sort()).toEqual([201, 409]);
  const refused = answers.find((answer) => answer.status() === 409);
  expect(((await refused?.json()) as { detail: string }).detail).toMatch(/is left here; the last went to .* for /);
});

test('what is needed is told with how it comes about; a viewer sees it and can move nothing', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await parts(page, app, 'need', 'Northfold');
  await expect(page.getByRole('heading', { name: 'How these figures come about' })).toBeVisible();
  await expect(page.getByText(/^Reorder point \d+: that many suffice/)).toBeVisible();
  await parts(page, app, 'shelves', 'Northfold');
  await expect(page.getByRole('table')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Count …' })).toHaveCount(0);
  await parts(page, app, 'record');
  await expect(page.getByRole('columnheader', { name: 'Wears' })).toBeVisible();
});

test('a part is put in the catalogue; what can’t be so is said at its field', async ({ page, app }) => {
  await signIn(page, app, 'parts');
  await parts(page, app, 'catalogue');
  await page.getByRole('button', { name: 'Add a part …' }).click();
  const dialog = page.getByRole('dialog');
  for (const [label, value] of [
    ['Own number', 'pd-new-1'],
    ['Name', 'Pad set, another maker'],
    ['Maker', 'Marrowby Friction'],
    ['Pieces a unit holds', '3'],
  ])
    await dialog.getByLabel(label ?? '', { exact: true }).fill(value ?? '');
  await dialog.getByRole('button', { name: 'One more supplier' }).click();
  await dialog.getByLabel('Price, USD').fill('48,50');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('A brake pad comes by 1, 2 or 4; that is accepted.');
  await expect(dialog).toContainText('At least one model that it fits is needed.');
  await dialog.getByLabel('Pieces a unit holds').fill('4');
  await dialog.getByRole('button', { name: 'One more model' }).click();
  await dialog.getByRole('combobox', { name: 'Model' }).click();
  await page.getByRole('option', { name: 'Ostrey Carrier 35' }).click();
  await dialog.getByLabel('Axle').fill('2');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('pd-new-1 is in the catalogue.')).toBeVisible();
  await page.getByLabel('Number, name, model or maker').fill('pd-new');
  await expect(page.getByRole('row').filter({ hasText: 'PD-NEW-1' })).toContainText('48.50 USD');
  // And whoever sells parts.
  await page.getByRole('button', { name: 'Add a supplier …' }).click();
  await dialog.getByLabel('Name').fill('Alder Wharf Parts');
  await dialog.getByLabel('Currency (USD, EUR …)').fill('dollars');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('A price has a currency, as USD or EUR.');
  await dialog.getByLabel('Currency (USD, EUR …)').fill('usd');
  await dialog.getByLabel('Days from order to shelf').fill('4');
  await dialog.getByLabel('Freight', { exact: true }).fill('12,50');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('region', { name: 'Suppliers' })).toContainText('Alder Wharf Parts');
  await expect(page.getByRole('region', { name: 'Suppliers' })).toContainText('12.50 USD');
});
