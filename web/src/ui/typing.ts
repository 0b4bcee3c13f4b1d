let letters = true;

/** Switches single-letter shortcuts on or off, as the person has set it. */
export function setSingleKeys(on: boolean): void {
  letters = on;
}

/** Whether a key is meant for the control that has the focus: a field, a list, a slider; then it is no shortcut. So is a single
 * character where somebody has switched these off. */
export function isForControl(event: KeyboardEvent): boolean {
  if (!letters && event.key.length === 1 && !event.ctrlKey && !event.metaKey) return true;
  const target = event.target as HTMLElement;
  return target.closest('input, select, textarea, [role=combobox], [role=listbox], [role=slider]') !== null;
}
