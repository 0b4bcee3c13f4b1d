import { failureInWords } from '@mile-mark/contract/words';
import type { ImportRow, Outcome, Understanding } from '@mile-mark/contract/imports';
import { parseDate, parseNumber } from '@mile-mark/core';
import type { CsvRecord } from '../../platform/documents/csv.ts';

/**
 * Why a row, or a cell of it, is not plainly accepted. `holds`: a questioned row with this reason stays out
 * unless a person says take; `bars`: it can't be taken as typed at all.
 */
export interface Reason {
  column: number | null;
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
  /** Records the row would add. */
  records: T[];
  /** Records of the row that are on record already. */
  already: number;
}

/** Helps to read one row's cells by field; a cell that can't be read becomes a reason. */
export class RowReader {
  readonly draft: { reasons: Reason[]; notes: string[] };
  private readonly row: CsvRecord;
  private readonly understanding: Understanding;

  constructor(row: CsvRecord, understanding: Understanding, draft: { reasons: Reason[]; notes: string[] }) {
    this.row = row;
    this.understanding = understanding;
    this.draft = draft;
  }

  column(field: string): number | null {
    const index = this.understanding.columns.findIndex((one) => one.field === field);
    return index < 0 ? null : index;
  }

  text(field: string): string {
    const column = this.column(field);
    return column === null ? '' : (this.row.cells[column] ?? '').trim();
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
    return text === '' ? this.refuse(field, `${label} is blank; it is needed.`) : text;
  }

  date(field: string, today: string): string | undefined {
    const parsed = parseDate(this.text(field), this.understanding.dateOrder);
    if (!parsed.ok) return this.refuse(field, failureInWords(parsed.failure));
    if (parsed.value > today)
      return this.refuse(field, `${parsed.value} is in the future (today is ${today}); today or earlier is accepted.`);
    return parsed.value;
  }

  /** A day that may lie ahead. */
  day(field: string): string | undefined {
    const parsed = parseDate(this.text(field), this.understanding.dateOrder);
    return parsed.ok ? parsed.value : this.refuse(field, failureInWords(parsed.failure));
  }

  number(field: string, label: string, least: number, most: number): number | undefined {
    const parsed = parseNumber(this.text(field), {
      mark: this.understanding.decimalMark,
      thousandsLikely: most >= 1000,
    });
    if (!parsed.ok) return this.refuse(field, `${label}: ${failureInWords(parsed.failure)}`);
    if (parsed.value < least || parsed.value > most) {
      return this.refuse(
        field,
        `${label} ${this.text(field)} is out of range; ${least} to ${most.toLocaleString('en-US')} is accepted.`,
      );
    }
    return parsed.value;
  }

  whole(field: string, label: string, least: number, most: number): number | undefined {
    const value = this.number(field, label, least, most);
    if (value !== undefined && !Number.isInteger(value)) return this.refuse(field, `${label} must be a whole number.`);
    return value;
  }
}

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
    reasons: draft.reasons.map(({ column, outcome, message, suggestion }) => ({
      column,
      outcome,
      message,
      suggestion: suggestion ?? null,
    })),
    notes: draft.notes,
  };
}
