import type { Page } from '@playwright/test';
import { withCameraOn } from '../support/camera.ts';
import { expect, signIn, test, type App } from '../support/app.ts';

/** Specifications: looked up, entered by one and released by another, held against the benches, and exchanged. */

const sheetOf = (page: Page, unit: string, axle: number) =>
  page.getByRole('article', { name: `Bench sheet ${unit}, axle ${axle}` });
const rowOf = (page: Page, joint: string) =>
  page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: joint }) });
const waiting = (page: Page, name: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('heading', { name }) });
const view = async (page: Page, app: App, name: string) => page.goto(`${app.url}/specifications?view=${name}`);
/** How many pages a PDF has. */
const pagesOf = (pdf: Buffer) => (pdf.toString('latin1').match(/\/Type\s*\/Page(?![a-z])/g) ?? []).length;

test('a sheet is looked up by keyboard alone, shows both units and the wrench, and prints on one page', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Specifications' }).click();
  await expect(page.getByLabel(/^Unit number, and axle/)).toBeFocused();
  await page.keyboard.type('p06 2');
  await page.keyboard.press('Enter');
  await expect(sheetOf(page, 'P06', 2)).toBeVisible();
  const bolt = rowOf(page, 'Bracket bolt');
  await expect(bolt).toContainText('80 lbf·ft');
  await expect(bolt).toContainText('108 N·m');
  await expect(bolt).toContainText('18 mm');
  await expect(bolt).toContainText('medium thread locker');
  await expect(bolt).toContainText('Creamery half-inch, set to 108 N·m');
  await expect(rowOf(page, 'Guide pin bolt')).toContainText('New each time');
  await page.keyboard.press('Escape');
  await page.keyboard.press('ArrowLeft');
  await expect(sheetOf(page, 'P06', 1)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('t04 1');
  await page.keyboard.press('Enter');
  const sheet = sheetOf(page, 'T04', 1);
  await expect(sheet).toBeVisible();
  for (const format of ['A4', 'Letter']) {
    const margin = { top: '10mm', bottom: '10mm', left: '10mm', right: '10mm' };
    expect(pagesOf(await page.pdf({ format, margin }))).toBe(1);
  }
  // What is printed is all of it: on paper the sheet is no taller than a Letter page, and nothing of it is cut off.
  await page.setViewportSize({ width: 740, height: 980 });
  await page.emulateMedia({ media: 'print' });
  const box = await sheet.boundingBox();
  expect((box?.y ?? 999) + (box?.height ?? 999)).toBeLessThan(980);
  await expect(sheet).toContainText('The maker’s instructions, local codes and licensed practice come first');
});

test('a label is scanned on a tablet, and its sheet opens', async ({ app }) => {
  const tablet = { width: 1024, height: 768 };
  await withCameraOn(
    `${app.url}/measure/T07`,
    async (page) => {
      await signIn(page, app, 'technician');
      await page.goto(`${app.url}/specifications`);
      await page.getByRole('button', { name: 'Scan label' }).click();
      await expect(sheetOf(page, 'T07', 1)).toBeVisible();
      await page.getByRole('button', { name: 'Axle 3' }).click();
      await expect(sheetOf(page, 'T07', 3)).toContainText('Unknown: Pad retainer bolt');
      const small = await page
        .getByRole('main')
        .getByRole('button')
        .evaluateAll((buttons) =>
          buttons
            .filter(
              (one) =>
                one.getBoundingClientRect().height > 0 &&
                one.getBoundingClientRect().height < 48 &&
                !one.closest('[role="group"]'),
            )
            .map(({ textContent }) => textContent),
        );
      expect(small).toEqual([]);
      const wide = await page.evaluate(() => document.documentElement.scrollWidth);
      expect(wide).toBeLessThanOrEqual(tablet.width);
    },
    tablet,
  );
});

