/** Somebody who works at one depot: what is at others is neither shown to them nor taken from them. */
import { expect, signIn, test } from '../support/app.ts';
import { newPerson } from '../support/people.ts';
import { faultsOf } from '../support/accessible.ts';

test('who works at one depot sees it alone, is told so at another’s vehicle, and sees all once nothing limits them', async ({
  page,
  app,
  browser,
}) => {
  await signIn(page, app);
  const form = await newPerson(page, app, { name: 'Una Fallow', address: 'una', password: 'milk-before-dawn' });
  await form.getByRole('checkbox', { name: 'Northfold' }).click();
  await expect(form.getByText(/neither shown to them nor taken from them/)).toBeVisible();
  await form.getByRole('button', { name: 'Add', exact: true }).click();
  const row = page.getByRole('row', { name: /Una Fallow/ });
  await expect(row.getByRole('cell', { name: 'Northfold', exact: true })).toBeVisible();
  expect(await faultsOf(page), 'people').toEqual([]);

  const { items } = (await (await page.request.get(`${app.url}/api/vehicles`)).json()) as {
    items: { unit: string; depot: string }[];
  };
  const at = (depot: string) => items.find((one) => one.depot === depot)?.unit ?? '';
  const [home, away] = [at('Northfold'), at('Saltmarsh depot')];
  const other = await (await browser.newContext()).newPage();
  await signIn(other, app, 'una');
  await other.goto(`${app.url}/fleet`);
  await expect(other.getByText(home, { exact: true })).toBeVisible();
  await expect(other.getByText(away, { exact: true })).toHaveCount(0);
  await other.goto(`${app.url}/vehicles/${away}`);
  await expect(other.getByText('This is at another depot; you work at Northfold.')).toBeVisible();
  await other.goto(`${app.url}/measure/${away}`);
  await expect(other.getByText(`There is no vehicle ${away} at Northfold`)).toBeVisible();
  await other.goto(`${app.url}/`);
  await expect(other.getByRole('combobox', { name: 'Depot' })).toBeVisible();
  await other.getByRole('combobox', { name: 'Depot' }).click();
  await expect(other.getByRole('option')).toHaveText(['All depots', 'Northfold']);
  await other.keyboard.press('Escape');
  await other.getByRole('button', { name: /Una Fallow/ }).click();
  await expect(other.getByRole('dialog', { name: 'Una Fallow, technician, Northfold' })).toBeVisible();

  await row.getByRole('button', { name: 'Edit Una Fallow' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: 'Northfold' }).click();
  await expect(dialog.getByText('None ticked: at all depots.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(row.getByRole('cell', { name: 'all depots' })).toBeVisible();
  await other.goto(`${app.url}/vehicles/${away}`);
  await expect(other.getByRole('heading', { name: away }).first()).toBeVisible();
  await other.context().close();
});
