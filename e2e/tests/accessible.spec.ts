/** Every route at three sizes in both themes: nothing that axe finds, best practice included, and nothing past the edge. */
import { expect, type Page } from '@playwright/test';
import { faultsOf } from '../support/accessible.ts';
import { signIn, signInAtOnce, test } from '../support/app.ts';

// The pages are only looked at: no test here waits for what another wrote.
test.describe.configure({ mode: 'parallel' });

const SIZES = [
  { width: 1280, height: 800 },
  { width: 1024, height: 768 },
  { width: 390, height: 844 },
];
/** What a page of 1,280 px has left where it is magnified four times. */
const MAGNIFIED = { width: 320, height: 256 };
/** What reaches past the right edge, where it does not scroll by itself (a table, the road). */
const pastTheEdge = (page: Page) =>
  page.evaluate(() => {
    const scrolls = (element: Element) => {
      for (let up: Element | null = element.parentElement; up && !up.matches('main'); up = up.parentElement)
        if (/auto|scroll|hidden/.test(getComputedStyle(up).overflowX) && up.scrollWidth > up.clientWidth + 1)
          if (!up.matches('main > div')) return true;
      return false;
    };
    return [...document.querySelectorAll('main *')]
      .filter((one) => {
        const { right, width, height } = one.getBoundingClientRect();
        return width > 0 && height > 0 && right > window.innerWidth + 1 && !scrolls(one);
      })
      .filter((one) => !one.closest('.sr-only') && getComputedStyle(one).position !== 'absolute')
      .map((one) => `${one.tagName} ${one.textContent.slice(0, 40)}`)
      .slice(0, 3);
  });

/** Another size, and the frames in which the page finds out what has to scroll there; a browser may draw none for long. */
async function resize(page: Page, size: { width: number; height: number }): Promise<void> {
  await page.setViewportSize(size);
  await page.evaluate(() => {
    const drawn = new Promise((done) =>
      requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 100))),
    );
    return Promise.race([drawn, new Promise((done) => setTimeout(done, 5000))]);
  });
}

async function expectAccessible(page: Page): Promise<void> {
  for (const size of SIZES) {
    await resize(page, size);
    expect(await faultsOf(page, { again: size !== SIZES[0] }), `${size.width} px`).toEqual([]);
    // The other theme: only colours differ; a tablet shows the desk's.
    if (size.width === 1024) continue;
    await page.evaluate(() => {
      const { dataset } = document.documentElement;
      if (dataset.theme === 'bay') delete dataset.theme;
      else dataset.theme = 'bay';
    });
    const other = await faultsOf(page, { rules: ['color-contrast'], again: true });
    expect(other, `${size.width} px, other theme`).toEqual([]);
    await page.evaluate(() => {
      const { dataset } = document.documentElement;
      if (dataset.theme === 'bay') delete dataset.theme;
      else dataset.theme = 'bay';
    });
    if (size.width === 390) expect(await pastTheEdge(page), '390 px').toEqual([]);
  }
  await resize(page, MAGNIFIED);
  expect(await pastTheEdge(page), 'magnified four times').toEqual([]);
}

for (const path of [
  '/',
  '/this-week',
  '/vehicles/V04',
  '/vehicles/V08/why/1',
  '/measure',
  '/measure/T01',
  '/measure/T01/sheet',
  '/questions',
  '/labels',
  '/import',
  '/gauges',
  '/gauges?view=studies',
  '/fleet',
  '/fleet?unit=P07',
  '/fleet/models',
  '/fleet/depots',
  '/fleet/people',
  '/fleet/gauges',
  '/records',
  '/jobs',
  '/jobs/learned',
  '/plan',
  '/plan?view=day',
  '/plan?view=looks',
  '/plan?view=shop',
  '/plan?view=calendars',
  '/parts',
  '/parts?view=shelves',
  '/parts?view=orders',
  '/parts?view=need',
  '/parts?view=catalogue',
  '/parts?view=record',
  '/shop-policy',
  '/shop-policy?view=models',
  '/shop-policy?view=rotors',
  '/duty',
  '/duty?view=trace',
  '/duty?view=feed',
  '/specifications?unit=T04&axle=1',
  '/specifications?view=library',
  '/specifications?view=to-release',
  '/specifications?view=changed',
  '/specifications?view=gaps',
  '/specifications?view=tools',
  '/specifications?view=limits',
  '/specifications?view=files',
  '/nowhere',
]) {
  test(`no accessibility fault on ${path}`, async ({ page, app }) => {
    await signInAtOnce(page, app);
    await page.goto(app.url + path);
    await expect(page.getByRole('heading').first()).toBeAttached();
    await page.waitForLoadState('networkidle');
    await expectAccessible(page);
  });
}

