import { withCameraOn } from '../support/camera.ts';
import { begin, expectationOf, keep, readingsOf, sent, tap, VERNIER } from '../support/capture.ts';
import { photoWithExif } from '../support/photo.ts';
import { expect, signIn, test } from '../support/app.ts';

/** Capture in the bay, on a tablet: wheel by wheel, doubted at once, kept without a network, sent once. */

test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true });

test('a tanker of six wheel ends is walked around by taps, every target at least 48 px', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  const started = Date.now();
  await begin(page, 'T02', { gauge: VERNIER });
  let taps = 2;
  for (const wheel of [
    'Axle 1, left',
    'Axle 2, left',
    'Axle 3, left',
    'Axle 3, right',
    'Axle 2, right',
    'Axle 1, right',
  ]) {
    await expect(page.getByRole('heading', { name: wheel })).toBeVisible();
    // As the pads lie across the vehicle: the outer first at the left, last at the right.
    const pads = wheel.endsWith('left') ? ['outer', 'inner'] : ['inner', 'outer'];
    for (const pad of pads) {
      await expect(page.getByLabel(`${wheel}, ${pad} pad`)).toBeFocused();
      const figure = (await expectationOf(page, `${wheel}, ${pad} pad`)).toFixed(1);
      await tap(page, figure);
      await page
        .getByRole('button', { name: pad === pads[0] ? /^(Inner|Outer) pad$/ : /Next wheel|Review it/ })
        .click();
      taps += figure.length + 1;
    }
  }
  await expect(page.getByText('Not measured')).toHaveCount(0);
  await page.getByRole('button', { name: 'Save 12 readings' }).click();
  await sent(page);
  expect(await readingsOf(page, app, 'T02')).toHaveLength(12);
  // Under three minutes for a person: two seconds a tap are slow even with gloves on.
  expect(taps * 2).toBeLessThan(180);
  test.info().annotations.push({ type: 'taps', description: `${taps} taps, ${Date.now() - started} ms by machine` });
});

