import { choose } from '../support/choose.mjs';
import { digitalGauge } from '@mile-mark/standins';
import { expect, fixture, signIn, test } from '../support/app.ts';

/** Several technicians, one truth: what the demo's gauges tell, and what is done about it. */

test('the screen says which gauge reads high and which is coarse, and blames nobody', async ({ page, app }) => {
  await signIn(page, app);
  await page.getByRole('link', { name: 'Gauges & technicians' }).click();
  const help = page.getByRole('listitem').filter({ hasText: 'Digital depth gauge 3' }).filter({ hasText: 'Reads' });
  await expect(help).toContainText(/Reads 0\.\d\d mm high in the hands of 3 people: it is the gauge/);
  await expect(page.getByText('Reads in steps of 1.00 mm')).toBeVisible();
  await expect(page.getByText(/Dag Pellworth .*(bad|worst|poor|wrong)/i)).toHaveCount(0);
  await page.getByRole('button', { name: /Dag Pellworth with Digital depth gauge 3: .*why/ }).click();
  await expect(page.getByText('Against the mean of all appraisers')).toBeVisible();
});

test('a technician sees their own appraisers only', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/gauges`);
  await expect(page.getByRole('heading', { name: 'How you read' })).toBeVisible();
  await expect(page.getByRole('cell', { name: /Tobi Varga/ }).first()).toBeVisible();
  await expect(page.getByText('Dag Pellworth')).toHaveCount(0);
});

test('with pooling switched off the marks differ, and rightly: the high gauge promises too much', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const answer = await page.request.get(`${app.url}/api/vehicles/P08`);
  const { readings } = (await answer.json()) as { readings: { gauge: string; axle: number }[] };
  expect(readings[0]?.gauge).toBe('Digital depth gauge 3');
  await page.goto(`${app.url}/vehicles/P08`);
  await page.getByRole('button', { name: 'Compare without pooling' }).click();
  await expect(page.getByText(/\d+ days too late/).first()).toBeVisible();
  // Each reading on its way to one value: what it reads high by is taken off, and the weights make a whole.
  const row = page.getByRole('row').filter({ hasText: 'Dag Pellworth' }).filter({ hasText: '%' }).first();
  const cells = await row.getByRole('cell').allTextContents();
  const [, read, high, worn, today] = cells.map((text) => Number(text.replace('−', '-')));
  expect(high).toBeGreaterThan(0.3);
  expect((read ?? 0) - (high ?? 0) - (worn ?? 0)).toBeCloseTo(today ?? NaN, 1);
});

test('a gauge study goes from plan to verdict', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/gauges?view=studies`);
  await page.getByLabel('Name').fill('Vernier in two appraisers');
  await choose(page.locator('form').filter({ hasText: 'Plan a study' }).getByLabel('Gauge'), 'Vernier, Creamery yard');
  await page.getByLabel('Pads, worn to all degrees').fill('4');
  await page.getByLabel('How often each').fill('2');
  await page.getByLabel('Tobi Varga').check();
  await page.getByLabel('Petra Lindmoor').check();
  await page.getByLabel('Seed of the random order').fill('77');
  await expect(page.getByText('16 measurements')).toBeVisible();
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByText('order by seed 77')).toBeVisible();
  // Two gauges of the same make in two appraisers: one reads 0.3 mm higher.
  const appraisers = {
    'Tobi Varga': digitalGauge({ unit: 'mm', step: 0.1, biasMm: 0, repeatabilityMm: 0.06, seed: 1 }),
    'Petra Lindmoor': digitalGauge({ unit: 'mm', step: 0.1, biasMm: 0.3, repeatabilityMm: 0.06, seed: 2 }),
  };
  for (let run = 1; run <= 16; run += 1) {
    await expect(page.getByText(`Measurement ${run} of 16`)).toBeVisible();
    const told = (await page.getByText(/^(Tobi Varga|Petra Lindmoor): Pad \d$/).textContent()) ?? '';
    const [who, pad] = told.split(': Pad ') as [keyof typeof appraisers, string];
    await page.getByLabel('Thickness, mm').fill(appraisers[who].press(2 + 2 * Number(pad)).trim());
    await page.keyboard.press('Enter');
  }
  await page
    .getByRole('radio', { name: 'Result' })
    .or(page.getByRole('button', { name: 'Result' }))
    .first()
    .click();
  await expect(page.getByRole('heading', { name: /Fit to decide.* at a limit of 3 mm/ })).toBeVisible();
  await expect(page.getByText('Most of it is between people')).toBeVisible();
  await expect(page.getByRole('row', { name: /technician × part/ })).toBeVisible();
});

