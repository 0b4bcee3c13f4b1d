import { choose } from '../support/choose.mjs';
import { expect, signIn, test } from '../support/app.ts';

/** Three stories a coordinator recognises, each walked from the finding to the decision, and what stands around them. */

test('a route changed: found in the readings, its duty stated from that day, and the finding goes', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.getByRole('link', { name: /^Questions/ }).click();
  const item = page.getByRole('listitem').filter({ has: page.getByRole('link', { name: 'V08', exact: true }) });
  const card = item.getByRole('article', { name: /All its pads wear 2\.\d times/ });
  await expect(card).toContainText('Usually the route, the load or the driver changed');
  await item.getByRole('link', { name: /State its duty/ }).click();
  await expect(page.getByText(/for V08 from/)).toBeVisible();
  // What it really drives: twice the stops and more hills. The drawing follows while it is typed.
  const before = await page.getByRole('img', { name: /^This duty: stops/ }).getAttribute('aria-label');
  await page.getByLabel('Stops a mile').fill('4,6');
  await page.getByLabel('Descent, m a mile').fill('21');
  await expect(page.getByRole('img', { name: /^This duty: stops/ })).not.toHaveAttribute('aria-label', before ?? '');
  await page.getByRole('button', { name: 'Save for V08' }).click();
  await expect(page.getByText('A name by which others will know it is needed.')).toBeVisible();
  await page.getByLabel('Name').fill('Hill shops');
  await page.getByLabel('V08 drives so from').fill('2026-04-20');
  await page.getByRole('button', { name: 'Save for V08' }).click();
  await expect(page.getByText('V08 is on Hill shops from 20 Apr 2026')).toBeVisible();
  // The readings now fit what is stated: the finding is kept, but no longer open.
  await expect(page.getByText('1 earlier change of wear')).toBeVisible({ timeout: 40_000 });
  await page.getByText('1 earlier change of wear').click();
  await expect(page.getByText('Later readings no longer show it')).toBeVisible();
  await expect(page.getByRole('region', { name: /Duty/ }).or(page.getByText('Hill shops').first())).toBeVisible();
});

test('a slide seized: had looked at, cause put on record, and settled once', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/P06`);
  const card = page.getByRole('article', { name: /Axle 1, right: the inner pad wears/ });
  await expect(card).toContainText(/right inner: wore \d\.\d mm, \d\.\d mm would be usual/);
  await expect(card).toContainText('Test pins and channels by hand');
  await card.getByRole('button', { name: 'Have it looked at' }).click();
  await expect(card).toContainText(/To be looked at: Maren Ashdown/);
  await card.getByRole('button', { name: 'Cause found …' }).click();
  await card
    .getByLabel('What was the cause, and what was done')
    .fill('Lower pin dry and stuck; cleaned, greased, new boot');
  await page.keyboard.press('Enter');
  await expect(page.getByText('1 earlier change of wear')).toBeVisible();
  await page.getByText('1 earlier change of wear').click();
  await expect(page.getByText(/Cause found: Maren Ashdown.*Lower pin dry/)).toBeVisible();
  // Whoever comes second is told, and nothing is lost.
  const { items } = (await (await page.request.get(`${app.url}/api/changes`)).json()) as {
    items: { id: string; unit: string; answers: object[] }[];
  };
  const settled = items.find(({ unit }) => unit === 'P06');
  const second = await page.request.post(`${app.url}/api/changes/${settled?.id ?? ''}/answers`, {
    data: { id: crypto.randomUUID(), answer: 'nothing_found', note: 'looked again' },
  });
  expect(second.status()).toBe(409);
  expect(settled?.answers).toHaveLength(2);
});

test('a coarse gauge: named with what it costs, weighed less where it measured, and a study planned for it', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.getByRole('link', { name: 'Gauges & technicians' }).click();
  const help = page
    .getByRole('listitem')
    .filter({ hasText: 'Feeler set, whole millimetres' })
    .filter({ hasText: 'Reads in steps' });
  await expect(help).toContainText('Reads in steps of 1.00 mm: by itself ± 0.50 mm');
  await expect(help).toContainText('Its readings weigh less meanwhile');
  await page.goto(`${app.url}/gauges?view=studies`);
  await page.getByLabel('Name').fill('Feelers in two appraisers');
  const form = page.locator('form').filter({ hasText: 'Plan a study' });
  await choose(form.getByLabel('Gauge'), 'Feeler set, whole millimetres');
  await page.getByLabel('Oskar Fenwright').check();
  await page.getByLabel('Tobi Varga').check();
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByText(/order by seed \d+/)).toBeVisible();
});

test('why this date: what moved it, each mile, and an if that answers without saving', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/T04/why/1`);
  await expect(page.getByRole('region', { name: 'What moved the mark' })).toContainText('It stood at');
  await expect(page.getByRole('region', { name: 'Each mile' })).toContainText('duty-weighted');
  const answer = page.getByRole('status', { name: 'Answer' });
  await expect(answer).toContainText('As it is:');
  const pending = () =>
    page.request.get(`${app.url}/api/vehicles/T04`).then((one) => one.json() as Promise<{ axleDetails: unknown }>);
  const stored = JSON.stringify((await pending()).axleDetails);
  await page.getByLabel(/^Payload/).focus();
  for (let press = 0; press < 6; press += 1) await page.keyboard.press('ArrowRight');
  await expect(answer).toContainText(/The mark would stand at .* days sooner\. Nothing is saved\./);
  await page.getByRole('button', { name: 'As it is' }).click();
  await page.getByLabel(/^Risk/).focus();
  for (let press = 0; press < 6; press += 1) await page.keyboard.press('ArrowRight');
  await expect(answer).toContainText(/days later|no day’s difference/);
  expect(JSON.stringify((await pending()).axleDetails)).toBe(stored);
  // The page's own mark and the worker's are the same computation.
  await page.getByRole('button', { name: 'As it is' }).click();
  const heading = await page.getByRole('heading', { level: 1 }).textContent();
  await expect(answer).toContainText(heading?.replace('Why ', '') ?? '?');
});

