import { format, isValid, parse } from 'date-fns';

/** Ways in which a day is written without doubt; one with slashes could be two days. */
const FORMS = ['yyyy-MM-dd', 'd MMM yyyy', 'd MMMM yyyy', 'MMM d, yyyy', 'MMMM d, yyyy', 'd.M.yyyy'];

export const DATE_WANTED = 'A day such as 23 Nov 2026 or 2026-11-23 is accepted.';

/**
 * Reads a day as people type it.
 *
 * @returns the ISO date; '' where nothing was typed, undefined where it can't be read or could be two days
 */
export function readDate(typed: string): string | undefined {
  const text = typed.trim().replace(/\s+/g, ' ');
  if (text === '') return '';
  for (const form of FORMS) {
    const date = parse(text, form, new Date(2000, 0, 1));
    if (isValid(date) && date.getFullYear() >= 1900 && date.getFullYear() < 2200) return format(date, 'yyyy-MM-dd');
  }
  return undefined;
}
