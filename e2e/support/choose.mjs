/**
 * Chooses an option of a list by its words, as a person does: opens it, and takes the option.
 *
 * @param {import('@playwright/test').Locator} field the closed list
 * @param {string | { label: string }} option
 */
export async function choose(field, option) {
  const name = typeof option === 'string' ? option : option.label;
  await field.click();
  await field.page().getByRole('option', { name, exact: true }).click();
}
