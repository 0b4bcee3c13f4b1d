import type { Page } from '@playwright/test';
import { expect, keptOnDevice, signIn, test, type App } from '../support/app.ts';
import { buildAxle, allSent, measured, odometerOf, recordOf, signAndClose, workCard } from '../support/jobWalks.ts';
import { tap } from '../support/capture.ts';
import { choose } from '../support/choose.mjs';

/** Five whole jobs, from what sets them off to the record, on the real screens. */
test.describe.configure({ mode: 'serial' });

/** Books an axle from its vehicle's page and begins the work; leaves the page on the card. */
async function bookAndBegin(page: Page, app: App, unit: string, axle: number): Promise<string> {
  await page.goto(`${app.url}/vehicles/${unit}`);
  await expect(page.getByRole('heading', { name: unit, exact: true })).toBeVisible();
  if (axle > 1) await page.getByText(`Axle ${axle}`, { exact: true }).first().click();
  await page.keyboard.press('b');
  const dialog = page.getByRole('dialog', { name: `Book ${unit}` });
  await expect(dialog.getByRole('checkbox', { name: new RegExp(`^Axle ${axle}`) })).toBeVisible();
  for (const number of [1, 2, 3]) {
    const box = dialog.getByRole('checkbox', { name: new RegExp(`^Axle ${number}`) });
    if ((await box.count()) > 0 && (await box.isChecked()) !== (number === axle)) await box.click();
  }
  await dialog.getByLabel('Bay', { exact: true }).fill('Bay 1');
  await dialog.getByRole('button', { name: 'Book it' }).click();
  await page.getByRole('button', { name: 'Open it' }).click();
  await expect(page.getByRole('heading', { name: new RegExp(`Job, ${unit}`) })).toBeVisible();
  const id = page.url().split('/').at(-1) ?? '';
  await page.getByRole('button', { name: 'Begin work' }).click();
  await expect(page).toHaveURL(/\/card/);
  return id;
}

const backTo = async (page: Page, app: App, id: string) => {
  await page.goto(`${app.url}/jobs/${id}/card`);
};

test('a pickup: from a complaint to a closed card, with a seized pin found on the way', async ({ page, app }) => {
  test.setTimeout(600_000);
  await signIn(page, app);
  await page.goto(`${app.url}/vehicles/P18`);
  // A complaint in three taps.
  await page.getByRole('button', { name: 'Complaint …' }).click();
  await page.getByRole('button', { name: 'drag', exact: true }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('“drag” is on record')).toBeVisible();
  const id = await bookAndBegin(page, app, 'P18', 1);
  await expect(page.getByText('axle 1: drag').or(page.getByText('drag')).first()).toBeVisible();
  await workCard(page, {
    finds: { 'Slide pins': 'stuck' },
    measure: async () => {
      await page.getByRole('link', { name: 'Measure P18' }).click();
      await expect(page.getByRole('heading', { name: 'P18', exact: true })).toBeVisible();
      await measured(page, app, 'P18', 1, 3.4);
      await backTo(page, app, id);
    },
  });
  await signAndClose(page, await odometerOf(page, app, 'P18'));
  // The complaint keeps the job open until somebody says what it was.
  await expect(page.getByText('An open defect is neither closed nor put off with a reason.')).toBeVisible();
  await page.goto(`${app.url}/jobs?unit=P18`);
  const row = page.getByRole('region', { name: 'Open defects' }).getByRole('listitem').filter({ hasText: 'drag' });
  await row.getByRole('button', { name: 'Settle …' }).click();
  await page.getByLabel('Reason').fill('a stuck slide pin; freed and greased');
  await page.getByRole('button', { name: 'Close it' }).click();
  // Behind the dialog nothing is seen: it is settled once that has gone.
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(row).toBeHidden();
  await page.goto(`${app.url}/jobs/${id}/card?step=end`);
  await signAndClose(page, await odometerOf(page, app, 'P18'));
  await expect(page.getByText(/^closed 20 Nov 2026/)).toBeVisible();
  await expect(page.getByText(/Signed and closed at/)).toBeVisible();
  const text = await recordOf(page, app, id);
  for (const words of ['Job record, P18', 'pin boots', 'stuck', 'Guide pin bolt', 'lbf·ft', 'Signed by Maren Ashdown'])
    expect(text).toContain(words);
});

