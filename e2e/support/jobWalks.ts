import { expect, type Page } from '@playwright/test';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { App } from './app.ts';
import { choose } from './choose.mjs';

/** What a walk may be told to do otherwise than a careful person on a sound vehicle. */
export interface Walk {
  /** What is found at a check, by a part of its heading: `Slide pins` → `stuck`. */
  finds?: Record<string, string>;
  /** Stops after so many steps. */
  steps?: number;
  /** Called where the card asks for the pads as found. */
  measure: () => Promise<void>;
}

const heading = (page: Page) =>
  page.getByRole('region', { name: 'Step', exact: true }).getByRole('heading', { level: 1 });

/** Signs step after step on the real card until it asks for the signature, or as far as it is told. */
export async function workCard(page: Page, walk: Walk): Promise<number> {
  let made = 0;
  for (let unknown = 0; made < (walk.steps ?? 200); made += 1) {
    const here = page.getByRole('region', { name: 'Step', exact: true });
    await expect(heading(page)).toBeVisible();
    const title = (await heading(page).textContent()) ?? '';
    if (title === 'Sign and close') return made;
    const anyway = here.getByRole('button', { name: 'It was done; sign this all the same' });
    if (await anyway.isVisible()) await anyway.click();
    const before = page.url();
    if (!(await signStep(page, title, walk))) {
      // The card may have moved on between two looks at it: looked at again, before it is a step nobody knows.
      unknown += 1;
      if (unknown > 20) throw new Error(`the walk does not know how to sign “${title}”`);
      await page.waitForTimeout(250);
      made -= 1;
      continue;
    }
    unknown = 0;
    await expect
      .poll(async () => `${page.url()} ${(await heading(page).textContent()) ?? ''}`)
      .not.toBe(`${before} ${title}`);
  }
  return made;
}

/** Signs the step that is shown; false where nothing of what a card asks for is on it. */
async function signStep(page: Page, title: string, walk: Walk): Promise<boolean> {
  const here = page.getByRole('region', { name: 'Step', exact: true });
  const seen = async (name: string | RegExp, role: 'button' | 'group' | 'link' = 'button') =>
    here
      .getByRole(role, { name, exact: typeof name === 'string' })
      .first()
      .isVisible();
  const next = here.getByRole('button', { name: 'Next step' });
  const done = async (made: Promise<void>) => made.then(() => true);
  if (await next.isVisible()) return done(next.click());
  if (await seen('Done')) return done(here.getByRole('button', { name: 'Done', exact: true }).click());
  if (await seen('What is found', 'group')) {
    const found = Object.entries(walk.finds ?? {}).find(([words]) => title.includes(words))?.[1];
    const states = here.getByRole('group', { name: 'What is found' }).getByRole('button');
    if (found === undefined) return done(states.first().click());
    await states.filter({ hasText: new RegExp(`^${found}$`) }).click();
    const add = here.getByRole('button', { name: 'Add it to the job' });
    await add.click();
    await expect(add).toBeHidden();
    return done(next.click());
  }
  if (await seen('Where the fluid stands', 'group')) {
    // A level that wear explains, or a little higher.
    const told = (await here.getByText(/explains about \d+ mL/).textContent()) ?? '';
    const quarters = Math.floor(Number(/about (\d+) mL/.exec(told)?.[1]) / 25);
    const name = ['MAX', 'three quarters', 'half', 'a quarter'][quarters] ?? 'MIN';
    await here.getByRole('button', { name, exact: true }).click();
    return done(next.click());
  }
  if (await seen(/^Measure /, 'link')) return done(walk.measure());
  if (await here.getByLabel('Inner pad, mm').isVisible()) {
    const told = (await here.getByText(/^New [\d.]+ mm, limit/).textContent()) ?? '';
    const mm = /New ([\d.]+) mm/.exec(told)?.[1] ?? '';
    await here.getByLabel('Inner pad, mm').fill(mm);
    await here.getByLabel('Outer pad, mm').fill(mm);
    return done(here.getByRole('button', { name: 'Save both' }).click());
  }
  if (await here.getByLabel('Thinnest point, mm').isVisible()) {
    const told = (await here.getByText(/^Discard/).textContent()) ?? '';
    await here.getByLabel('Thinnest point, mm').fill(String(Number(/Discard ([\d.]+)/.exec(told)?.[1]) + 0.8));
    return done(here.getByRole('group', { name: 'Number pad' }).getByRole('button', { name: 'Save' }).click());
  }
  if (await here.getByLabel(/^Reached/).isVisible()) return done(torque(page));
  if (await seen('One stop made')) {
    const asked = Number(/of (\d+)/.exec((await here.getByText(/^\d+ of \d+$/).textContent()) ?? '')?.[1]);
    for (let i = 0; i < asked; i += 1) await here.getByRole('button', { name: 'One stop made' }).click();
    return done(here.getByRole('button', { name: 'Bedded in' }).click());
  }
  return false;
}

