import { valueAt } from '../numeric/index.ts';

/**
 * A single-row cut of hours: Σ aⱼxⱼ ≤ b + o, divided by δ and rounded, so that parts of visits no longer fill a day to the
 * minute: Σ F(aⱼ/δ)·xⱼ − o ÷ (δ(1 − f)) ≤ ⌊b/δ⌋ with F(a) = ⌊a⌋ + max(0, (a − ⌊a⌋ − f) ÷ (1 − f)) and f = b/δ − ⌊b/δ⌋
 * (mixed-integer rounding: G. Nemhauser and L. Wolsey, A recursive procedure to generate all cuts for 0–1 mixed integer
 * programs, Mathematical Programming 46 (1990), from memory).
 */
export interface HoursCut {
  delta: number;
  f: number;
  most: number;
}

const HAIR = 1e-9;

/** What a visit of so many hours that day counts in a cut. */
export function weightIn({ delta, f }: HoursCut, hours: number): number {
  const a = hours / delta;
  const whole = Math.floor(a + HAIR);
  return whole + Math.max(0, (a - whole - f) / (1 - f));
}

/** What an hour of overtime takes off again. */
export const overtimeIn = ({ delta, f }: HoursCut): number => 1 / (delta * (1 - f));

/** Remainders nearer to nought or one than this give cuts that no number can be trusted in. */
const LEAST_REMAINDER = 0.02;
const LEAST_VIOLATION = 1e-3;

/**
 * The cut of a day that is broken most by a fractional solution; undefined where none is.
 *
 * @param there hours without overtime
 * @param parts hours of each visit that is there in part, and how much of it
 */
export function brokenCut(
  there: number,
  parts: readonly { hours: number; share: number }[],
  overtime: number,
): HoursCut | undefined {
  let [worst, found] = [LEAST_VIOLATION, undefined as HoursCut | undefined];
  for (const delta of new Set(parts.map(({ hours }) => hours))) {
    const most = Math.floor(there / delta + HAIR);
    const f = there / delta - most;
    if (f < LEAST_REMAINDER || f > 1 - LEAST_REMAINDER) continue;
    const cut = { delta, f, most };
    const left = parts.reduce((sum, { hours, share }) => sum + share * weightIn(cut, hours), 0);
    const broken = left - overtime * overtimeIn(cut) - most;
    if (broken > worst) [worst, found] = [broken, cut];
  }
  return found;
}

/** The cuts of a resource, day by day, each with the row it has in the model. */
export class CutsOfDays {
  private readonly byDay: { cut: HoursCut; row: number }[][];

  constructor(days: number) {
    this.byDay = Array.from({ length: days }, () => []);
  }

  add(day: number, cut: HoursCut, row: number): void {
    this.byDay[day]?.push({ cut, row });
  }

  /** Rows of a day's cuts, with what a visit of so many hours counts in each. */
  entries(day: number, hours: number): [number, number][] {
    return (this.byDay[day] ?? []).flatMap(({ cut, row }): [number, number][] => {
      const weight = weightIn(cut, hours);
      return weight > HAIR ? [[row, weight]] : [];
    });
  }

  /** What the duals of a day's cuts ask of a visit of so many hours. */
  price(day: number, hours: number, duals: Float64Array): number {
    let sum = 0;
    for (const { cut, row } of this.byDay[day] ?? []) {
      const dual = valueAt(duals, row);
      if (dual !== 0) sum += dual * weightIn(cut, hours);
    }
    return sum;
  }
}
