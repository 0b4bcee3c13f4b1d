/**
 * How long it takes from a click until what was asked for stands on the screen, and how long Ahead takes to its first
 * posts in a browser that has never been here; prints JSON lines. Arguments: address of a running demo, its number of
 * vehicles. A pointer rests on what it clicks for a moment first, as a hand's does.
 */
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../support/chromium.mjs';

const [, , base, vehicles] = process.argv;
const RESTS_MS = 120;
const print = (name, value, unit) => console.log(JSON.stringify({ name, value: Math.round(value * 10) / 10, unit }));
const sorted = (times) => [...times].sort((a, b) => a - b);
const share = (times, part) => sorted(times)[Math.min(times.length - 1, Math.floor(times.length * part))];
const lanes = (page) => page.getByRole('group', { name: /^[PVT]\d+$/ });

const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
await page.goto(`${base}/sign-in`);
await page.getByLabel('E-mail address').fill('coordinator@linden-vale.example');
await page.getByLabel('Password').fill('milk-before-dawn');
await page.getByRole('button', { name: 'Sign in' }).click();
await lanes(page).first().waitFor();
await page.waitForLoadState('networkidle');

/** Clicks, and waits in the page itself until `shown` holds and nothing says that it is loading; ms until it is drawn. */
async function press(locator, shown, what) {
  await locator.hover();
  await page.waitForTimeout(RESTS_MS);
  return locator.evaluate(
    (element, [condition, wanted]) =>
      new Promise((resolve) => {
        const begun = performance.now();
        const conditions = {
          path: () => window.location.pathname.startsWith(wanted) && document.querySelector('main h1') !== null,
          panel: () => document.querySelector('aside')?.textContent.includes(wanted) === true,
          view: () => window.location.search.includes(wanted),
        };
        const isLoading = () =>
          [...document.querySelectorAll('main h2')].some(({ textContent }) => textContent.startsWith('Loading'));
        const look = () => {
          if (!conditions[condition]() || isLoading()) return requestAnimationFrame(look);
          // What is there now is drawn with the next frame.
          return requestAnimationFrame(() => resolve(performance.now() - begun));
        };
        element.click();
        look();
      }),
    [shown, what],
  );
}

const all = [];
const tell = (name, times) => {
  all.push(...times);
  print(`${name}, ${vehicles} vehicles: median`, share(times, 0.5), 'ms');
  print(`${name}, ${vehicles} vehicles: slowest of ${times.length}`, Math.max(...times), 'ms');
};

const places = await page
  .getByRole('navigation', { name: 'Places' })
  .getByRole('link')
  .evaluateAll((links) => links.map((link) => link.getAttribute('href')));
const toPlaces = [];
for (const address of [...places, ...places]) {
  const link = page.getByRole('navigation', { name: 'Places' }).locator(`a[href="${address}"]`);
  toPlaces.push(await press(link, 'path', address));
  if (process.env.EACH) console.error(address, Math.round(toPlaces.at(-1)));
  await page.waitForLoadState('networkidle');
}
tell('to another place', toPlaces);

const [onLanes, toVehicles, toWhy] = [[], [], []];
for (let row = 1; row <= 8; row += 1) {
  await page.goto(base);
  await lanes(page).nth(row).waitFor();
  await page.waitForLoadState('networkidle');
  const unit = await lanes(page).nth(row).getAttribute('aria-label');
  onLanes.push(await press(lanes(page).nth(row).getByRole('button').first(), 'panel', unit));
  const panel = page.getByRole('complementary');
  toWhy.push(await press(panel.locator(`a[href^="/vehicles/${unit}/why/"]`).first(), 'path', `/vehicles/${unit}/why/`));
  await page.goBack();
  await panel.waitFor();
  toVehicles.push(await press(panel.locator(`a[href="/vehicles/${unit}"]`).first(), 'path', `/vehicles/${unit}`));
}
tell('an axle on Ahead', onLanes);
tell('its Why', toWhy);
tell('its vehicle', toVehicles);
print(`all clicks, ${vehicles} vehicles: 95th percentile of ${all.length}`, share(all, 0.95), 'ms');

const cold = [];
for (let i = 0; i < 11; i += 1) {
  const fresh = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await fresh.addCookies(await context.cookies());
  const first = await fresh.newPage();
  // Looked for in the page itself, frame by frame, from its first line on; the frame after is the one that shows them.
  await first.addInitScript(() => {
    const look = () => {
      const posts = [...document.querySelectorAll('[role="group"] button')];
      if (posts.length === 0) requestAnimationFrame(look);
      else requestAnimationFrame(() => (window.posts_ = performance.now()));
    };
    requestAnimationFrame(look);
  });
  await first.goto(base);
  await lanes(first).first().waitFor();
  await first.waitForFunction(() => window.posts_ !== undefined);
  cold.push(await first.evaluate(() => window.posts_));
  await fresh.close();
}
print(
  `Ahead for the first time, ${vehicles} vehicles, to its first posts: median of ${cold.length}`,
  share(cold, 0.5),
  'ms',
);
print(`Ahead for the first time, ${vehicles} vehicles, to its first posts: slowest`, Math.max(...cold), 'ms');
await browser.close();