/** A made-up drive: stops every two minutes, a hill down at the end; one line a second. */
function trace(): string {
  const lines = ['time_s,speed_kmh,altitude_m'];
  let [t, v, height] = [0, 0, 400];
  const put = () => lines.push(`${t},${v.toFixed(1)},${height.toFixed(2)}`);
  const step = (to: number, by: number) => {
    while (v !== to) {
      v = by > 0 ? Math.min(to, v + by) : Math.max(to, v + by);
      t += 1;
      put();
    }
  };
  const hold = (seconds: number, grade = 0) => {
    for (let k = 0; k < seconds; k += 1) {
      t += 1;
      height += (v / 3.6) * grade;
      put();
    }
  };
  put();
  for (let stop = 0; stop < 20; stop += 1) {
    step(48, 4);
    hold(100);
    step(0, -7);
    hold(12);
  }
  step(55, 4);
  hold(240, -0.05);
  step(0, -7);
  return lines.join('\n');
}

test('a trace is looked through in a worker, shown with what was found, and made a duty', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/duty?view=trace`);
  const file = page.locator('input[type=file]');
  await file.setInputFiles({
    name: 'wrong.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time_s,altitude_m\n0,1\n1,1\n'),
  });
  await expect(page.getByRole('alert')).toContainText(
    'No column of speed in the first line; speed_kmh, speed_mph or speed_mps is accepted.',
  );
  await file.setInputFiles({ name: 'round.csv', mimeType: 'text/csv', buffer: Buffer.from(trace()) });
  await expect(page.getByText(/21 stops, 0 slowdowns, 1 descents/)).toBeVisible();
  await page.getByRole('button', { name: 'Make it a duty' }).click();
  await expect(page.getByText(/From a trace\. round\.csv/)).toBeVisible();
  await page.getByLabel('Name').fill('Round by trace');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Round by trace is on record.')).toBeVisible();
  await expect(page.getByRole('button', { name: /Round by trace.*from a trace/ })).toBeVisible();
  // The same name again is refused at its field.
  await page.getByLabel('Stops a mile').fill('9');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/There is a duty “Round by trace” already/)).toBeVisible();
});

test('telematics come without typing, and what can’t be so is flagged, not believed', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/duty?view=feed`);
  await expect(page.getByText(/It hears \d+ vehicles/)).toBeVisible();
  for (const fault of ['odometer falls', 'day came twice', 'silent before', 'unknown unit', 'not readable'])
    await expect(page.getByRole('cell', { name: fault }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Read it now' }).click();
  const unit =
    (await page.getByRole('cell', { name: 'silent before' }).first().locator('..').getByRole('link').textContent()) ??
    '';
  await page.goto(`${app.url}/vehicles/${unit}`);
  await expect(page.getByText(/Measured by telematics since/)).toBeVisible();
});

test('risk and costs are the shop’s: changed in one place, said at the field where they can’t be so', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  // A light vehicle of whose nearest axle it is known when its pads were fitted: only then is there a cost per mile.
  const get = async <T>(path: string) => (await (await page.request.get(`${app.url}/api/${path}`)).json()) as T;
  const { items } = await get<{ items: { unit: string; axle: number; class: string; markDate: string }[] }>(
    'mile-marks',
  );
  const nearest = new Map<string, (typeof items)[number]>();
  for (const mark of items) if (!nearest.has(mark.unit) && mark.class !== 'heavy') nearest.set(mark.unit, mark);
  let chosen = '';
  for (const { unit, axle, markDate } of nearest.values()) {
    if (markDate < '2027-01-15' || unit === 'V08') continue;
    const { axleDetails } = await get<{ axleDetails: { axle: number; fitted: object | null }[] }>(`vehicles/${unit}`);
    if (axleDetails.find((one) => one.axle === axle)?.fitted) chosen = unit;
    if (chosen) break;
  }
  await page.goto(`${app.url}/vehicles/${chosen}`);
  await page.getByRole('button', { name: 'Risk and costs …' }).click();
  const sheet = page.getByRole('dialog');
  const risk = await sheet.getByLabel('Risk, pickups and vans, %').inputValue();
  await sheet.getByLabel('Risk, pickups and vans, %').fill('70');
  await sheet.getByLabel('Too late, light').fill('1');
  await sheet.getByRole('button', { name: 'Assume this from now on' }).click();
  await expect(sheet.getByText('Over 0 and up to 50 % is accepted.')).toBeVisible();
  await expect(sheet.getByText('A failure costs at least what the planned service does.')).toBeVisible();
  await sheet.getByLabel('Risk, pickups and vans, %').fill(risk);
  await sheet.getByLabel('Too late, light').fill('9000');
  await sheet.getByRole('button', { name: 'Assume this from now on' }).click();
  await expect(page.getByText('All forecasts are brought up to date.')).toBeVisible();
  // So dear a failure brings the mark of least cost before that of the risk.
  await expect(page.getByText('least cost a mile')).toBeVisible({ timeout: 40_000 });
  await page.getByRole('button', { name: 'Risk and costs …' }).click();
  await page.getByRole('dialog').getByLabel('Too late, light').fill('560');
  await page.getByRole('button', { name: 'Assume this from now on' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
});
