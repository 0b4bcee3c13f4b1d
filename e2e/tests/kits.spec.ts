/** What a model’s kits are, what proposals rest on, and what an axle without a job asks for. */
import { expect, signIn, test } from '../support/app.ts';
import { kitOf, kitsOf, parts } from '../support/parts.ts';

test('a kit is changed by hand: refused where the brake can’t be so, then a version of its own, on the job too, and as usual again', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'parts');
  await parts(page, app, 'kits');
  const dialog = page.getByRole('dialog');
  await page.getByRole('combobox', { name: 'Model' }).click();
  await page.getByRole('option', { name: 'Veldring 26 tanker' }).click();
  const axle = page.getByRole('region', { name: 'Kits of axle 1' });
  await expect(page.getByText('as the catalogue and the shop’s policy give it')).toBeVisible();
  await expect(axle).toContainText('With every set of pads');
  await axle.getByRole('button', { name: 'Take something more …' }).first().click();
  await dialog.getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'brake hose' }).click();
  await dialog.getByLabel('Pieces a wheel (0: none)').fill('1');
  await dialog.getByLabel('Why').fill('cracked in two of three');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('This axle has an air brake: no hose, washer or fluid.');
  await dialog.getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'guide pin kit' }).click();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('The kits of Veldring 26 tanker are version 2.')).toBeVisible();
  await expect(axle).toContainText(/by hand since 20 Nov 2026, Ilse Quarrie: cracked in two of three/);
  await expect(page.getByRole('region', { name: 'Changed by hand' })).toContainText(
    'axle 1, with pads: guide pin kit, 1 a wheel.',
  );
  // T06 is booked for its front.
  const job = await kitOf(page, app, 'T06');
  await page.goto(`${app.url}/jobs/${job?.jobId ?? ''}`);
  const kit = page.getByRole('region', { name: 'Kit', exact: true });
  await expect(kit).toContainText('guide pin kit');
  await kit.getByRole('link', { name: 'Version 2 of the kits of Veldring 26 tanker' }).click();
  await axle.getByRole('button', { name: 'Change guide pin kit' }).first().click();
  await dialog.getByLabel('Why').fill('the new ones hold');
  await dialog.getByRole('button', { name: 'As usual again' }).click();
  await expect(page.getByText('The kits of Veldring 26 tanker are version 3.')).toBeVisible();
  expect((await kitOf(page, app, 'T06'))?.needs.map(({ kind }) => kind)).not.toContain('guide pin kit');
});

test('what proposals rest on is changed, and an axle without a job names what to order by when', async ({
  page,
  app,
}) => {
  await signIn(page, app, 'parts');
  await parts(page, app, 'orders');
  const terms = page.getByRole('region', { name: 'What orders rest on' });
  await expect(terms).toContainText('Enough over the lead time in 95 % of cases');
  await terms.getByRole('button', { name: 'Change …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Enough in so many cases, %').fill('120');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('Up to 99.9 % is accepted.');
  await dialog.getByLabel('Enough in so many cases, %').fill('97,5');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(terms).toContainText('in 97.5 % of cases');
  await expect(terms).toContainText('Since 20 Nov 2026, Ilse Quarrie.');
  // Of all vehicles one whose kit is short, as its panel tells it.
  const marks = (await (await page.request.get(`${app.url}/api/mile-marks`)).json()) as { items: { unit: string }[] };
  const busy = new Set((await kitsOf(page, app)).map(({ unit }) => unit));
  let told: { unit: string; axle: number; part: string } | undefined;
  for (const unit of new Set(marks.items.map((one) => one.unit))) {
    if (busy.has(unit)) continue;
    const { items } = (await (await page.request.get(`${app.url}/api/axle-kits?unit=${unit}`)).json()) as {
      items: { axle: number; orders: { part: string }[] }[];
    };
    const short = items.find(({ orders }) => orders.length > 0);
    if (short) told = { unit, axle: short.axle, part: short.orders[0]?.part ?? '' };
    if (told) break;
  }
  if (!told) throw new Error('every axle’s kit is there');
  await page.goto(`${app.url}/vehicles/${told.unit}?axle=${told.axle}`);
  await expect(page.getByText('Its kit would be short')).toBeVisible();
  await expect(page.getByText(new RegExp(`order \\d+ × ${told.part} (today|by )`))).toBeVisible();
  // As it was: walks that share this application read it.
  await parts(page, app, 'orders');
  await terms.getByRole('button', { name: 'Change …' }).click();
  await dialog.getByLabel('Enough in so many cases, %').fill('95');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(terms).toContainText('in 95 % of cases');
});
