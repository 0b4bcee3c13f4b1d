/** Opens Ahead in Chromium and scrolls it, and looks bench sheets up; prints JSON lines. Arguments: address of a running demo, its number of vehicles. */
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../support/chromium.mjs';

const [, , base, vehicles] = process.argv;
const print = (name, value, unit) => console.log(JSON.stringify({ name, value: Math.round(value * 10) / 10, unit }));
const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(`${base}/sign-in`);
await page.getByLabel('E-mail address').fill('coordinator@linden-vale.example');
await page.getByLabel('Password').fill('milk-before-dawn');
await page.getByRole('button', { name: 'Sign in' }).click();
const lane = page.getByRole('group', { name: /^[PVT]\d+$/ }).first();
await lane.waitFor();
const times = [];
for (let i = 0; i < 5; i += 1) {
  const started = performance.now();
  await page.goto(`${base}/`);
  await lane.waitFor();
  times.push(performance.now() - started);
}
times.sort((a, b) => a - b);
print(`Ahead with ${vehicles} vehicles opens, median of 5`, times[2], 'ms');
await page.evaluate(() => {
  window.frames_ = [];
  window.long_ = [];
  let last = performance.now();
  const tick = () => {
    const now = performance.now();
    window.frames_.push(now - last);
    last = now;
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
  new PerformanceObserver((list) => window.long_.push(...list.getEntries().map(({ duration }) => duration))).observe({
    entryTypes: ['longtask'],
  });
});
await page.mouse.move(500, 500);
for (let i = 0; i < 90; i += 1) {
  await page.mouse.wheel(0, 300);
  await page.waitForTimeout(16);
}
const { frames, long } = await page.evaluate(() => ({
  frames: window.frames_.sort((a, b) => a - b),
  long: window.long_,
}));
print(
  `Ahead with ${vehicles} vehicles scrolls: frame time, 95th percentile (software rendering)`,
  frames[Math.floor(frames.length * 0.95)],
  'ms',
);
print(`Ahead with ${vehicles} vehicles scrolls: tasks over 50 ms`, long.length, 'tasks');

// A bench sheet, from Enter until it stands there.
await page.goto(`${base}/specifications`);
const field = page.getByLabel(/^Unit number, and axle/);
await page.getByText('Next in this depot').waitFor();
const units = await page
  .getByRole('main')
  .getByRole('listitem')
  .getByRole('button')
  .evaluateAll((buttons) => buttons.map(({ textContent }) => (textContent ?? '').split(' ')[0] ?? ''));
const lookUps = [];
for (const unit of units) {
  await field.fill(`${unit} 1`);
  await page.evaluate((wanted) => {
    window.shown_ = undefined;
    document.addEventListener('keydown', () => (window.pressed_ = performance.now()), { once: true, capture: true });
    const label = `Bench sheet ${wanted}, axle 1`;
    const look = () => {
      if (document.querySelector(`article[aria-label="${label}"]`)) window.shown_ = performance.now();
      else requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  }, unit);
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => window.shown_ !== undefined);
  lookUps.push(await page.evaluate(() => window.shown_ - window.pressed_));
}
lookUps.sort((a, b) => a - b);
print(`bench sheet among ${vehicles} vehicles, from Enter to shown: median`, lookUps[lookUps.length >> 1], 'ms');
print(
  `bench sheet among ${vehicles} vehicles, from Enter to shown: slowest of ${lookUps.length}`,
  lookUps.at(-1),
  'ms',
);
await browser.close();
