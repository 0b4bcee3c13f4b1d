/** Whether a key is meant for the control that has the focus: a field, a list, a slider; then it is no shortcut. */
export function isForControl(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  return target.closest('input, select, textarea, [role=combobox], [role=listbox], [role=slider]') !== null;
}