/** Reads the torque off the card as a person does, takes a wrench that reaches it, and types what was reached. */
async function torque(page: Page): Promise<void> {
  const here = page.getByRole('region', { name: 'Step', exact: true });
  const main =
    (await here
      .getByText(/^[\d.]+( to [\d.]+)? (N·m|lbf·ft)/)
      .first()
      .textContent()) ?? '';
  const value = /^([\d.]+)/.exec(main)?.[1] ?? '';
  const wrench = here.getByLabel('Wrench in hand');
  if (((await wrench.textContent()) ?? '').includes('choose the wrench')) await choose(wrench, 'Creamery long');
  await here.getByLabel(/^Reached/).fill(value);
  await here.getByLabel(/^Reached/).press('Enter');
}

/** Everything that waits on this device has been sent. */
export const allSent = (page: Page) => expect(page.getByText(/\d+ to send/)).toBeHidden();

/** Closes the job from the end of its card. */
export async function signAndClose(page: Page, odometer: string): Promise<void> {
  await allSent(page);
  await page.getByLabel('Odometer, mi').fill(odometer);
  await page.getByRole('button', { name: 'Sign and close the job' }).click();
}

/** The text of a job's record. */
export async function recordOf(page: Page, app: App, jobId: string): Promise<string> {
  const answer = await page.request.get(`${app.url}/api/jobs/${jobId}/record.pdf`);
  expect(answer.headers()['content-type']).toContain('application/pdf');
  const document = await getDocument({ data: new Uint8Array(await answer.body()), verbosity: 0 }).promise;
  const pages: string[] = [];
  for (let i = 1; i <= document.numPages; i += 1) {
    const { items } = await (await document.getPage(i)).getTextContent();
    pages.push(items.map((item) => ('str' in item ? item.str : '')).join(' '));
  }
  return pages.join(' ').replace(/\s+/g, ' ');
}

/** Says on its screen how an axle of a model is built: what each list is to say. */
export async function buildAxle(
  page: Page,
  app: App,
  { model, axle, ...lists }: { model: string; axle: number } & Record<string, string | number>,
): Promise<void> {
  await page.goto(`${app.url}/shop-policy?view=models`);
  await page.getByRole('button', { name: `Change ${model}` }).click();
  const dialog = page.getByRole('dialog', { name: `How ${model} is built` });
  const group = dialog.getByRole('group', { name: `Axle ${axle}` });
  for (const [list, option] of Object.entries(lists))
    await choose(group.getByRole('combobox', { name: list }), String(option));
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
}

/** Odometer expected of a unit today, and a bit. */
export async function odometerOf(page: Page, app: App, unit: string): Promise<string> {
  const answer = await page.request.get(`${app.url}/api/vehicles/${unit}`);
  return String(((await answer.json()) as { odometerNowMi: number }).odometerNowMi + 2);
}

/** Puts four readings of an axle on record, by another device. */
export async function measured(page: Page, app: App, unit: string, axle: number, mm: number): Promise<void> {
  const gauges = (await (await page.request.get(`${app.url}/api/gauges`)).json()) as {
    items: { id: string; unit: string }[];
  };
  const gaugeId = gauges.items.find((one) => one.unit === 'mm')?.id;
  const readings = (['left', 'right'] as const).flatMap((side) =>
    (['inner', 'outer'] as const).map((pad) => ({ id: crypto.randomUUID(), axle, side, pad, thickness: `${mm} mm` })),
  );
  const inspection = {
    id: crypto.randomUUID(),
    unit,
    gaugeId,
    date: '2026-11-20',
    odometer: `${await odometerOf(page, app, unit)} mi`,
  };
  const answer = await page.request.post(`${app.url}/api/readings`, { data: { inspection, readings } });
  expect(answer.status()).toBe(201);
}
