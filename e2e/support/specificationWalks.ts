import { choose } from './choose.mjs';
import type { Page } from '@playwright/test';
import { withCameraOn } from './camera.ts';
import { expect, signIn, test, type App } from './app.ts';

export const sheetOf = (page: Page, unit: string, axle: number) =>
  page.getByRole('article', { name: `Bench sheet ${unit}, axle ${axle}` });
export const rowOf = (page: Page, joint: string) =>
  page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: joint }) });
export const waiting = (page: Page, name: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('heading', { name }) });
export const view = async (page: Page, app: App, name: string) => page.goto(`${app.url}/specifications?view=${name}`);

/** Whether the page is wider than the screen. */
const overflows = (page: Page) =>
  page.evaluate(() => document.documentElement.scrollWidth > document.documentElement.clientWidth);

/** What a coordinator and a technician do with specifications, declared once for every size of screen. */
export function declareSpecificationWalks(viewport: { width: number; height: number }): void {
  test('a label is scanned, and its sheet opens', async ({ app }) => {
    await withCameraOn(
      `${app.url}/measure/T07`,
      async (page) => {
        await signIn(page, app, 'technician');
        await page.goto(`${app.url}/specifications`);
        await page.getByRole('button', { name: 'Scan label' }).click();
        await expect(sheetOf(page, 'T07', 1)).toBeVisible();
        await page.getByRole('button', { name: 'Axle 3' }).click();
        await expect(sheetOf(page, 'T07', 3)).toContainText('Unknown: Pad retainer bolt');
        const small = await page
          .getByRole('main')
          .getByRole('button')
          .evaluateAll((buttons) =>
            buttons
              .filter(
                (one) =>
                  one.getBoundingClientRect().height > 0 &&
                  one.getBoundingClientRect().height < 48 &&
                  !one.closest('[role="group"]'),
              )
              .map(({ textContent }) => textContent),
          );
        expect(small).toEqual([]);
        expect(await overflows(page)).toBe(false);
      },
      viewport,
    );
  });

  test('the second person types blind, is told what differs and not what it is, and releases through a cut network', async ({
    page,
    context,
    app,
  }) => {
    const name = 'Tarnbrook Drover 4x4, axle 1: Bracket bolt';
    await signIn(page, app, 'technician');
    await page.goto(`${app.url}/specifications?unit=P06&axle=1`);
    await expect(rowOf(page, 'Bracket bolt')).toContainText('130 lbf·ft');
    await page.getByRole('radio', { name: /^To release/ }).click();
    const item = waiting(page, name);
    await expect(item).toContainText('entered by Maren Ashdown');
    await expect(item).not.toContainText('155');
    await item.getByRole('button', { name: 'Type it from the document' }).click();
    expect(await overflows(page)).toBe(false);
    await item.getByLabel('Torque, nominal').fill('150');
    await item.getByRole('button', { name: 'Compare and release' }).click();
    await expect(item.getByText('The unit of the document must be chosen.')).toBeVisible();
    await choose(item.getByLabel('Unit of the document'), 'lbf·ft');
    await item.getByLabel('Stated in another unit too').fill('210 Nm');
    await item.getByRole('button', { name: 'Compare and release' }).click();
    await expect(item.getByText('It is not released: Nominal differs')).toBeVisible();
    await expect(item).not.toContainText('155');
    // The network is cut between typing and releasing: nothing is half-released, and what was typed stays.
    await item.getByLabel('Torque, nominal').fill('155');
    await context.setOffline(true);
    await item.getByRole('button', { name: 'Compare and release' }).click();
    await expect(item.getByText('What you typed is still here')).toBeVisible();
    await context.setOffline(false);
    await item.getByRole('button', { name: 'Compare and release' }).click();
    await expect(page.getByText('Released: it counts from now on.')).toBeVisible();
    await expect(item).toHaveCount(0);
    await page.goto(`${app.url}/specifications?unit=P04&axle=1`);
    await expect(rowOf(page, 'Bracket bolt')).toContainText('155 lbf·ft');
    // Northfold's wrench ends at 130: only the adapter on an arm reaches, set by the arms' ratio.
    await expect(rowOf(page, 'Bracket bolt')).toContainText(
      'Northfold half-inch with Open end 21 mm on an arm in line, set to 128 lbf·ft',
    );

    // Every axle done on the old figure is flagged, and settled once: one by itself, the rest together with a reason.
    await view(page, app, 'changed');
    const change = page.getByRole('region', { name: 'Tarnbrook Drover 4x4, axle 1: Bracket bolt' });
    await expect(change).toContainText('Torque 130 lbf·ft → 155 lbf·ft');
    const jobs = change.getByRole('listitem');
    const before = await jobs.count();
    expect(before).toBeGreaterThan(5);
    const unit = (await jobs.first().getByRole('link').textContent()) ?? '';
    await jobs.first().getByLabel(`Note on ${unit}`).fill('155 reached, marked');
    await jobs.first().getByRole('button', { name: 'Checked: it holds' }).click();
    await expect(jobs).toHaveCount(before - 1);
    const together = change.getByRole('group', { name: 'All of them together' });
    await expect(together.getByRole('button', { name: 'Not needed' })).toBeDisabled();
    await together.getByLabel('Reason for all of them').fill('All bolts were marked at 155 by habit');
    await together.getByRole('button', { name: 'Not needed' }).click();
    await expect(page.getByText('No job waits')).toBeVisible();
    await view(page, app, 'library');
    await page.getByRole('button', { name: /^Tarnbrook Drover 4x4/ }).click();
    await page.getByRole('button', { name: 'Bracket bolt' }).click();
    await expect(
      page.getByText(/Revision 2: released, counts now.*typed again and released by Tobi Varga/),
    ).toBeVisible();
    await expect(page.getByText('Revision 1: replaced by a later one')).toBeVisible();
  });

  test('a document that contradicts itself is settled by whoever releases', async ({ page, app }) => {
    await signIn(page, app);
    await view(page, app, 'to-release');
    const item = waiting(page, 'Ostrey Carrier 35, axle 2: Hose joint');
    await item.getByRole('button', { name: 'Type it from the document' }).click();
    await choose(item.getByLabel('Unit of the document'), 'N·m');
    await item.getByLabel('Torque, nominal').fill('30');
    await item.getByLabel('Stated in another unit too').fill('27 ft-lb');
    await item.getByRole('button', { name: 'Compare and release' }).click();
    await expect(
      item.getByText(/Both of you typed alike, but the document contradicts itself.*differ by 22 %/),
    ).toBeVisible();
    await expect(item.getByRole('button', { name: 'Settle and release' })).toBeDisabled();
    await item.getByLabel('How is that known?').fill('The table on page 3 says 30 N·m');
    // Neither figure is proposed: it must be chosen.
    await expect(item.getByRole('button', { name: 'Settle and release' })).toBeDisabled();
    await item.getByRole('radio', { name: '30 N·m' }).click();
    await item.getByRole('button', { name: 'Settle and release' }).click();
    await expect(page.getByText('Released: it counts from now on.')).toBeVisible();
    await page.goto(`${app.url}/specifications?unit=V03&axle=2`);
    await expect(rowOf(page, 'Hose joint')).toContainText('30 N·m');
  });

  test('a torque no wrench reaches is told before the job, and so is a lapsed calibration', async ({ page, app }) => {
    await signIn(page, app);
    // On the road, on the lane of a near job, and in the panel.
    await page.getByPlaceholder('Find unit /').or(page.getByLabel('Find a unit')).first().fill('T16');
    await expect(page.getByText('no wrench reaches').first()).toBeVisible();
    await expect(page.getByText('Northfold has no wrench for', { exact: false })).toBeVisible();
    await view(page, app, 'gaps');
    const nuts = page.getByRole('row').filter({ hasText: 'Wheel nut' }).filter({ hasText: 'Northfold' });
    await expect(nuts).toContainText(
      'The largest wrench ends at 176 N·m: a wrench that covers 650 N·m is needed, or a multiplier of 3.7 to 1 or more',
    );
    await expect(page.getByRole('row').filter({ hasText: 'Brake chamber nut' })).toContainText(
      'short of the nominal though the document allows from 165 N·m',
    );
    await expect(nuts).toContainText('In reach at Creamery yard, Saltmarsh depot');
    expect(await overflows(page)).toBe(false);
    const lapsed = page.getByRole('row').filter({ hasText: 'Saltmarsh medium' });
    await expect(lapsed).toContainText('its calibration was due on 31 Oct 2026');
    await lapsed.getByRole('link', { name: 'Have it calibrated' }).click();
    expect(await overflows(page)).toBe(false);
    await page.getByRole('button', { name: 'Edit Saltmarsh medium' }).click();
    await page.getByLabel('Next due').fill('2027-11-20');
    await page.getByRole('button', { name: 'Record the calibration' }).click();
    await expect(page.getByRole('row').filter({ hasText: 'Saltmarsh medium' })).toContainText('due 20 Nov 2027');

    await page.getByRole('button', { name: 'Put a tool on record …' }).click();
    const form = page.getByRole('dialog');
    await form.getByRole('radio', { name: 'multiplier' }).click();
    await form.getByLabel('Name').fill('Northfold multiplier');
    await choose(form.getByLabel('Depot'), 'Northfold');
    await form.getByLabel('Output at most').fill('1000');
    await form.getByLabel('Calibration due').fill('2027-05-01');
    await form.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(form.getByRole('alert')).toBeVisible();
    await form.getByLabel('Ratio, output over input').fill('4.5');
    await form.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(page.getByRole('row').filter({ hasText: 'Northfold multiplier' })).toContainText(
      'multiplier 4.5 to 1',
    );
    await view(page, app, 'gaps');
    await expect(page.getByText('None: every released torque is in reach where it is needed.')).toBeVisible();
  });
}
