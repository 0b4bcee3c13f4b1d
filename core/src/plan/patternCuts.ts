import { itemAt, valueAt } from '../numeric/index.ts';
import type { DayBounds, DayCut, DayPart } from './dayCuts.ts';
import type { Highs } from './solver.ts';

/** A way of filling a day: how often each kind is in it, and the overtime it needs. */
interface Pattern {
  times: Uint8Array;
  overtime: number;
}

const HAIR = 1e-6;
const LEAST_VIOLATION = 0.01;
/** Ways of filling a day beyond which a day is not looked at: days so long are cut well enough by rounding. */
const MOST_PATTERNS = 3000;
/** An hour of a visit that can't be in the day at all counts as so many of overtime. */
const SHORT = 6;
/** Visits that are near to coming in count as there so much. */
const FAINT = 0.002;

/**
 * Every way of filling a day, each kind of use as often as it fits; undefined where there are too many.
 */
function patternsOf(kinds: readonly DayPart[], bounds: DayBounds): Pattern[] | undefined {
  const found: Pattern[] = [];
  const times = new Uint8Array(kinds.length);
  const inBay = new Map<string, number>();
  const fill = (from: number, hours: number, certified: number): boolean => {
    let overtime = Math.max(0, hours - bounds.technician, certified - bounds.certified);
    for (const [bay, own] of inBay) overtime = Math.max(overtime, own - (bounds.bays.get(bay) ?? Infinity));
    if (overtime > bounds.overtime + HAIR) return true;
    if (found.length >= MOST_PATTERNS) return false;
    found.push({ times: times.slice(), overtime });
    for (let k = from; k < kinds.length; k += 1) {
      const { bay, hours: own, certifiedHours } = itemAt(kinds, k);
      const before = inBay.get(bay) ?? 0;
      times[k] = (times[k] ?? 0) + 1;
      inBay.set(bay, before + own);
      const whole = fill(k, hours + own, certified + certifiedHours);
      times[k] = (times[k] ?? 1) - 1;
      inBay.set(bay, before);
      if (!whole) return false;
    }
    return true;
  };
  return fill(0, 0, 0) ? found : undefined;
}

/** Kinds of parts: the same hours in the same kind of bay are one. */
function kindsOf(parts: readonly DayPart[]): DayPart[] {
  const byKind = new Map<string, DayPart>();
  for (const part of parts) {
    const key = `${part.bay}/${part.hours.toFixed(4)}/${part.certifiedHours.toFixed(4)}`;
    const there = byKind.get(key);
    if (there) there.share += part.share;
    else byKind.set(key, { ...part });
  }
  return [...byKind.values()];
}

/**
 * The inequality that cuts a fractional day off from all that whole visits can make of it, by the dual of: which mixture of
 * ways of filling the day holds these visits with the least overtime? Visits count as kinds, each as often as it fits, so that
 * the cut holds for any visit of the same kind of bay that takes as much or more, whichever of them it counts as.
 * Source: the separation of a polytope told by its points, as in E. Boyd, Fenchel cutting planes for integer programs,
 * Operations Research 42 (1994), from memory.
 *
 * @param parts what is there in part, and how much of it; with a share of 0 what is near to coming in
 * @param overtime of the fractional solution, hours
 */
export function patternCut(
  highs: Highs,
  bounds: DayBounds,
  parts: readonly DayPart[],
  overtime: number,
): DayCut | undefined {
  const kinds = kindsOf(parts);
  if (kinds.length === 0) return undefined;
  const patterns = patternsOf(kinds, bounds);
  if (!patterns) return undefined;
  const weights = dualsOf(highs, kinds, patterns);
  // Held anew against every way of filling the day: what the solver rounds makes no cut too deep.
  const most = patterns.reduce(
    (sum, { times, overtime: needed }) =>
      Math.max(sum, times.reduce((own, count, k) => own + count * itemAt(weights, k), 0) - needed),
    0,
  );
  const broken = kinds.reduce((sum, { share }, k) => sum + share * itemAt(weights, k), 0) - overtime - most;
  if (broken < LEAST_VIOLATION) return undefined;
  const heaviest = kinds
    .map(({ bay, hours, certifiedHours }, k) => ({ bay, hours, certifiedHours, weight: itemAt(weights, k) }))
    .filter(({ weight }) => weight > HAIR)
    .sort((a, b) => b.weight - a.weight);
  return {
    most,
    overtime: 1,
    weight: (bay, { hours, certifiedHours }) => {
      for (const one of heaviest)
        if (one.bay === bay && one.hours <= hours + HAIR && one.certifiedHours <= certifiedHours + HAIR)
          return one.weight;
      return 0;
    },
  };
}

/** What an hour of overtime each kind is worth in the mixture that holds them all with the least. */
function dualsOf(highs: Highs, kinds: readonly DayPart[], patterns: readonly Pattern[]): number[] {
  const starts = [0];
  const indices: number[] = [];
  const values: number[] = [];
  const costs: number[] = [];
  const column = (cost: number, entries: readonly [number, number][]) => {
    for (const [row, value] of entries) {
      indices.push(row);
      values.push(value);
    }
    starts.push(indices.length);
    costs.push(cost);
  };
  for (const { times, overtime } of patterns) {
    const own = [...times].flatMap((count, k): [number, number][] => (count > 0 ? [[k, count]] : []));
    column(overtime, [...own, [kinds.length, 1]]);
  }
  kinds.forEach(({ hours }, k) => column(SHORT * hours, [[k, 1]]));
  const { infinity } = highs;
  const numRows = kinds.length + 1;
  const model = highs.createModel({
    numCols: costs.length,
    numRows,
    colCost: costs,
    colLower: costs.map(() => 0),
    colUpper: costs.map(() => infinity),
    rowLower: [...kinds.map(({ share }) => Math.max(share, FAINT)), 1],
    rowUpper: [...kinds.map(() => infinity), 1],
    matrix: {
      format: 'csc',
      numRows,
      numCols: costs.length,
      starts: Int32Array.from(starts),
      indices: Int32Array.from(indices),
      values: Float64Array.from(values),
    },
  });
  try {
    model.options.set({ output_flag: false, presolve: 'off' });
    model.run();
    const { rowDual } = model.getSolution();
    return kinds.map((_one, k) => Math.max(0, valueAt(rowDual, k)));
  } finally {
    model.dispose();
  }
}