test('the yard’s next jobs stand ready, and a vehicle of another yard is looked up all the same', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/specifications`);
  await page.getByLabel('Yard').selectOption('Northfold');
  await expect(page.getByText(/\d\d vehicles of Northfold are kept on this device/)).toBeVisible();
  const first = page.getByRole('main').getByRole('listitem').getByRole('button').first();
  const [, unit = '', axle = ''] = /^(\S+) axle (\d)/.exec((await first.textContent()) ?? '') ?? [];
  await first.click();
  await expect(sheetOf(page, unit, Number(axle))).toContainText('bench of Northfold');
  await page.getByLabel(/^Unit number, and axle/).fill('P06 1');
  await page.keyboard.press('Enter');
  await expect(sheetOf(page, 'P06', 1)).toContainText('bench of Creamery yard');
  await page.getByLabel(/^Unit number, and axle/).fill('Z99');
  await page.keyboard.press('Enter');
  await expect(page.getByText('There is no vehicle Z99 on record')).toBeVisible();
});

test('a sheet opens without a network, and says since when it was kept', async ({ page, context, app }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/specifications`);
  await expect(page.getByText(/60 vehicles of .* are kept on this device/)).toBeVisible();
  await page.evaluate(async () => navigator.serviceWorker.ready.then(() => undefined));
  await context.setOffline(true);
  await page.reload();
  await page.getByLabel(/^Unit number, and axle/).fill('V03 1');
  await page.keyboard.press('Enter');
  await expect(sheetOf(page, 'V03', 1)).toContainText('170 N·m');
  await expect(page.getByText(/No network: what this device kept on \d{4}-/)).toBeVisible();
  await page.getByLabel(/^Unit number, and axle/).fill('X99');
  await page.keyboard.press('Enter');
  await expect(page.getByText('X99 is not kept on this device')).toBeVisible();
  await context.setOffline(false);
});

