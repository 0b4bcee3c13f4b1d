import type { Defect, JobRow } from '@mile-mark/contract/jobs';
import { findingPlaceInWords } from '@mile-mark/contract/words';
import { formatDate } from '../../ui/format.ts';

/** Where a job stands, in a few words. */
export function standsInWords({ state, day, bay, closedOn }: JobRow): string {
  if (state === 'closed') return `closed ${closedOn ? formatDate(closedOn) : ''}`;
  if (state === 'booked' && day) return `booked ${formatDate(day)}${bay ? `, ${bay}` : ''}`;
  return state;
}

export const placeOf = findingPlaceInWords;

/** Defects that forbid driving and that nobody has lifted. */
export function forbidding(defects: readonly Defect[], unit?: string): Defect[] {
  return defects.filter(
    (one) => one.severity === 'do not drive' && one.lifted === null && (unit === undefined || one.unit === unit),
  );
}
