/** The plan from its proposal to the calendar: moved by hand and by key, published, a technician ill, an emergency. */
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import ICAL from 'ical.js';
import type { Plan, PlanItem } from '@mile-mark/contract/plan';
import { faultsOf } from '../support/accessible.ts';
import { expect, signIn, test, type App } from '../support/app.ts';

// Publishing books jobs of many vehicles: an application of its own.
test.use({ options: { demo: true, today: '2026-11-20', port: 0 } });
test.describe.configure({ mode: 'serial' });

const chip = (page: Page, { unit, axles }: Pick<PlanItem, 'unit' | 'axles'>) =>
  page.locator(`[data-visit="${unit}/${axles.join(' ')}"]`);

async function planIn(page: Page, app: App, state: string): Promise<Plan> {
  const { items } = (await (await page.request.get(`${app.url}/api/plans`)).json()) as { items: Plan[] };
  const own = items.find((one) => one.state === state);
  if (!own) throw new Error(`no plan is ${state}`);
  return (await (await page.request.get(`${app.url}/api/plans/${own.id}`)).json()) as Plan;
}

const weeks = (page: Page, app: App, depot = 'Creamery yard') =>
  page.goto(`${app.url}/plan?view=weeks&depot=${encodeURIComponent(depot)}`);

async function propose(page: Page, fill?: (dialog: ReturnType<Page['getByRole']>) => Promise<void>) {
  await page.getByRole('button', { name: /^(Propose|Plan anew|Propose another)/ }).click();
  const dialog = page.getByRole('dialog');
  await fill?.(dialog);
  await dialog.getByRole('button', { name: 'Propose', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Publish' })).toBeVisible({ timeout: 120_000 });
}

/** Whether a proposal is made by itself, stated where a shop states it. */
async function proposesAnew(page: Page, app: App, wanted: boolean) {
  await page.goto(`${app.url}/plan?view=shop`);
  await page.getByRole('region', { name: 'What a plan weighs' }).getByRole('button', { name: 'Change …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^Make a proposal by itself/ }).setChecked(wanted);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByText('a proposal is made by itself')).toHaveCount(wanted ? 1 : 0);
}

const movable = (plan: Plan, depot = 'Creamery yard') => {
  const item = plan.items.find((one) => one.depot === depot && !one.locked && one.date > '2027-01-01');
  if (!item) throw new Error('no visit can be moved');
  return item;
};

test('proposed with what it costs and how sure that is; moved by key, by mouse, taken back, locked', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  // What the walks before the last one propose, they propose themselves.
  await proposesAnew(page, app, false);
  await weeks(page, app);
  await expect(page.getByText('Nothing is booked before you publish it.')).toBeVisible();
  await propose(page);
  await expect(page.getByRole('region', { name: 'The plan' })).toContainText(/USD over 26 weeks/);
  await expect(page.getByRole('region', { name: 'The plan' })).toContainText(/Proved: no plan costs less/);
  const plan = await planIn(page, app, 'proposed');
  const item = movable(plan);
  const days = plan.depots.find(({ depot }) => depot === item.depot)?.days.map(({ date }) => date) ?? [];
  const next = days[days.indexOf(item.date) + 1] ?? '';
  await chip(page, item).click();
  await expect(page.getByRole('region', { name: `Visit of ${item.unit}` })).toContainText('of its pads given up');
  // As CSV: a row for each visit.
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'CSV', exact: true }).click(),
  ]);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split(/\r?\n/);
  expect(lines).toHaveLength(plan.items.length + 1);
  expect(lines.find((line) => line.includes(`${item.unit},`))).toContain(item.depot);
  // By key: what it costs is told before it is put there.
  await chip(page, item).press('m');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/USD (more|less)|the same/).last()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/, locked there;/)).toBeVisible();
  await expect(page.locator(`[data-day="${next}"]`).locator(chip(page, item))).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).first().click();
  await expect(page.locator(`[data-day="${item.date}"]`).locator(chip(page, item))).toBeVisible();
  // By mouse.
  await chip(page, item).dragTo(page.locator(`[data-day="${next}"]`));
  await expect(page.locator(`[data-day="${next}"]`).locator(chip(page, item))).toBeVisible();
  expect(
    (await planIn(page, app, 'proposed')).items.find(({ unit, date }) => unit === item.unit && date === next),
  ).toMatchObject({
    locked: true,
    byHand: true,
  });
  await chip(page, item).click();
  await page.getByRole('button', { name: 'Unlock' }).click();
  await expect(page.getByText(`${item.unit} may be moved by the next plan.`)).toBeVisible();
  await page.getByRole('button', { name: 'Lock', exact: true }).click();
  await expect(page.getByText(new RegExp(`${item.unit} stays on`))).toBeVisible();
});