test('no accessibility fault on a plan, a visit held over another day, and what its cost is made of', async ({
  page,
  app,
}) => {
  test.setTimeout(300_000);
  await signIn(page, app);
  await page.goto(`${app.url}/plan`);
  await page.getByRole('button', { name: /^(Propose|Plan anew|Propose another)/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Propose', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Publish' })).toBeVisible({ timeout: 120_000 });
  const visit = page.locator('[data-visit]').first();
  await visit.click();
  await expectAccessible(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await visit.press('m');
  await visit.press('ArrowRight');
  await expect(page.getByText('← → ↑ ↓ another day')).toBeVisible();
  expect(await faultsOf(page), 'held').toEqual([]);
  await visit.press('Escape');
  await page.getByRole('button', { name: /USD$/ }).click();
  await expect(page.getByRole('dialog')).toContainText('Pad life given up');
  expect(await faultsOf(page), 'why').toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Drop it' }).click();
  await expect(page.getByText('Dropped.')).toBeVisible();
});

test('no accessibility fault on the sign-in', async ({ page, app }) => {
  await page.goto(`${app.url}/sign-in`);
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await expectAccessible(page);
});

test('no accessibility fault on a job and every kind of step of its card', async ({ page, app }) => {
  test.setTimeout(300_000);
  await signIn(page, app);
  await page.goto(`${app.url}/jobs`);
  await page.getByRole('link', { name: 'V21' }).click();
  await expect(page.getByRole('heading', { name: 'Its story' })).toBeVisible();
  await expectAccessible(page);
  const job = page.url();
  const answer = await page.request.get(job.replace('/jobs/', '/api/jobs/') + '/card');
  const { steps } = (await answer.json()) as { steps: { id: string; kind: string }[] };
  const kinds = new Map(steps.map(({ id, kind }) => [kind, id]));
  for (const id of [...kinds.values(), 'end']) {
    await resize(page, { width: 1024, height: 768 });
    await page.goto(`${job}/card?step=${encodeURIComponent(id)}`);
    await expect(
      page.getByRole('region', { name: 'Step', exact: true }).getByRole('heading', { level: 1 }),
    ).toBeVisible();
    expect(await faultsOf(page), id).toEqual([]);
    await resize(page, { width: 390, height: 844 });
    expect(await pastTheEdge(page), id).toEqual([]);
  }
});

for (const path of ['/questions', '/duty', '/measure/T01'])
  test(`what is chosen stands out where the system forces its colours, on ${path}`, async ({ page, app }) => {
    await signInAtOnce(page, app);
    await page.emulateMedia({ forcedColors: 'active' });
    await page.goto(app.url + path);
    const chosen = page.locator('main [aria-current]:not([aria-current="false"])').first();
    await expect(chosen).toBeVisible();
    const ground = (one: Element) => getComputedStyle(one).backgroundColor;
    const place = page.getByRole('navigation', { name: 'Places' }).locator('[aria-current="page"]');
    expect(await chosen.evaluate(ground)).toBe(await place.evaluate(ground));
    const others = page.locator('main nav button:not([aria-current]), main li button:not([aria-current="true"])');
    expect(await others.first().evaluate(ground)).not.toBe(await place.evaluate(ground));
  });