test('the second person types blind, is told what differs and not what it is, and releases through a cut network', async ({
  page,
  context,
  app,
}) => {
  const name = 'Tarnbrook Drover 4x4, axle 1: Bracket bolt';
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/specifications?unit=P06&axle=1`);
  await expect(rowOf(page, 'Bracket bolt')).toContainText('130 lbf·ft');
  await page.getByRole('radio', { name: /^To release/ }).click();
  const item = waiting(page, name);
  await expect(item).toContainText('entered by Maren Ashdown');
  await expect(item).not.toContainText('155');
  await item.getByRole('button', { name: 'Type it from the document' }).click();
  await item.getByLabel('Torque, nominal').fill('150');
  await item.getByRole('button', { name: 'Compare and release' }).click();
  await expect(item.getByText('The unit of the document must be chosen.')).toBeVisible();
  await item.getByLabel('Unit of the document').selectOption('lbf·ft');
  await item.getByLabel('Stated in another unit too').fill('210 Nm');
  await item.getByRole('button', { name: 'Compare and release' }).click();
  await expect(item.getByText('It is not released: Nominal differs')).toBeVisible();
  await expect(item).not.toContainText('155');
  // The network is cut between typing and releasing: nothing is half-released, and what was typed stays.
  await item.getByLabel('Torque, nominal').fill('155');
  await context.setOffline(true);
  await item.getByRole('button', { name: 'Compare and release' }).click();
  await expect(item.getByText('What you typed is still here')).toBeVisible();
  await context.setOffline(false);
  await item.getByRole('button', { name: 'Compare and release' }).click();
  await expect(page.getByText('Released: it counts from now on.')).toBeVisible();
  await expect(item).toHaveCount(0);
  await page.goto(`${app.url}/specifications?unit=P04&axle=1`);
  await expect(rowOf(page, 'Bracket bolt')).toContainText('155 lbf·ft');
  // Northfold's wrench ends at 130: only the adapter on an arm reaches, set by the arms' ratio.
  await expect(rowOf(page, 'Bracket bolt')).toContainText(
    'Northfold half-inch with Open end 21 mm on an arm in line, set to 128 lbf·ft',
  );

  // Every axle done on the old figure is flagged, and settled once: one by itself, the rest together with a reason.
  await view(page, app, 'changed');
  const change = page.getByRole('region', { name: 'Tarnbrook Drover 4x4, axle 1: Bracket bolt' });
  await expect(change).toContainText('Torque 130 lbf·ft → 155 lbf·ft');
  const jobs = change.getByRole('listitem');
  const before = await jobs.count();
  expect(before).toBeGreaterThan(5);
  const unit = (await jobs.first().getByRole('link').textContent()) ?? '';
  await jobs.first().getByLabel(`Note on ${unit}`).fill('155 reached, marked');
  await jobs.first().getByRole('button', { name: 'Checked: it holds' }).click();
  await expect(jobs).toHaveCount(before - 1);
  const together = change.getByRole('group', { name: 'All of them together' });
  await expect(together.getByRole('button', { name: 'Not needed' })).toBeDisabled();
  await together.getByLabel('Reason for all of them').fill('All bolts were marked at 155 by habit');
  await together.getByRole('button', { name: 'Not needed' }).click();
  await expect(page.getByText('No job waits')).toBeVisible();
  await view(page, app, 'library');
  await page.getByRole('button', { name: /^Tarnbrook Drover 4x4/ }).click();
  await page.getByRole('button', { name: 'Bracket bolt' }).click();
  await expect(
    page.getByText(/Revision 2: released, counts now.*typed again and released by Tobi Varga/),
  ).toBeVisible();
  await expect(page.getByText('Revision 1: replaced by a later one')).toBeVisible();
});

test('a document that contradicts itself is settled by whoever releases', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'to-release');
  const item = waiting(page, 'Ostrey Carrier 35, axle 2: Hose joint');
  await item.getByRole('button', { name: 'Type it from the document' }).click();
  await item.getByLabel('Unit of the document').selectOption('N·m');
  await item.getByLabel('Torque, nominal').fill('30');
  await item.getByLabel('Stated in another unit too').fill('27 ft-lb');
  await item.getByRole('button', { name: 'Compare and release' }).click();
  await expect(
    item.getByText(/Both of you typed alike, but the document contradicts itself.*differ by 22 %/),
  ).toBeVisible();
  await expect(item.getByRole('button', { name: 'Settle and release' })).toBeDisabled();
  await item.getByLabel('How is that known?').fill('The table on page 3 says 30 N·m');
  await item.getByRole('button', { name: 'Settle and release' }).click();
  await expect(page.getByText('Released: it counts from now on.')).toBeVisible();
  await page.goto(`${app.url}/specifications?unit=V03&axle=2`);
  await expect(rowOf(page, 'Hose joint')).toContainText('30 N·m');
});

test('what is entered is judged at the field, and nobody releases their own', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'library');
  await page.getByRole('button', { name: /^Ostrey Carrier 35/ }).click();
  await page.getByLabel('Another joint').selectOption('Sensor or harness screw');
  await page.getByRole('button', { name: 'Enter it …' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Which, if there are several').fill('hose bracket');
  await form.getByLabel('Thread').fill('M8');
  await form.getByLabel('Head', { exact: true }).selectOption('hex');
  await form.getByLabel('Head size').fill('8 mm');
  await expect(form.getByText('A head outside is wider than its thread')).toBeVisible();
  await form.getByLabel('Head size').fill('13 mm');
  await form.getByLabel('Torque, least').fill('30');
  await expect(form.getByText('The unit of the document must be chosen.')).toBeVisible();
  await form.getByLabel('Unit of the document').selectOption('N·m');
  await form.getByLabel('Torque, most').fill('20');
  await expect(form.getByText('30 is more than 20')).toBeVisible();
  await form.getByLabel('Torque, least').fill('');
  await form.getByLabel('Torque, most').fill('');
  await form.getByLabel('Torque, nominal').fill('200');
  await expect(form.getByText(/lies far outside what this fastener usually takes/)).toBeVisible();
  await form.getByRole('button', { name: 'Enter it' }).click();
  await expect(form.getByText('Confirm what is questioned above')).toBeVisible();
  await form.getByLabel('Torque, nominal').fill('20');
  await expect(form.getByText('20 N·m is 14.8 lbf·ft')).toBeVisible();
  await form.getByLabel('Document', { exact: true }).fill('Carrier repair leaflet 30-2 (invented)');
  await form.getByLabel('Page').fill('9');
  await form.getByLabel('Its revision').fill('4');
  await form.getByLabel('Its date').fill('2024-02-12');
  await form.getByRole('button', { name: 'Enter it' }).click();
  await expect(page.getByText('Entered. It counts once somebody else has typed and released it.')).toBeVisible();
  await view(page, app, 'to-release');
  const item = waiting(page, 'Ostrey Carrier 35, axle 1: Sensor or harness screw, hose bracket');
  await expect(item).toContainText('You entered it: somebody else must type it again');
  await expect(item.getByRole('button', { name: 'Type it from the document' })).toHaveCount(0);
  await item.getByRole('button', { name: 'Take it back …' }).click();
  await item.getByLabel(/^Why/).fill('entered to try it');
  await item.getByRole('button', { name: 'Take it back', exact: true }).click();
  await expect(item).toHaveCount(0);
});

test('a torque no wrench reaches is told before the job, and so is a lapsed calibration', async ({ page, app }) => {
  await signIn(page, app);
  // On the road, on the lane of a near job, and in the panel.
  await page.getByPlaceholder('Find unit /').or(page.getByLabel('Find a unit')).first().fill('T16');
  await expect(page.getByText('no wrench reaches').first()).toBeVisible();
  await expect(page.getByText('Northfold has no wrench for', { exact: false })).toBeVisible();
  await view(page, app, 'gaps');
  const nuts = page.getByRole('row').filter({ hasText: 'Wheel nut' }).filter({ hasText: 'Northfold' });
  await expect(nuts).toContainText(
    'The largest wrench ends at 176 N·m: a wrench that covers 650 N·m is needed, or a multiplier of 3.7 to 1 or more',
  );
  await expect(nuts).toContainText('In reach at Creamery yard, Saltmarsh depot');
  const lapsed = page.getByRole('row').filter({ hasText: 'Saltmarsh medium' });
  await expect(lapsed).toContainText('its calibration was due on 31 Oct 2026');
  await lapsed.getByRole('link', { name: 'Have it calibrated' }).click();
  await page.getByRole('button', { name: 'Tend Saltmarsh medium' }).click();
  await page.getByLabel('Next due').fill('2027-11-20');
  await page.getByRole('button', { name: 'Record the calibration' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Saltmarsh medium' })).toContainText('due 20 Nov 2027');

  await page.getByRole('button', { name: 'Put a tool on record …' }).click();
  const form = page.getByRole('dialog');
  await form.getByRole('radio', { name: 'multiplier' }).click();
  await form.getByLabel('Name').fill('Northfold multiplier');
  await form.getByLabel('Yard').selectOption('Northfold');
  await form.getByLabel('Output at most').fill('1000');
  await form.getByLabel('Calibration due').fill('2027-05-01');
  await form.getByRole('button', { name: 'Put on record' }).click();
  await expect(form.getByRole('alert')).toBeVisible();
  await form.getByLabel('Ratio, output over input').fill('4.5');
  await form.getByRole('button', { name: 'Put on record' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Northfold multiplier' })).toContainText('multiplier 4.5 to 1');
  await view(page, app, 'gaps');
  await expect(page.getByText('None: every released torque is in reach where it is needed.')).toBeVisible();
});

test('the calculator shows its formula', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await page.goto(`${app.url}/specifications`);
  await page.getByRole('button', { name: 'Calculator' }).click();
  const calculator = page.getByRole('region', { name: 'Calculator' });
  await calculator.getByRole('radio', { name: 'adapter' }).click();
  await calculator.getByLabel('L, grip to drive, mm').fill('450');
  await calculator.getByLabel('E, drive to fastener, mm').fill('50');
  await expect(calculator.getByText('Set 139.5 lbf·ft')).toBeVisible();
  await expect(calculator.getByText('155 × 450 ÷ (450 + 50)', { exact: false })).toBeVisible();
  await calculator.getByLabel('Torque at the fastener').fill('155');
  await expect(calculator.getByText('must be said')).toBeVisible();
});

test('a library file is looked at, its differences shown, and taken to wait for a second person', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await view(page, app, 'files');
  const csv = await (await page.request.get(`${app.url}/api/library.csv`)).text();
  expect(csv.split('\r\n')[0]).toContain('torque_nominal');
  const lines = csv.split('\r\n');
  const nut = lines.findIndex((line) => line.startsWith('Ostrey Carrier 35,1,Wheel nut'));
  const changed = lines.map((line, index) => (index === nut ? line.replace(',152,160,168,', ',157,165,173,') : line));
  changed.splice(changed.length - 1, 0, (lines[nut] ?? '').replace('Ostrey Carrier 35', 'Unheard-of Van'));
  await page
    .getByLabel('Library file, CSV or JSON')
    .setInputFiles({ name: 'their library.csv', mimeType: 'text/csv', buffer: Buffer.from(changed.join('\r\n')) });
  await expect(page.getByText(/1 differs, .*the same.*, 1 refused/)).toBeVisible();
  const row = page.getByRole('row').filter({ hasText: 'Ostrey Carrier 35, axle 1: Wheel nut' });
  await expect(row).toContainText('Torque 80, then 160 N·m (152 to 168) → 80, then 165 N·m (157 to 173)');
  await expect(page.getByRole('row').filter({ hasText: 'Unheard-of Van' })).toContainText(
    'There is no model “Unheard-of Van” on record here',
  );
  await page.getByRole('button', { name: 'Take 1 in' }).click();
  await expect(page.getByText('1 taken; it waits to be released.')).toBeVisible();
  await view(page, app, 'to-release');
  const item = waiting(page, 'Ostrey Carrier 35, axle 1: Wheel nut');
  await expect(item).toBeVisible();
  await item.getByRole('button', { name: 'Take it back …' }).click();
  await item.getByLabel(/^Why/).fill('only tried');
  await item.getByRole('button', { name: 'Take it back', exact: true }).click();
  await expect(item).toHaveCount(0);
});

test('a variant has specifications of its own, and a vehicle is said to be one', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'library');
  await page.getByRole('button', { name: /^Tarnbrook Drover 4x4/ }).click();
  await page.getByRole('button', { name: 'Fitment and variants …' }).click();
  await page.getByLabel('Drive').fill('rear');
  await page.getByLabel('Name of another variant').fill('Tarnbrook Drover 4x2');
  await page.getByRole('button', { name: 'Put it on record' }).click();
  await page.getByRole('button', { name: /^Tarnbrook Drover 4x2/ }).click();
  await page.getByRole('button', { name: 'Fitment and variants …' }).click();
  await page.getByLabel('A vehicle that is of this variant').selectOption('P20');
  await page.getByRole('button', { name: 'It is of this variant' }).click();
  await expect(page.getByText('P20 is a Tarnbrook Drover 4x2 from now on')).toBeVisible();
  await page.goto(`${app.url}/specifications?unit=P20&axle=1`);
  await expect(sheetOf(page, 'P20', 1)).toContainText('No joint of this axle has a released specification');
  await expect(sheetOf(page, 'P20', 1)).toContainText('Unknown: Wheel nut, Bracket bolt');
});

test('a local limit is entered with its source', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'limits');
  await page.getByLabel('Where it holds').fill('Linden vale county');
  await page.getByLabel('Brakes').selectOption('air');
  await page.getByRole('button', { name: /^Enter it/ }).click();
  await expect(page.getByText('A thickness such as 3.2 is needed.')).toBeVisible();
  await page.getByLabel('Lining, mm').fill('3,5');
  await page.getByLabel('Source').fill('County order 7 (invented)');
  await page.getByLabel('Its revision').fill('2026');
  await page.getByRole('button', { name: /^Enter it/ }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Linden vale county' })).toContainText('at least 3.5 mm');
});