test('a vehicle that another depot does is told at both, and the way is stated in the shop', async ({ page, app }) => {
  await signIn(page, app);
  const plan = await planIn(page, app, 'proposed');
  const lent = plan.items.find(({ lentFrom }) => lentFrom !== null);
  if (!lent) throw new Error('nobody is lent');
  await weeks(page, app, lent.depot);
  await expect(chip(page, lent)).toHaveAccessibleName(new RegExp(`of ${lent.lentFrom}`));
  await chip(page, lent).click();
  await expect(page.getByRole('region', { name: `Visit of ${lent.unit}` })).toContainText(
    `A vehicle of ${lent.lentFrom}:`,
  );
  await weeks(page, app, lent.lentFrom ?? '');
  await expect(page.getByRole('region', { name: 'Done elsewhere' })).toContainText(
    new RegExp(`${lent.unit}.*at ${lent.depot}`),
  );
  expect(await faultsOf(page), 'done elsewhere').toEqual([]);
  await page.goto(`${app.url}/plan?view=shop&depot=${encodeURIComponent(lent.lentFrom ?? '')}`);
  const ways = page.getByRole('region', { name: 'Ways to other depots' });
  await expect(ways).toContainText(lent.depot);
  await ways.getByRole('button', { name: 'Change …' }).click();
  const dialog = page.getByRole('dialog');
  const way = dialog.getByRole('group', { name: lent.depot });
  const before = await way.getByLabel('Hours').inputValue();
  await way.getByLabel('Hours').fill('a while');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('Hours are needed.')).toBeVisible();
  expect(await faultsOf(page), 'ways').toEqual([]);
  await way.getByLabel('Hours').fill(`${Number(before) + 1}`);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(ways).toContainText(`${lent.depot}: ${Number(before) + 1} h`);
  // It can be asked for at its own depot.
  await weeks(page, app, lent.lentFrom ?? '');
  await propose(page, async (asked) => {
    await asked.getByLabel(/^Have it done at a depot/).fill('X99');
    await asked.getByRole('button', { name: 'Propose', exact: true }).click();
    await expect(asked).toContainText('There is no vehicle X99 on record');
    await asked.getByLabel(/^Have it done at a depot/).fill(lent.unit);
    await asked.getByRole('combobox', { name: 'At', exact: true }).click();
    await page.getByRole('option', { name: lent.lentFrom ?? '', exact: true }).click();
  });
  const { items } = await planIn(page, app, 'proposed');
  expect(new Set(items.filter(({ unit }) => unit === lent.unit).map(({ depot }) => depot))).toEqual(
    new Set([lent.lentFrom]),
  );
});

test('published: jobs are booked and people told; the day board has them', async ({ page, app }) => {
  await signIn(page, app);
  await weeks(page, app);
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/^Published: \d+ jobs? booked/)).toBeVisible();
  const plan = await planIn(page, app, 'published');
  const booked = plan.items.find(({ jobId, locked, outside }) => jobId !== null && !locked && !outside);
  if (!booked) throw new Error('nothing was booked');
  await page.goto(`${app.url}/plan?view=day&depot=${encodeURIComponent(booked.depot)}&date=${booked.date}`);
  await expect(page.getByRole('region', { name: booked.bay ?? '' })).toContainText(booked.unit);
  await page.goto(`${app.url}/jobs/${booked.jobId}`);
  await expect(page.getByRole('heading', { name: new RegExp(booked.unit) })).toBeVisible();
});