test('targets are large enough for gloves', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/measure/P03`);
  for (const step of ['Start', 'Axle 1, left', 'Review']) {
    await page.getByRole('button', { name: step, exact: true }).click();
    for (const target of await page.locator('main button:visible, main input:visible, main select:visible').all()) {
      const box = await target.boundingBox();
      expect(Math.max(box?.height ?? 0, 0), await target.innerText()).toBeGreaterThanOrEqual(48);
    }
  }
});

test('a suspicion is answered each of three ways, while typing', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'V11', { gauge: VERNIER });
  const field = (pad: string) => page.getByLabel(`Axle 1, left, ${pad} pad`);
  const usual = await expectationOf(page, 'Axle 1, left, outer pad');
  const withPlate = (usual + 6).toFixed(1);
  // Correct it: the figure is taken back and typed anew.
  await tap(page, withPlate);
  await expect(page.getByText('Was the backing plate included?')).toBeVisible();
  await page.getByRole('button', { name: 'Correct it', exact: true }).click();
  await expect(field('outer')).toHaveValue('');
  await expect(field('outer')).toBeFocused();
  await tap(page, usual.toFixed(1));
  await expect(page.getByRole('button', { name: 'Correct it', exact: true })).toHaveCount(0);
  // Measured twice, and it is so.
  await field('inner').fill(withPlate);
  await page.getByRole('button', { name: 'Measured twice, same result' }).click();
  await expect(page.getByText('Measured twice, same result.')).toBeVisible();
  // Left to the coordinator; nothing can be kept before that is said.
  await page.getByRole('button', { name: 'Axle 1, right' }).click();
  await page.getByLabel('Axle 1, right, outer pad').fill(withPlate);
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await expect(page.getByText('1 question to answer.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Save/ })).toBeDisabled();
  await page.getByRole('button', { name: 'axle 1, right, outer pad' }).click();
  await page.getByRole('button', { name: 'Leave to the coordinator' }).click();
  await keep(page, 3);
  await sent(page);
  const answers = (await readingsOf(page, app, 'V11')).map(({ answer }) => answer).sort();
  expect(answers).toEqual(['leave_to_coordinator', 'measured_twice', null]);
});

test('an odometer that runs ahead is asked about, and undo takes back touch by touch', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'P04', { gauge: VERNIER, ahead: 9000 });
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(page.getByText(/Runs ahead: about .* Was the odometer read rightly\?/)).toBeVisible();
  await page.getByRole('button', { name: 'Correct it', exact: true }).click();
  await expect(page.getByLabel('Odometer, mi')).toHaveValue('');
  await tap(page, '12');
  await expect(page.getByLabel('Odometer, mi')).toHaveValue('12');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Odometer, mi')).toHaveValue('1');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Odometer, mi')).toHaveValue('');
});

test('rotor, findings, a pad not seen and a photo go in with the thicknesses', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.getByRole('link', { name: 'Measure', exact: true }).click();
  await begin(page, 'P09', { gauge: VERNIER });
  await page
    .getByLabel('Axle 1, left, outer pad')
    .fill((await expectationOf(page, 'Axle 1, left, outer pad')).toFixed(1));
  await page.getByRole('button', { name: 'Could not see' }).nth(1).click();
  await page.getByRole('tab', { name: 'Rotor' }).click();
  await page.getByLabel('Thickness at 12 o’clock').focus();
  for (const mm of ['31.2', '31.1']) {
    await tap(page, mm);
    await page
      .getByRole('button', { name: /o’clock$/ })
      .last()
      .click();
  }
  await page.getByRole('button', { name: 'Runout', exact: true }).click();
  for (const [hour, value] of [
    ['12', '0'],
    ['1:30', '3'],
    ['3', '6'],
    ['4:30', '8'],
    ['6', '7'],
    ['7:30', '4'],
    ['9', '1'],
    ['10:30', '0'],
  ] as const)
    await page.getByLabel(`Runout at ${hour} o’clock`).fill(value);
  await expect(page.getByText(/once a turn, high at 5 o’clock/)).toBeVisible();
  await page.getByRole('tab', { name: 'Found' }).click();
  await page.getByRole('group', { name: 'Boots' }).getByRole('button', { name: 'torn' }).click();
  await expect(page.getByText(/To be mended before its next use: pins cleaned and greased, pin boots/)).toBeVisible();
  await page.getByRole('tab', { name: 'Photo' }).click();
  // A photo with a place in its EXIF, as a phone takes it.
  await page.getByLabel('Take a photo').setInputFiles({
    name: 'wheel.jpg',
    mimeType: 'image/jpeg',
    buffer: await photoWithExif(page),
  });
  await expect(page.getByAltText('Photo of this wheel')).toBeVisible();
  await keep(page, 1);
  await sent(page);
  await page.goto(`${app.url}/vehicles/P09`);
  await expect(page.getByText('inner pad could not be seen')).toBeVisible();
  await expect(page.getByText('boots: torn')).toBeVisible();
  await expect(page.getByRole('img', { name: /Thinnest 31\.10 mm/ })).toBeVisible();
  const photo = page.getByAltText(/^Axle 1 left/);
  const bytes = await (await page.request.get(app.url + ((await photo.getAttribute('src')) ?? ''))).body();
  expect(bytes.subarray(0, 2).toString('hex')).toBe('ffd8');
  expect(bytes.includes(Buffer.from('Exif'))).toBe(false);
});

test('a label is printed, and scanned by the camera', async ({ app, page }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/labels`);
  await page.getByLabel('Unit').fill('T07');
  await expect(page.getByAltText('Code of T07')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Print 1 label' })).toBeEnabled();
  await withCameraOn(`${app.url}/measure/T07`, async (camera) => {
    await signIn(camera, app, 'technician');
    await camera.getByRole('link', { name: 'Measure', exact: true }).click();
    await camera.getByRole('button', { name: 'Scan label' }).click();
    await expect(camera.getByRole('heading', { name: 'T07', exact: true })).toBeVisible();
    await expect(camera).toHaveURL(/measure\/T07$/);
  });
});
