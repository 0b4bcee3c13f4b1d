import { expect, signIn, test } from '../support/app.ts';
import { choose } from '../support/choose.mjs';

/** What jobs rest on beside readings: how models are built, what rotors cost, who is here, which bay is free. */

test('how a model is built is said once, shown as it will be read, and followed by its cards', async ({
  page,
  app,
}) => {
  await signIn(page, app);
  await page.goto(`${app.url}/shop-policy`);
  await page.getByRole('radio', { name: 'How models are built' }).click();
  await page.getByRole('button', { name: 'Change Veldring 26 tanker' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('Air disc with spring brakes.').first()).toBeVisible();
  await choose(dialog.getByRole('group', { name: 'Axle 2' }).getByRole('combobox', { name: 'Wear sensor' }), 'right');
  await expect(dialog.getByText('Was: air disc. Will be: air disc, wear sensor right')).toBeVisible();
  await dialog.getByLabel('Where it is lifted').fill('Axle beam, inside the spring clamps.');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByText('Axle beam, inside the spring clamps.')).toBeVisible();
  // T09 is proposed for its axle 2: its page and its card have both.
  await page.goto(`${app.url}/jobs?unit=T09`);
  await page.getByRole('link', { name: 'T09' }).first().click();
  const takes = page.getByRole('region', { name: 'What it takes' });
  await expect(takes.getByText('Axle beam, inside the spring clamps.')).toBeVisible();
  await expect(takes.getByText(/lifting gear for wheel end and caliper/)).toBeVisible();
  await page.getByRole('link', { name: 'Service card' }).click();
  await expect(page.getByRole('button', { name: /Sensor unplugged/ })).toHaveCount(1);
});

test('a reservoir that can’t be is refused at its field, and nothing typed is lost', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/shop-policy?view=models`);
  await page.getByRole('button', { name: 'Change Tarnbrook Drover 4x4' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Reservoir, MIN to MAX, mL').fill('5');
  await dialog.getByLabel('Where it is lifted').fill('Frame rail');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('From 10 mL is accepted.').first()).toBeVisible();
  await expect(dialog.getByLabel('Where it is lifted')).toHaveValue('Frame rail');
});

test('what rotors cost is entered as money, and an odd figure is refused where it stands', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/shop-policy?view=rotors`);
  const machined = page.getByLabel('Machined, Heavy trucks');
  await expect(machined).toHaveValue('280.00');
  await machined.fill('cheap');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('An amount such as 310.00 is accepted.')).toHaveCount(1);
  await machined.fill('295.50');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Rotors are weighed with these prices from now on.')).toBeVisible();
  await page.reload();
  await expect(machined).toHaveValue('295.50');
  await expect(page.getByLabel('Scuffed, Pickups and vans')).toHaveValue('25.00');
});

test('what closed jobs taught stands with its range, and leads to the job before a fault', async ({ page, app }) => {
  await signIn(page, app, 'technician');
  await page.goto(`${app.url}/jobs`);
  await page.getByRole('link', { name: 'What jobs taught' }).click();
  const row = page.getByRole('row', { name: /pads, one axle vans/ });
  await expect(row).toContainText(/\d h( \d\d min)? ?\d h( \d\d min)? to \d h/);
  await expect(page.getByRole('row', { name: /noise after new pads pads \d+ of \d+/ })).toContainText(/% \(.* to .*\)/);
  await expect(page.getByRole('row', { name: /clip set vans/ })).toBeVisible();
  await page
    .getByRole('row', { name: /Petra Lindmoor/ })
    .first()
    .getByRole('link')
    .click();
  await expect(page.getByRole('heading', { name: /^Job, / })).toBeVisible();
});