test('a calendar is given out, read again after the plan moved, and good for nothing once withdrawn', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.goto(`${app.url}/plan?view=calendars`);
  const out = page.getByRole('region', { name: 'Calendars given out' });
  await out.getByRole('combobox', { name: 'Name' }).click();
  await page.getByRole('option', { name: 'Northfold' }).click();
  await out.getByRole('button', { name: 'Make an address' }).click();
  const address = await out.getByLabel('Its address; it is shown this once').inputValue();
  // Whoever subscribes is nobody who is signed in.
  const read = async () => {
    const text = await (await fetch(address)).text();
    return new Map(
      new ICAL.Component(ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0])
        .getAllSubcomponents('vevent')
        .map((one) => new ICAL.Event(one))
        .map((event) => [event.uid, event.startDate.toString()]),
    );
  };
  const before = await read();
  const plan = await planIn(page, app, 'published');
  expect(before.size).toBe(plan.items.filter(({ depot }) => depot === 'Northfold').length);
  // A technician falls ill.
  await page.goto(`${app.url}/plan?view=shop&depot=Northfold`);
  await page.getByRole('button', { name: 'Add …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: 'Name' }).click();
  await page.getByRole('option', { name: 'Dag Pellworth' }).click();
  await dialog.getByLabel('To, that day included').fill('2026-12-23');
  await dialog.getByLabel('Why').fill('ill');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('region', { name: 'Away' })).toContainText('Dag Pellworth');
  // And a vehicle is away on the day of its visit: that one must move.
  const visit = plan.items.find(
    ({ depot, date, jobId, locked, outside }) =>
      depot === 'Northfold' && date > '2027-01-15' && jobId === null && !locked && !outside,
  );
  if (!visit) throw new Error('Northfold has no visit far ahead');
  const absence = { kind: 'vehicle', of: visit.unit, from: visit.date, to: visit.date, reason: 'lent to the harvest' };
  const away = await page.request.post(`${app.url}/api/absences`, {
    headers: { origin: app.url },
    data: { id: crypto.randomUUID(), ...absence },
  });
  expect(away.status()).toBe(201);
  await weeks(page, app, 'Northfold');
  await propose(page);
  const anew = await planIn(page, app, 'proposed');
  const moved = anew.items.filter((one) => one.moved !== null);
  expect(moved.length).toBeGreaterThan(0);
  const changes = page.getByRole('region', { name: 'Against the published plan' });
  for (const { unit, depot } of moved) if (depot === 'Northfold') await expect(changes).toContainText(unit);
  await expect(changes).toContainText(/where it can’t stay|would cost/);
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/^Published:/)).toBeVisible();
  const after = await read();
  for (const uid of before.keys()) expect(after.has(uid)).toBe(true);
  expect([...before].filter(([uid, start]) => after.get(uid) !== start).length).toBeGreaterThan(0);
  await page.goto(`${app.url}/plan?view=calendars`);
  await out.getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText('Its address is good for nothing any more.')).toBeVisible();
  expect((await fetch(address)).status).toBe(404);
});

test('an emergency is placed now, with what it displaces; a wrong unit is told at its field', async ({ page, app }) => {
  await signIn(page, app);
  await weeks(page, app, 'Saltmarsh depot');
  await expect(page.getByRole('group', { name: 'The weeks' })).toBeVisible();
  const plan = await planIn(page, app, 'published');
  const later = plan.items.find(
    ({ depot, jobId, date }) => depot === 'Saltmarsh depot' && jobId === null && date > '2027-02-01',
  );
  if (!later) throw new Error('no visit lies later');
  await propose(page, async (dialog) => {
    await dialog.getByLabel('What can’t wait').fill('X99');
    await dialog.getByRole('button', { name: 'Propose', exact: true }).click();
    await expect(dialog).toContainText('There is no vehicle X99 on record');
    await dialog.getByLabel('What can’t wait').fill(later.unit);
    await dialog.getByLabel('Its axles').fill(later.axles.join(', '));
  });
  const anew = await planIn(page, app, 'proposed');
  const first = anew.depots.find(({ depot }) => depot === 'Saltmarsh depot')?.days[0]?.date;
  expect(
    anew.items.find(({ unit, axles }) => unit === later.unit && axles.join() === later.axles.join()),
  ).toMatchObject({
    date: first,
    moved: later.date,
  });
  await expect(page.getByRole('region', { name: 'Against the published plan' })).toContainText(later.unit);
  // Lists of one line each, close together.
  expect(await faultsOf(page), 'what it displaces').toEqual([]);
  await page.getByRole('button', { name: 'Drop it' }).click();
  await expect(page.getByText('Dropped.')).toBeVisible();
});