test('a fixed caliper with machined rotors: the card branches, the rotors are added with a reason', async ({
  page,
  app,
}) => {
  test.setTimeout(600_000);
  await signIn(page, app);
  const built = { Caliper: 'fixed', 'Parking brake': 'drum in hat' };
  await buildAxle(page, app, { model: 'Ostrey Carrier 35', axle: 2, ...built });
  const id = await bookAndBegin(page, app, 'V06', 2);
  await page.goto(`${app.url}/jobs/${id}`);
  await page.getByRole('button', { name: 'Change what is done …' }).click();
  await choose(page.getByLabel('What', { exact: true }), 'rotors machined');
  await page.getByLabel('Reason').fill('thickness varies by 0.04 mm');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByText('thickness varies by 0.04 mm').first()).toBeVisible();
  await backTo(page, app, id);
  await workCard(page, {
    measure: async () => {
      await measured(page, app, 'V06', 2, 4);
      await backTo(page, app, id);
    },
  });
  await signAndClose(page, await odometerOf(page, app, 'V06'));
  await expect(page.getByText(/^closed/)).toBeVisible();
  const text = await recordOf(page, app, id);
  expect(text).toContain('rotors machined');
  expect(text).toContain('Drive the pad pins out');
  expect(text).not.toContain('Guide pin bolt');
  expect(text).toContain('Back the parking shoes off');
});

test('a van’s rear with shoes in the drum and a sensor on one side', async ({ page, app }) => {
  test.setTimeout(600_000);
  await signIn(page, app);
  const built = { Caliper: 'sliding, lifts off', 'Parking brake': 'drum in hat', 'Wear sensor': 'right' };
  await buildAxle(page, app, { model: 'Ostrey Carrier 35', axle: 2, ...built });
  const id = await bookAndBegin(page, app, 'V24', 2);
  await workCard(page, {
    measure: async () => {
      await measured(page, app, 'V24', 2, 3.2);
      await backTo(page, app, id);
    },
  });
  await signAndClose(page, await odometerOf(page, app, 'V24'));
  await expect(page.getByText(/^closed/)).toBeVisible();
  const text = await recordOf(page, app, id);
  expect(text).toContain('Sensor plugged, axle 2 right');
  expect(text).not.toContain('Sensor plugged, axle 2 left');
  expect(text).toContain('its shoes sit in the drum of the rotor');
});

test('a tanker’s air disc axle', async ({ page, app }) => {
  test.setTimeout(600_000);
  await signIn(page, app);
  const id = await bookAndBegin(page, app, 'T15', 2);
  await workCard(page, {
    measure: async () => {
      await measured(page, app, 'T15', 2, 4.4);
      await backTo(page, app, id);
    },
  });
  await signAndClose(page, await odometerOf(page, app, 'T15'));
  await expect(page.getByText(/^closed/)).toBeVisible();
  const text = await recordOf(page, app, id);
  for (const words of ['spring brakes caged', 'Pad retainer bolt', '650 N·m', 'running clearance'])
    expect(text).toContain(words);
  expect(text).not.toContain('Pump to a firm pedal');
  // The new pads' life has begun.
  await page.goto(`${app.url}/vehicles/T15`);
  await expect(page.getByText('Axle 2: pads, both sides').first()).toBeVisible();
});

test('a job interrupted, offline, handed over and finished on another device', async ({ browser, app }) => {
  test.setTimeout(600_000);
  const tablet = await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true });
  const first = await tablet.newPage();
  await signIn(first, app, 'technician');
  await first.goto(`${app.url}/jobs`);
  await first.getByRole('link', { name: 'V21' }).click();
  await expect(first.getByRole('heading', { name: 'Job, V21' })).toBeVisible();
  const id = first.url().split('/').at(-1) ?? '';
  await first.getByRole('link', { name: 'Service card' }).click();
  await measured(first, app, 'V21', 1, 3.1);
  await first.reload();
  await expect(first.getByText(/of \d+ steps/)).toBeVisible();
  const signed = async () =>
    Number(/^(\d+) of/.exec((await first.getByText(/^\d+ of \d+ steps$/).textContent()) ?? '')?.[1]);
  const before = await signed();
  await keptOnDevice(first);
  await tablet.setOffline(true);
  await workCard(first, { steps: 12, measure: async () => undefined });
  await expect(first.getByText(/\d+ to send/)).toBeVisible();
  expect(await signed()).toBeGreaterThan(before + 8);
  // The tablet dies and comes back without a network: nothing is lost.
  const offlineCount = await signed();
  await first.reload();
  await expect.poll(signed).toBe(offlineCount);
  await first.getByRole('button', { name: 'More …' }).click();
  await choose(first.getByLabel('Hand over to'), 'Maren Ashdown');
  await first.getByRole('button', { name: 'Hand over', exact: true }).click();
  await tablet.setOffline(false);
  await allSent(first);
  await tablet.close();

  const desk = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const second = await desk.newPage();
  await signIn(second, app);
  await backTo(second, app, id);
  await expect(second.getByText('you have the card')).toBeVisible();
  await workCard(second, { measure: async () => undefined });
  await signAndClose(second, await odometerOf(second, app, 'V21'));
  await expect(second.getByText(/^closed/)).toBeVisible();
  const text = await recordOf(second, app, id);
  expect(text).toContain('Handed over to Maren Ashdown');
  expect(text).toContain('Tobi Varga');
  const answer = await second.request.get(`${app.url}/api/jobs/${id}`);
  const { story } = (await answer.json()) as { story: { text: string }[] };
  const torques = story.filter(({ text: line }) => line.includes('Guide pin bolt, axle 1 left'));
  expect(torques).toHaveLength(1);
  await desk.close();
});

