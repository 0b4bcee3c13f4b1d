import { failureInWords } from '@mile-mark/contract/words';
import type { ImportRow, Outcome, Understanding } from '@mile-mark/contract/imports';
import { metresToMiles, MM_PER_INCH, parseDate, parseDistance, parseNumber, type TypedDistance } from '@mile-mark/core';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { remembering } from '../../platform/remembering.ts';
import { unitInHeader } from './understand/fields.ts';
import { dayInWords } from './understand/values.ts';

/**
 * Why a row, or a cell of it, is not plainly accepted. `holds`: a questioned row with this reason stays out
 * unless a person says take; `bars`: it can't be taken as typed at all.
 */
export interface Reason {
  column: number | null;
  alsoColumns?: number[];
  outcome: 'questioned' | 'refused';
  message: string;
  suggestion?: string | undefined;
  holds?: boolean;
  bars?: boolean;
}

/** A row on its way in: what it would add to the record, and what stands against it. */
export interface Draft<T> {
  line: number;
  cells: string[];
  reasons: Reason[];
  notes: string[];
  /** What each cell was understood as, in words. */
  understood: (string | null)[];
  /** Records the row would add. */
  records: T[];
  /** Records of the row that are on record already. */
  already: number;
  /** Cells that seem to include the backing plate. */
  plates?: WithPlate[];
}

/** A cell whose figure seems to include the backing plate: at which wheel, and what it is without. */
export interface WithPlate {
  column: number;
  wheel: string;
  cell: string;
}

type Pages = Pick<Draft<unknown>, 'reasons' | 'notes' | 'understood'>;

const WHOLE = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 });
const inUnits = (value: number, unit: string) => `${WHOLE.format(Math.round(value))} ${unit}`;

/** What a typed date is, by the order of its numbers. */
const DAY_BY = {
  YMD: remembering((typed) => parseDate(typed, 'YMD')),
  DMY: remembering((typed) => parseDate(typed, 'DMY')),
  MDY: remembering((typed) => parseDate(typed, 'MDY')),
};

/** The first column that fills each field; found once for all rows of a sheet. */
const byField = new WeakMap<Understanding['columns'], Map<string, number>>();

function columnsByField({ columns }: Understanding): Map<string, number> {
  const known = byField.get(columns);
  if (known) return known;
  const found = new Map<string, number>();
  for (const [index, { field }] of columns.entries()) if (!found.has(field)) found.set(field, index);
  byField.set(columns, found);
  return found;
}

/** Helps to read one row's cells by field; a cell that can't be read becomes a reason. */
export class RowReader {
  readonly draft: Pages;
  private readonly row: CsvRecord;
  private readonly understanding: Understanding;

  constructor(row: CsvRecord, understanding: Understanding, draft: Pages) {
    this.row = row;
    this.understanding = understanding;
    this.draft = draft;
  }

  column(field: string): number | null {
    return columnsByField(this.understanding).get(field) ?? null;
  }

  text(field: string): string {
    const column = this.column(field);
    return column === null ? '' : (this.row.cells[column] ?? '').trim();
  }

  /** Says what the cell of a field was understood as. */
  understoodAs(field: string, words: string): void {
    const column = this.column(field);
    if (column !== null) this.draft.understood[column] = words;
  }

  /** The text of every column of notes, each with its header where there are several. */
  notes(): string {
    const columns = this.understanding.columns.flatMap(({ field, header }, index) =>
      field === 'note' ? [{ header, text: (this.row.cells[index] ?? '').trim(), index }] : [],
    );
    for (const { text, index } of columns) if (text !== '') this.draft.understood[index] = 'kept as a note';
    return columns
      .filter(({ text }) => text !== '')
      .map(({ header, text }) => (columns.length > 1 ? `${header}: ${text}` : text))
      .join('; ');
  }

  refuse(field: string | null, message: string, suggestion?: string): undefined {
    this.draft.reasons.push({
      column: field === null ? null : this.column(field),
      outcome: 'refused',
      message,
      suggestion,
    });
    return undefined;
  }

  /** Text that must not be blank. */
  needed(field: string, label: string): string | undefined {
    const text = this.text(field);
    if (text === '') return this.refuse(field, `${label} is blank; it is needed.`);
    this.understoodAs(field, text);
    return text;
  }

  date(field: string, today: string): string | undefined {
    const date = this.day(field);
    if (date !== undefined && date > today)
      return this.refuse(field, `${date} is in the future (today is ${today}); today or earlier is accepted.`);
    return date;
  }

  /** A day that may lie ahead. */
  day(field: string): string | undefined {
    const parsed = DAY_BY[this.understanding.dateOrder](this.text(field));
    if (!parsed.ok) return this.refuse(field, failureInWords(parsed.failure));
    this.understoodAs(field, dayInWords(parsed.value));
    return parsed.value;
  }