test('a viewer sees it and can change nothing', async ({ page, app }) => {
  await signIn(page, app, 'viewer');
  await weeks(page, app);
  await expect(page.getByRole('group', { name: 'The weeks' })).toBeVisible();
  await expect(page.getByRole('button', { name: /Plan anew|Publish|Propose/ })).toHaveCount(0);
});

test('a calendar file says who is away: once, and what is none is told', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/plan?view=calendars`);
  const into = page.getByRole('region', { name: 'Calendars read in' });
  await into.getByRole('combobox', { name: 'Name' }).click();
  await page.getByRole('option', { name: 'Tobi Varga' }).click();
  const file = (text: string) => ({ name: 'leave.ics', mimeType: 'text/calendar', buffer: Buffer.from(text) });
  const calendar = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//leave//EN',
    'BEGIN:VEVENT',
    'UID:leave-1',
    'SUMMARY:winter leave',
    'DTSTART;VALUE=DATE:20270201',
    'DTEND;VALUE=DATE:20270206',
    'END:VEVENT',
    'END:VCALENDAR',
  ].join('\r\n');
  await into.getByLabel('Calendar file').setInputFiles(file('unit,day\nT06,2027-01-01'));
  await into.getByRole('button', { name: 'Read it' }).click();
  await expect(into).toContainText('This is not a calendar');
  for (const told of ['1 entry added', '1 as they were']) {
    await into.getByLabel('Calendar file').setInputFiles(file(calendar));
    await into.getByRole('button', { name: 'Read it' }).click();
    await expect(into).toContainText(told);
  }
  await page.goto(`${app.url}/plan?view=shop`);
  await expect(page.getByRole('region', { name: 'Away' })).toContainText('winter leave');
});

test('what the published plan can no longer keep is named beside it, and leads to its visit', async ({ page, app }) => {
  await signIn(page, app);
  const plan = await planIn(page, app, 'published');
  const item = movable(plan);
  const answer = await page.request.post(`${app.url}/api/absences`, {
    headers: { origin: app.url },
    data: {
      id: crypto.randomUUID(),
      kind: 'vehicle',
      of: item.unit,
      from: item.date,
      to: item.date,
      reason: 'lent to the harvest',
    },
  });
  expect(answer.status()).toBe(201);
  await weeks(page, app);
  const holds = page.getByRole('region', { name: 'No longer holds' });
  await holds.getByRole('button', { name: `${item.unit} is away on` }).click();
  await expect(page.getByRole('region', { name: `Visit of ${item.unit}` })).toBeVisible();
  expect(await faultsOf(page), 'no longer holds').toEqual([]);
});

test('a proposal is made by itself where the shop wants it, and nothing moves before a person publishes it', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const plan = await planIn(page, app, 'published');
  await proposesAnew(page, app, true);
  await expect(async () => expect((await planIn(page, app, 'proposed')).byItself).toBe(true)).toPass({
    timeout: 120_000,
  });
  await weeks(page, app);
  await expect(page.getByRole('region', { name: 'Why it was made' })).toContainText('is away on');
  await expect(page.getByRole('combobox', { name: 'Plan', exact: true })).toContainText('Proposed by itself');
  expect(await faultsOf(page), 'made by itself').toEqual([]);
  expect((await planIn(page, app, 'published')).id).toBe(plan.id);
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/^Published:/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Why it was made' })).toHaveCount(0);
  expect((await planIn(page, app, 'published')).because.length).toBeGreaterThan(0);
});
