import { z } from 'zod';

/** What the archive says of itself, in `manifest.json`. */
export const Manifest = z.object({
  format: z.literal('mile-mark archive'),
  version: z.literal(1),
  madeOn: z.string(),
  /** The last change of the tables' form. */
  form: z.string(),
  tables: z.record(
    z.string(),
    z.object({ rows: z.int(), columns: z.array(z.object({ name: z.string(), type: z.string() })) }),
  ),
  photos: z.int(),
});
export type Manifest = z.output<typeof Manifest>;

export const MANIFEST = 'manifest.json';
/** The rows of a table, one JSON object a line: what is read in again. */
export const rowsFile = (table: string): string => `record/${table}.jsonl`;
/** The same for a spreadsheet. */
export const csvFile = (table: string): string => `tables/${table}.csv`;
export const photoFile = (table: string, id: string): string => `photos/${table}/${id}.jpg`;

export const READ_ME = `The whole record of a Mile Mark installation.

tables/<table>.csv    each table for a spreadsheet: UTF-8, comma, a head line; what is itself a list is JSON in its cell
record/<table>.jsonl  the same exactly, one JSON object a line: this is what is read in again
photos/<table>/<id>.jpg
manifest.json         format, version, the day it was made, and of each table its columns, their types and how many rows

Lengths are whole micrometres (_um), distances whole metres (_m), masses kilograms (_kg), money minor units (_minor);
days are ISO dates, moments ISO with their offset. Ids are UUIDs; <thing>_id names a row of the table <thing>.

Passwords, sign-ins and links that open something are not in it. It goes in again, whole, where nothing is on record
yet: make the first account, then Fleet, Archive. Everybody else sets a new password by a link that you make there.
`;
