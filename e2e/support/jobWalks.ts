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

const step = (page: Page) => page.getByRole('region', { name: 'Step', exact: true });
const heading = (page: Page) => step(page).getByRole('heading', { level: 1 });

/** What stands on the card, read in one look: two looks may see two steps. */
interface Shown {
  /** Which step it is: its place and what it says. */
  which: string;
  title: string;
  /** What can be pressed, filled or chosen from, by name. */
  buttons: string[];
  fields: string[];
  groups: string[];
  links: string[];
}

async function lookedAt(page: Page): Promise<Shown> {
  await expect(heading(page)).toBeVisible();
  return step(page).evaluate((region) => {
    const said = (selector: string) =>
      [...region.querySelectorAll<HTMLElement>(selector)]
        .filter((one) => one.checkVisibility())
        .map((one) => one.getAttribute('aria-label') ?? one.textContent.trim());
    const title = region.querySelector('h1')?.textContent ?? '';
    const place = region.querySelector('article')?.getAttribute('aria-label') ?? '';
    return {
      which: `${place}: ${title}`,
      title,
      buttons: said('button:enabled'),
      fields: said('label'),
      groups: said('[role=group]'),
      links: said('a'),
    };
  });
}

/** Signs step after step on the real card until it asks for the signature, or as far as it is told. */
export async function workCard(page: Page, walk: Walk): Promise<number> {
  let made = 0;
  for (let unknown = 0; made < (walk.steps ?? 200); made += 1) {
    const shown = await lookedAt(page);
    if (shown.title === 'Sign and close') return made;
    if (shown.buttons.includes(ANYWAY)) {
      await step(page).getByRole('button', { name: ANYWAY }).click();
      made -= 1;
      continue;
    }
    if (!(await signStep(page, shown, walk))) {
      // The card may be on its way: looked at again, before it is a step nobody knows.
      unknown += 1;
      if (unknown > 20) throw new Error(`the walk does not know how to sign “${shown.title}”`);
      await page.waitForTimeout(250);
      made -= 1;
      continue;
    }
    unknown = 0;
    await expect.poll(async () => (await lookedAt(page)).which, { intervals: [20, 50, 100] }).not.toBe(shown.which);
  }
  return made;
}

const ANYWAY = 'It was done; sign this all the same';

/** Signs the step that is shown; false where nothing of what a card asks for is on it. */
async function signStep(page: Page, { title, buttons, fields, groups, links }: Shown, walk: Walk): Promise<boolean> {
  const here = step(page);
  const next = here.getByRole('button', { name: 'Next step' });
  const done = async (made: Promise<void>) => made.then(() => true);
  if (buttons.includes('Next step')) return done(next.click());
  if (buttons.includes('Done')) return done(here.getByRole('button', { name: 'Done', exact: true }).click());
  if (groups.includes('What is found')) {
    const found = Object.entries(walk.finds ?? {}).find(([words]) => title.includes(words))?.[1];
    const states = here.getByRole('group', { name: 'What is found' }).getByRole('button');
    if (found === undefined) return done(states.first().click());
    await states.filter({ hasText: new RegExp(`^${found}$`) }).click();
    const add = here.getByRole('button', { name: 'Add it to the job' });
    await add.click();
    await expect(add).toBeHidden();
    return done(next.click());
  }
  if (groups.includes('Where the fluid stands')) {
    // A level that wear explains, or a little higher.
    const told = (await here.getByText(/explains about \d+ mL/).textContent()) ?? '';
    const quarters = Math.floor(Number(/about (\d+) mL/.exec(told)?.[1]) / 25);
    const name = ['MAX', 'three quarters', 'half', 'a quarter'][quarters] ?? 'MIN';
    await here.getByRole('button', { name, exact: true }).click();
    return done(next.click());
  }
  if (links.some((name) => name.startsWith('Measure '))) return done(walk.measure());
  if (fields.includes('Inner pad, mm')) {
    const told = (await here.getByText(/^New [\d.]+ mm, limit/).textContent()) ?? '';
    const mm = /New ([\d.]+) mm/.exec(told)?.[1] ?? '';
    await here.getByLabel('Inner pad, mm').fill(mm);
    await here.getByLabel('Outer pad, mm').fill(mm);
    return done(here.getByRole('button', { name: 'Save both' }).click());
  }
  if (fields.includes('Thinnest point, mm')) {
    const told = (await here.getByText(/^Discard/).textContent()) ?? '';
    await here.getByLabel('Thinnest point, mm').fill(String(Number(/Discard ([\d.]+)/.exec(told)?.[1]) + 0.8));
    return done(here.getByRole('group', { name: 'Number pad' }).getByRole('button', { name: 'Save' }).click());
  }
  if (fields.some((name) => name.startsWith('Reached'))) return done(torque(page));
  if (buttons.includes('One stop made')) {
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
