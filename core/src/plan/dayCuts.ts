import { itemAt, valueAt } from '../numeric/index.ts';

/** What a visit takes of a day. */
export interface DayUse {
  hours: number;
  certifiedHours: number;
}

/** A part of a visit that a fractional solution has on a day. */
export interface DayPart extends DayUse {
  bay: string;
  share: number;
}

/** Hours that are there on a day, and by how much it may be lengthened. */
export interface DayBounds {
  technician: number;
  certified: number;
  bays: ReadonlyMap<string, number>;
  overtime: number;
}

/** An inequality over the visits of one day and its overtime o: Σ weight(visit)·share − overtime·o ≤ most. */
export interface DayCut {
  weight: (bay: string, use: DayUse) => number;
  overtime: number;
  most: number;
}

/** A cut with the row it has in the model, and how long it has cut nothing. */
interface CutRow {
  cut: DayCut;
  row: number;
  idle: number;
}

/** Rounds of cutting after which a cut that nothing rests on is left out again. */
const PATIENCE = 3;

/** The cuts of a depot's days. */
export class DayCuts {
  private readonly byDay: CutRow[][];
  private all: CutRow[] = [];
  private readonly first: number;

  /** @param first row of the model that a cut may have */
  constructor(days: number, first: number) {
    this.byDay = Array.from({ length: days }, () => []);
    this.first = first;
  }

  get rowCount(): number {
    return this.first + this.all.length;
  }

  add(day: number, cut: DayCut): void {
    const made = { cut, row: this.rowCount, idle: 0 };
    this.byDay[day]?.push(made);
    this.all.push(made);
  }

  /** Rows of a day's cuts, with what a visit counts in each. */
  entries(day: number, bay: string, use: DayUse): [number, number][] {
    return itemAt(this.byDay, day).flatMap(({ cut, row }): [number, number][] => {
      const weight = cut.weight(bay, use);
      return weight > 0 ? [[row, weight]] : [];
    });
  }

  /** What the duals of a day's cuts ask of a visit, by day: those that ask nothing are left out once for all visits. */
  prices(duals: Float64Array): (day: number, bay: string, use: DayUse) => number {
    const active = this.byDay.map((cuts) =>
      cuts.flatMap(({ cut, row }) => (valueAt(duals, row) === 0 ? [] : [{ cut, dual: valueAt(duals, row) }])),
    );
    return (day, bay, use) => {
      let sum = 0;
      for (const { cut, dual } of itemAt(active, day)) sum += dual * cut.weight(bay, use);
      return sum;
    };
  }

  /**
   * Forgets the cuts that have rested for some rounds; those that stay get the rows they then have.
   *
   * @param rests whether nothing rests on a row as the model is solved
   * @returns rows to be taken out of the model, rising
   */
  dropIdle(rests: (row: number) => boolean): number[] {
    for (const one of this.all) one.idle = rests(one.row) ? one.idle + 1 : 0;
    const out = this.all.filter(({ idle }) => idle >= PATIENCE);
    if (out.length === 0) return [];
    const gone = new Set(out);
    const rows = out.map(({ row }) => row);
    this.all = this.all.filter((one) => !gone.has(one));
    this.all.forEach((one, i) => (one.row = this.first + i));
    this.byDay.forEach((cuts, day) => (this.byDay[day] = cuts.filter((one) => !gone.has(one))));
    return rows;
  }
}
