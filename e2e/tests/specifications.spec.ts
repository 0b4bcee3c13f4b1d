import { choose } from '../support/choose.mjs';
import type { Route } from '@playwright/test';
import { expect, keptOnDevice, signIn, test } from '../support/app.ts';
import { declareSpecificationWalks, rowOf, sheetOf, view, waiting } from '../support/specificationWalks.ts';

/** Specifications at a desk: looked up, entered by one and released by another, held against the benches, exchanged. */

/** How many pages a PDF has. */
const pagesOf = (pdf: Buffer) => (pdf.toString('latin1').match(/\/Type\s*\/Page(?![a-z])/g) ?? []).length;

declareSpecificationWalks({ width: 1280, height: 800 });

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

test('a sheet of many joints still prints on one page', async ({ page, browser, app }) => {
  await signIn(page, app);
  const second = await (await browser.newContext()).newPage();
  await signIn(second, app, 'technician');
  const items = async <T>(path: string) =>
    ((await (await page.request.get(`${app.url}/api/${path}`)).json()) as { items: T[] }).items;
  const model = (await items<{ id: string; name: string }>('library')).find(
    ({ name }) => name === 'Veldring 26 tanker',
  );
  const kind = (await items<{ id: string; name: string }>('joint-kinds')).find(({ name }) => name === 'Rotor bolt');
  const torque = { unit: 'N·m', least: 76, nominal: 80, most: 84, passes: [20, 40] };
  for (let i = 1; i <= 9; i += 1) {
    const id = crypto.randomUUID();
    const entered = await page.request.post(`${app.url}/api/specifications`, {
      data: {
        id,
        modelId: model?.id,
        axle: 2,
        jointKindId: kind?.id,
        position: `ring ${i}`,
        values: {
          about: 'joint',
          fastener: { thread: 'M12x1.5', headKind: 'hex', headSize: '18 mm', count: 8 },
          torque,
          pattern: 'crosswise',
          note: 'Threads blown out; no oil on the face of the ring.',
        },
        source: {
          document: 'Veldring 26 service book, axles (invented)',
          page: '30',
          revision: '2023',
          date: '2023-09-30',
        },
      },
    });
    expect(entered.status()).toBe(201);
    const released = await second.request.post(`${app.url}/api/specification-revisions/${id}/releases`, {
      data: { id: crypto.randomUUID(), typed: { about: 'joint', torque } },
    });
    expect(await released.json()).toMatchObject({ released: true });
  }
  await page.goto(`${app.url}/specifications?unit=T07&axle=2`);
  await expect(sheetOf(page, 'T07', 2)).toContainText('Rotor bolt, ring 9');
  const margin = { top: '10mm', bottom: '10mm', left: '10mm', right: '10mm' };
  for (const format of ['A4', 'Letter']) expect(pagesOf(await page.pdf({ format, margin }))).toBe(1);
  await page.setViewportSize({ width: 740, height: 980 });
  await page.emulateMedia({ media: 'print' });
  const box = await sheetOf(page, 'T07', 2).boundingBox();
  expect((box?.y ?? 999) + (box?.height ?? 999)).toBeLessThan(980);
  await second.context().close();
});

test('the depot’s next jobs stand ready, and a vehicle of another depot is looked up all the same', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/specifications`);
  await choose(page.getByLabel('Depot'), 'Northfold');
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
  await expect(page.getByText(/6\d vehicles of .* are kept on this device/)).toBeVisible();
  await keptOnDevice(page);
  await context.setOffline(true);
  await page.reload();
  await page.getByLabel(/^Unit number, and axle/).fill('V03 1');
  await page.keyboard.press('Enter');
  await expect(sheetOf(page, 'V03', 1)).toContainText('170 N·m');
  await expect(page.getByText(/No network: what this device kept on \d{1,2} \w+ \d{4} at \d\d:\d\d/)).toBeVisible();
  await page.getByLabel(/^Unit number, and axle/).fill('X99');
  await page.keyboard.press('Enter');
  await expect(page.getByText('X99 is not kept on this device')).toBeVisible();
  await context.setOffline(false);
});

test('what is entered is judged at the field, and nobody releases their own', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'library');
  await page.getByRole('button', { name: /^Ostrey Carrier 35/ }).click();
  await choose(page.getByLabel('Another joint'), 'Sensor or harness screw');
  await page.getByRole('button', { name: 'Enter it …' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Which, if there are several').fill('hose bracket');
  await form.getByLabel('Thread').fill('M8');
  await choose(form.getByLabel('Head', { exact: true }), 'hex');
  await form.getByLabel('Head size').fill('8 mm');
  await expect(form.getByText('A head outside is wider than its thread')).toBeVisible();
  await form.getByLabel('Head size').fill('13 mm');
  await form.getByLabel('Torque, least').fill('30');
  await expect(form.getByText('The unit of the document must be chosen.')).toBeVisible();
  await choose(form.getByLabel('Unit of the document'), 'N·m');
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

test('what is typed stays while the server fails, and goes in when it is back', async ({ page, app }) => {
  await signIn(page, app);
  await view(page, app, 'library');
  await page.getByRole('button', { name: /^Ostrey Carrier 35/ }).click();
  await choose(page.getByLabel('Another joint'), 'Sensor or harness screw');
  await page.getByRole('button', { name: 'Enter it …' }).last().click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Which, if there are several').fill('lamp bracket');
  await form.getByLabel('Thread').fill('M6');
  // Every answer fails or breaks off; coming back to the window asks for everything again.
  const failing = (route: Route) =>
    /models|library/.test(route.request().url())
      ? route.fulfill({ contentType: 'application/json', body: '{"items": [' })
      : route.fulfill({ status: 503, body: '' });
  await page.route('**/api/**', failing);
  let asked = 0;
  page.on('response', (response) => (asked += response.url().includes('/api/') ? 1 : 0));
  await expect
    .poll(async () => {
      await page.evaluate(() => window.dispatchEvent(new Event('visibilitychange')));
      return asked;
    })
    .toBeGreaterThan(2);
  await form.getByLabel('Torque, nominal').fill('9');
  await choose(form.getByLabel('Unit of the document'), 'N·m');
  await form.getByLabel('Document', { exact: true }).fill('Carrier repair leaflet 30-2 (invented)');
  await form.getByLabel('Page').fill('9');
  await form.getByLabel('Its revision').fill('4');
  await form.getByLabel('Its date').fill('2024-02-12');
  await form.getByRole('button', { name: 'Enter it' }).click();
  await expect(form.getByText(/nothing was saved/)).toBeVisible();
  await expect(form.getByLabel('Which, if there are several')).toHaveValue('lamp bracket');
  await page.unroute('**/api/**', failing);
  await form.getByRole('button', { name: 'Enter it' }).click();
  await expect(page.getByText('Entered. It counts once somebody else has typed and released it.')).toBeVisible();
  await view(page, app, 'to-release');
  await expect(waiting(page, 'Ostrey Carrier 35, axle 1: Sensor or harness screw, lamp bracket')).toHaveCount(1);
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
  await choose(page.getByLabel('A vehicle that is of this variant'), 'P20');
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
  await choose(page.getByLabel('Brakes'), 'air');
  await page.getByRole('button', { name: /^Enter it/ }).click();
  await expect(page.getByText('A thickness such as 3.2 is needed.')).toBeVisible();
  await page.getByLabel('Lining, mm').fill('3,5');
  await page.getByLabel('Source').fill('County order 7 (invented)');
  await page.getByLabel('Its revision').fill('2026');
  await page.getByRole('button', { name: /^Enter it/ }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Linden vale county' })).toContainText('at least 3.5 mm');
});