  /**
   * An odometer. One sign before exactly three digits parts thousands, whichever it is: no odometer shows thousandths
   * (common practice, no source).
   */
  distance(field: string): TypedDistance | undefined {
    const typed = this.text(field);
    const stated = this.text('odometer_unit');
    const withUnit = stated === '' || /[a-z]/i.test(typed) ? typed : `${typed} ${stated}`;
    const unit = this.understanding.distanceUnit;
    const first = parseDistance(withUnit, { unit });
    const parsed =
      !first.ok && first.failure.code === 'ambiguous'
        ? parseDistance(withUnit.replace(/(\d)[.,](\d{3})(?!\d)/, '$1$2'), { unit })
        : first;
    if (!parsed.ok) return this.refuse(field, failureInWords({ ...parsed.failure, typed }));
    const miles = inUnits(metresToMiles(parsed.value.metres), 'mi');
    this.understoodAs(
      field,
      parsed.value.unit === 'mi' ? miles : `${inUnits(parsed.value.metres / 1000, 'km')}, ${miles}`,
    );
    return parsed.value;
  }

  /** A figure within bounds; one that could be thousands or decimals is what lies within them. */
  number(field: string, label: string, least: number, most: number): number | undefined {
    const typed = this.text(field);
    const mark = this.understanding.decimalMark ?? undefined;
    const parsed = parseNumber(typed);
    const within = (value: number) => value >= least && value <= most;
    let value: number | undefined;
    if (parsed.ok) value = parsed.value;
    else if (parsed.failure.code === 'ambiguous') {
      const both = [Number(parsed.failure.asThousands), Number(parsed.failure.asDecimal)].filter(within);
      const byMark = parseNumber(typed, { mark });
      value = both.length === 1 ? both[0] : byMark.ok ? byMark.value : undefined;
    }
    if (value === undefined) return this.refuse(field, `${label}: ${parsed.ok ? '' : failureInWords(parsed.failure)}`);
    if (!within(value))
      return this.refuse(
        field,
        `${label} ${typed} is out of range; ${least} to ${most.toLocaleString('en-US')} is accepted.`,
      );
    this.understoodAs(field, String(value));
    return value;
  }

  /** A figure that its column's header, or else the file, gives in one of two units; told in the base unit. */
  private inBase(field: string, label: string, least: number, most: number, [base, other, factor]: Units) {
    const column = this.column(field);
    const told = column === null ? undefined : unitInHeader(this.understanding.columns[column]?.header ?? '');
    const ofFile = base === 'mm' ? this.understanding.lengthUnit : this.understanding.massUnit;
    const unit = told === base || told === other ? told : ofFile;
    if (unit === base) {
      const value = this.number(field, label, least, most);
      if (value !== undefined) this.understoodAs(field, `${value} ${base}`);
      return value;
    }
    const value = this.number(field, label, round(least / factor), round(most / factor));
    if (value === undefined) return undefined;
    this.understoodAs(field, `${value} ${other}, ${round(value * factor)} ${base}`);
    return value * factor;
  }

  millimetres(field: string, label: string, least: number, most: number): number | undefined {
    return this.inBase(field, label, least, most, ['mm', 'in', MM_PER_INCH]);
  }

  kilograms(field: string, label: string, least: number, most: number): number | undefined {
    return this.inBase(field, label, least, most, ['kg', 'lb', KG_PER_LB]);
  }

  whole(field: string, label: string, least: number, most: number): number | undefined {
    const value = this.number(field, label, least, most);
    if (value !== undefined && !Number.isInteger(value)) return this.refuse(field, `${label} must be a whole number.`);
    return value;
  }
}

type Units = readonly [base: 'mm' | 'kg', other: 'in' | 'lb', factor: number];

/** Kilograms in a pound: exact, by the international yard and pound agreement of 1959. */
const KG_PER_LB = 0.45359237;
const round = (value: number) => Number(value.toPrecision(4));

/** A row's outcome: the worst of what stands against it. */
export function outcomeOf<T>({ reasons, records, already }: Draft<T>): Outcome {
  if (reasons.some(({ outcome }) => outcome === 'refused')) return 'refused';
  if (reasons.length > 0) return 'questioned';
  return already > 0 && records.length === 0 ? 'already' : 'accepted';
}

/** Whether a row's records go in, given what a person chose. */
export function isTaken<T>(draft: Draft<T>, choice: 'take' | 'leave' | undefined): boolean {
  if (draft.records.length === 0 || draft.reasons.some(({ bars }) => bars)) return false;
  if (choice !== undefined) return choice === 'take';
  return !draft.reasons.some(({ holds }) => holds);
}

export function rowOf<T>(draft: Draft<T>, choice: 'take' | 'leave' | undefined): ImportRow {
  return {
    line: draft.line,
    cells: draft.cells,
    outcome: outcomeOf(draft),
    taken: isTaken(draft, choice),
    takeable: draft.records.length > 0 && !draft.reasons.some(({ bars }) => bars),
    reasons: draft.reasons.map(({ column, alsoColumns = [], outcome, message, suggestion }) => ({
      column,
      alsoColumns,
      outcome,
      message,
      suggestion: suggestion ?? null,
    })),
    withoutPlate: (draft.plates ?? []).map(({ column, cell }) => ({ column, cell })),
    notes: draft.notes,
    understood: draft.cells.map((_, index) => draft.understood[index] ?? null),
  };
}
