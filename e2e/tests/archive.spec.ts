import { readFileSync } from 'node:fs';
import { expect, signIn, startServer, stop, test } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';

/** The whole record out of one installation, and into a second one that has nothing on record. */

const NEAREST = 25;

test('the archive goes into an empty installation, and Ahead shows the same marks', async ({ page, app, browser }) => {
  test.slow();
  await signIn(page, app);
  const marksOf = async (of: typeof page, url: string) => {
    await of.goto(`${url}/`);
    const posts = of.getByRole('button', { name: /axle \d: mark/ });
    await expect(posts.first()).toBeVisible();
    // Those nearest: how many more are drawn depends on the room there is.
    const told = await posts.evaluateAll((all) => all.map((post) => post.getAttribute('aria-label') ?? ''));
    expect(told.length).toBeGreaterThan(NEAREST);
    return told.slice(0, NEAREST);
  };
  const before = await marksOf(page, app.url);
  await page.goto(`${app.url}/fleet/archive`);
  await expect(page.getByText(/There is a record here already/)).toBeVisible();
  const waiting = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download the archive' }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('mile-mark-2026-11-20.zip');
  const file = await download.path();
  expect(readFileSync(file).subarray(0, 2).toString()).toBe('PK');

  await withDatabase({ demo: false, today: '2026-11-20' }, async (databaseUrl) => {
    const second = await startServer(databaseUrl, { demo: false, today: '2026-11-20' });
    const context = await browser.newContext();
    try {
      const other = await context.newPage();
      await other.goto(`${second.url}/sign-in`);
      await other.getByLabel(/name/i).first().fill('Maren');
      await other.getByLabel('E-mail address').fill('coordinator@linden-vale.example');
      await other.getByLabel('Password').fill('a word of the new place');
      await other.getByRole('button', { name: /account/i }).click();
      await expect(other.getByRole('link', { name: 'Fleet', exact: true })).toBeVisible();
      await other.goto(`${second.url}/fleet/archive`);
      const chosen = other.getByLabel('Archive, as it was downloaded');
      await chosen.setInputFiles({
        name: 'sheet.zip',
        mimeType: 'application/zip',
        buffer: Buffer.from('date,unit\n'),
      });
      await other.getByRole('button', { name: 'Take it in' }).click();
      await expect(other.getByText(/no ZIP archive, or it breaks off/)).toBeVisible();
      await chosen.setInputFiles(file);
      await other.getByRole('button', { name: 'Take it in' }).click();
      // A whole record is parsed and written before it says so.
      await expect(other.getByText(/^The record is in: [\d,]+ rows/)).toBeVisible({ timeout: 120_000 });
      expect(await marksOf(other, second.url)).toEqual(before);
      // Who took it in is the person they were, with the password of the new place.
      await expect(other.getByRole('button', { name: /Maren Ashdown/ })).toBeVisible();
    } finally {
      await context.close();
      await stop(second);
    }
  });
});
