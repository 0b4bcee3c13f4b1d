import { ApiError } from '../../../platform/errors.ts';
import { normaliseHeader } from './fields.ts';
import type { Sheet } from './sheet.ts';

/** Files that Mile Mark reads in another place, by the columns that tell them; one of each list is enough. */
const PLACES = [
  {
    place: 'study',
    columns: [['part'], ['appraiser', 'technician'], ['trial'], ['value']],
    message:
      'This is a gauge study (part, appraiser, trial, value). It goes in under Gauges & technicians, Gauge studies.',
  },
  {
    place: 'library',
    columns: [['model'], ['joint'], ['document']],
    message: 'This is a file of specifications. It goes in under Specifications, Files.',
  },
] as const;

/** A library file as JSON: whatever else it holds, its format is named among the first of it. */
const LIBRARY_JSON = /^\s*\{[^]{0,400}"format"\s*:\s*"mile-mark-specifications"/;

/** Refuses a table that goes in elsewhere, and says where; the field names the place. */
export function refuseElsewhere({ rows }: Pick<Sheet, 'rows'>): void {
  const names = new Set(rows[0]?.cells.map(normaliseHeader));
  for (const one of PLACES) if (one.columns.every((any) => any.some((name) => names.has(name)))) throw sentTo(one);
}

/** The same of a file that is no table. */
export function refuseLibraryJson(bytes: Uint8Array): void {
  if (LIBRARY_JSON.test(new TextDecoder().decode(bytes.subarray(0, 1000)))) throw sentTo(PLACES[1]);
}

const sentTo = ({ place, message }: (typeof PLACES)[number]) =>
  new ApiError('invalid', message, [{ field: `file.${place}`, message }]);