test('the published study is taken in and has its figures', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/gauges?view=studies`);
  await page.getByLabel('Study as CSV').setInputFiles(fixture('gauge-study.csv'));
  await page.getByLabel('Values are deviations from known true thicknesses').check();
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('row', { name: /^GRR 0\.3024 0\.3058/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^ndc 4\.8605 5\.0937/ })).toBeVisible();
  await page.getByText('kept', { exact: true }).click();
  await expect(page.getByRole('row', { name: /^GRR 0\.3132/ })).toBeVisible();
});

test('questions are worked through with the keyboard, and each answer is kept with who', async ({ page, app }) => {
  await signIn(page, app);
  await page.getByRole('link', { name: /^Questions/ }).click();
  const heading = page.getByRole('heading', { name: /questions? open/ });
  const count = async () => Number(/(\d+) question/.exec((await heading.textContent()) ?? '')?.[1]);
  const before = await count();
  expect(before).toBeGreaterThan(3);
  const chosen = page.locator('[aria-current="true"]');
  /** Goes on to a doubted reading; an odometer has two answers only. */
  const toReading = async () => {
    while (!/Axle \d/.test((await chosen.textContent()) ?? '')) await page.keyboard.press('j');
  };
  await toReading();
  const first = (await chosen.textContent()) ?? '';
  await page.keyboard.press('j');
  await expect(chosen).not.toHaveText(first);
  await page.keyboard.press('k');
  await expect(chosen).toHaveText(first);
  const unit = /^[PVT]\d\d/.exec(first)?.[0] ?? '';
  /** Settles the chosen question: it goes. Others may come or go with it, by what the answer taught. */
  const settles = async (act: () => Promise<void>) => {
    await toReading();
    const own = (await chosen.textContent()) ?? '';
    const row = page.getByRole('listitem').filter({ hasText: own });
    await expect(row).toHaveCount(1);
    await act();
    await expect(row).toHaveCount(0);
  };
  await settles(() => page.keyboard.press('1'));
  await settles(() => page.keyboard.press('4'));
  await settles(async () => {
    await page.keyboard.press('2');
    await expect(page.locator('[data-value]')).toBeFocused();
    await page.locator('[data-value]').fill('7.7');
    await page.keyboard.press('Enter');
  });
  await page.goto(`${app.url}/vehicles/${unit}`);
  const answer = await page.request.get(`${app.url}/api/vehicles/${unit}`);
  const { readings } = (await answer.json()) as { readings: { settled: { by: string; answer: string } | null }[] };
  expect(readings.map(({ settled }) => settled).filter(Boolean)).toContainEqual(
    expect.objectContaining({ by: 'Maren Ashdown', answer: 'it_is_so' }),
  );
  // What is to be measured again is asked for in the bay.
  await page.goto(`${app.url}/measure`);
  await expect(page.getByText(/asks .*measure it again/).first()).toBeVisible();
});

test('a wrong odometer is mended in one step, with a reason; the old entry stays to be seen', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/V05`);
  const odometer = page.getByRole('button', { name: /^Odometer \d+ mi of .*: correct$/ }).first();
  const before = Number(/Odometer (\d+) mi/.exec((await odometer.getAttribute('aria-label')) ?? '')?.[1]);
  await odometer.click();
  await page.getByLabel('As it should have been').fill('9 mi');
  await page.getByLabel('Why', { exact: true }).fill('read the wrong dial');
  await page.getByRole('button', { name: 'Correct it' }).click();
  await expect(page.getByText(/an odometer doesn't fall/)).toBeVisible();
  await page.getByLabel('As it should have been').fill(`${before - 20} mi`);
  await page.getByRole('button', { name: 'Correct it' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`^Odometer ${before - 20} mi`) }).first()).toBeVisible();
  await expect(page.locator('.line-through').first()).toBeVisible();
});

test('Records tells whether past forecasts kept their word, also to a viewer', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await page.getByRole('link', { name: 'Records' }).click();
  await expect(page.getByRole('heading', { name: 'How past forecasts came out' })).toBeVisible();
  await expect(page.getByText(/\d+\s% nearer than a line through the last two readings/)).toBeVisible();
  await expect(page.getByRole('row', { name: /^heavy [\d,]+ \d+ %/ })).toBeVisible();
  // Forecasts of half a year and a year ago, class by class, and what forecasts take for granted.
  await expect(page.getByRole('row', { name: /^heavy trucks, farther ahead [\d,]+ [\d,]+ \d+ % \d+ %/ })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'What the forecasts take for granted' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Errors are as wide as was said/ })).toBeVisible();
});