test('a bay that is taken that day is said before it is booked', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/jobs?unit=P12`);
  const stands = (await page.getByRole('row', { name: /P12/ }).textContent()) ?? '';
  const bay = /Bay \d/.exec(stands)?.[0] ?? '';
  expect(bay).not.toBe('');
  // Another vehicle of the same depot, on the same day.
  const { items } = (await (await page.request.get(`${app.url}/api/jobs?unit=P12&state=booked`)).json()) as {
    items: { depot: string; day: string }[];
  };
  const vehicles = (await (await page.request.get(`${app.url}/api/vehicles`)).json()) as {
    items: { unit: string; depot: string }[];
  };
  const other = vehicles.items.find(({ unit, depot }) => unit.startsWith('V') && depot === items[0]?.depot)?.unit ?? '';
  await page.goto(`${app.url}/vehicles/${other}`);
  await expect(page.getByRole('heading', { name: other, exact: true })).toBeVisible();
  await page.keyboard.press('b');
  const dialog = page.getByRole('dialog', { name: `Book ${other}` });
  await dialog.getByLabel('Day').fill(items[0]?.day ?? '');
  await expect(dialog.getByText(/^That day at .*P12 in/)).toBeVisible();
  await dialog.getByLabel('Bay', { exact: true }).fill(bay.toUpperCase());
  await expect(dialog.getByRole('status')).toContainText(/^P12 is booked into BAY \d on/);
  await page.keyboard.press('Escape');
});

test('somebody leaves: their access ends, after it was asked twice', async ({ page, app }) => {
  await signIn(page, app);
  await page.goto(`${app.url}/fleet/people`);
  const name = 'Ebba Rowntree';
  await page.getByLabel('Name').first().fill(name);
  await page.getByRole('button', { name: 'Add', exact: true }).first().click();
  await page.getByRole('button', { name: `End the access of ${name}` }).click();
  await page.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByRole('row', { name: new RegExp(name) })).not.toContainText('left');
  await page.getByRole('button', { name: `End the access of ${name}` }).click();
  await page.getByRole('button', { name: 'End it' }).click();
  await expect(page.getByRole('row', { name: new RegExp(name) })).toContainText('left 20 Nov 2026');
  await expect(page.getByRole('button', { name: `End the access of ${name}` })).toHaveCount(0);
});

test('a forgotten password: a new one is told, their tablet is signed out, and they make one of their own', async ({
  page,
  app,
  browser,
}) => {
  const password = 'milk-before-dawn';
  await signIn(page, app);
  await page.goto(`${app.url}/fleet/people`);
  await page.getByLabel('Name').first().fill('Gudrun Pell');
  await page.getByLabel('E-mail address, if they sign in').fill('gudrun@dairy.example');
  await page.getByLabel('First password').fill(password);
  await page.getByRole('button', { name: 'Add', exact: true }).first().click();
  await expect(page.getByRole('button', { name: 'Edit Gudrun Pell' })).toBeVisible();
  const context = await browser.newContext();
  const tablet = await context.newPage();
  const signInAs = async (word: string) => {
    await tablet.getByLabel('E-mail address').fill('gudrun@dairy.example');
    await tablet.getByLabel('Password').fill(word);
    await tablet.getByRole('button', { name: 'Sign in' }).click();
  };
  await tablet.goto(`${app.url}/sign-in`);
  await signInAs(password);
  await expect(tablet.getByRole('heading', { level: 1 })).toBeVisible();

  await page.getByRole('button', { name: 'Edit Gudrun Pell' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/^New password/).fill('short');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toHaveText('At least 10 characters are accepted.');
  await dialog.getByLabel(/^New password/).fill('told over the counter');
  await expect(dialog.getByRole('status')).toContainText('signed out everywhere at once');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();

  // Another coordinator's page was quicker: both are shown, and what is typed stays.
  await page.getByRole('button', { name: 'Edit Gudrun Pell' }).click();
  await dialog.getByLabel('E-mail address').fill('pell@dairy.example');
  const { items } = (await (await page.request.get(`${app.url}/api/people`)).json()) as {
    items: { id: string; name: string; role: string; email: string | null }[];
  };
  const found = items.find(({ name }) => name === 'Gudrun Pell');
  if (!found) throw new Error('she is not on record');
  const { id, name, role, email } = found;
  const quicker = { name: 'Gudrun Pelle', role, email, seen: { name, role, email } };
  const answer = await page.request.put(`${app.url}/api/people/${id}`, { headers: { origin: app.url }, data: quicker });
  expect(answer.status()).toBe(200);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('On record now: Gudrun Pelle, technician, gudrun@dairy.example, at all depots.');
  await expect(dialog.getByLabel('E-mail address')).toHaveValue('pell@dairy.example');
  await dialog.getByLabel('E-mail address').fill('gudrun@dairy.example');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('button', { name: 'Edit Gudrun Pell', exact: true })).toBeVisible();

  await tablet.goto(`${app.url}/sign-in`);
  await signInAs(password);
  await expect(tablet.getByRole('alert')).toBeVisible();
  await signInAs('told over the counter');
  await expect(tablet.getByRole('heading', { level: 1 })).toBeVisible();
  await tablet.getByRole('button', { name: /^Gudrun Pell/ }).click();
  await tablet.getByRole('button', { name: 'Change my password …' }).click();
  await tablet.getByLabel('Present password').fill('not it');
  await tablet.getByLabel('New password').fill('known to me alone');
  await tablet.getByRole('button', { name: 'Change it' }).click();
  await expect(tablet.getByText('This is not your present password.')).toBeVisible();
  await tablet.getByLabel('Present password').fill('told over the counter');
  await tablet.getByRole('button', { name: 'Change it' }).click();
  await expect(tablet.getByText('your other devices are signed out')).toBeVisible();
  await expect(tablet.getByLabel('Present password')).toHaveCount(0);
  await context.close();
});