test('what the card asks for is refused in words: a torque to less, an older job', async ({ page, app }) => {
  await signIn(page, app);
  const id = await bookAndBegin(page, app, 'V09', 1);
  await page.goto(`${app.url}/jobs/${id}/card?step=${encodeURIComponent('torque Wheel nut/1/left')}`);
  await page.getByRole('button', { name: 'It was done; sign this all the same' }).click();
  for (const key of ['1', '0', '9']) await tap(page, key);
  await expect(page.getByText('152.0 to 168.0 N·m is accepted; never to less because a wrench ends.')).toBeVisible();
  await page.goto(`${app.url}/jobs/${id}/card?step=end`);
  await expect(page.getByText('Not done: Final pump')).toBeVisible();
  await page.getByRole('button', { name: 'Not done: Final pump' }).click();
  await expect(page.getByRole('heading', { name: 'Pump to a firm pedal before the vehicle moves.' })).toBeVisible();
});

test('work begun before the card had come: what is shown is the card of the job that was begun', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  // The first answer is from before the work was begun, and comes after that.
  let held = 0;
  await page.route('**/api/jobs/*/card', async (route) => {
    held += 1;
    if (held > 1) return route.fallback();
    const before = await route.fetch();
    await page.waitForResponse((answer) => answer.request().method() !== 'GET' && answer.url().includes('/api/jobs/'));
    await new Promise((resolve) => setTimeout(resolve, 300));
    await route.fulfill({ response: before });
  });
  await bookAndBegin(page, app, 'P05', 1);
  // Not when it is looked at again by itself, 20 s later: before the card is shown.
  expect(held).toBeGreaterThan(1);
  const step = page.getByRole('region', { name: 'Step', exact: true });
  await expect(step.getByRole('button', { name: 'Done', exact: true })).toBeVisible();
});

test('a signed step goes on by itself: meanwhile nothing offers to go that would be gone, and nothing is signed twice', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  const id = await bookAndBegin(page, app, 'P07', 1);
  const step = page.getByRole('region', { name: 'Step', exact: true });
  await expect(step.getByRole('button', { name: 'Done', exact: true })).toBeVisible();
  // Every change of the card is looked at, also what stands there for a moment; each button is tapped twice at once.
  await step.evaluate((region) => {
    const offered: string[] = [];
    Object.assign(window, { offered });
    new MutationObserver(() => {
      for (const { textContent } of region.querySelectorAll('button'))
        if (textContent === 'Next step') offered.push('!');
    }).observe(region, { childList: true, subtree: true });
    region.addEventListener('click', ({ target, isTrusted }) => {
      if (isTrusted && target instanceof HTMLButtonElement) target.click();
    });
  });
  // What is sent of each step, by its own id: a second signature of a step would be another entry.
  const sent = new Set<string>();
  page.on('request', (request) => {
    for (const [, entry] of request.postData()?.matchAll(/"id":"([0-9a-f-]{36})"/g) ?? []) sent.add(entry ?? '');
  });
  await workCard(page, { steps: 2, measure: () => Promise.resolve() });
  expect(await page.evaluate(() => (window as unknown as { offered: string[] }).offered)).toEqual([]);
  await allSent(page);
  expect(sent.size).toBe(2);
  const answer = await page.request.get(`${app.url}/api/jobs/${id}/card`);
  const { steps } = (await answer.json()) as { steps: { done: unknown }[] };
  expect(steps.filter(({ done }) => done !== null)).toHaveLength(2);
});
