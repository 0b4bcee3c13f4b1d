/**
 * Chooses an option of a list by its words, as a person does: opens it, and takes the option that says this, or begins
 * with it before a comma.
 *
 * @param {import('@playwright/test').Locator} field the closed list
 * @param {string | { label: string }} option
 */
export async function choose(field, option) {
  const words = (typeof option === 'string' ? option : option.label).replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  await field.click();
  await field
    .page()
    .getByRole('option', { name: new RegExp(`^${words}(,|$)`) })
    .click();
}
