import type { DayBounds, DayCut, DayPart } from './dayCuts.ts';

/**
 * A single-row cut of hours: Σ aⱼxⱼ ≤ b + o, divided by δ and rounded, so that parts of visits no longer fill a day to the
 * minute: Σ F(aⱼ/δ)·xⱼ − o ÷ (δ(1 − f)) ≤ ⌊b/δ⌋ with F(a) = ⌊a⌋ + max(0, (a − ⌊a⌋ − f) ÷ (1 − f)) and f = b/δ − ⌊b/δ⌋
 * (mixed-integer rounding: G. Nemhauser and L. Wolsey, A recursive procedure to generate all cuts for 0–1 mixed integer
 * programs, Mathematical Programming 46 (1990), from memory). The same with o at its most, as o is bounded: what fits into a
 * day however long it is made.
 */
export interface HoursCut {
  delta: number;
  f: number;
  most: number;
  /** Whether all the overtime there may be is in b already: then an hour of it takes nothing off. */
  whole: boolean;
}

const HAIR = 1e-9;

/** What a visit of so many hours that day counts in a cut. */
export function weightIn({ delta, f }: HoursCut, hours: number): number {
  const a = hours / delta;
  const whole = Math.floor(a + HAIR);
  return whole + Math.max(0, (a - whole - f) / (1 - f));
}

/** What an hour of overtime takes off again. */
export const overtimeIn = ({ delta, f, whole }: HoursCut): number => (whole ? 0 : 1 / (delta * (1 - f)));

/** Remainders nearer to nought or one than this give cuts that no number can be trusted in. */
const LEAST_REMAINDER = 0.02;
const LEAST_VIOLATION = 1e-3;

/**
 * The cuts that are broken most by a fractional solution, without and with all of a day's overtime; none where none is.
 *
 * @param there hours without overtime
 * @param most overtime that there may be
 * @param parts hours of each visit that is there in part, and how much of it
 * @param overtime in the solution
 */
export function brokenCuts(
  there: number,
  most: number,
  parts: readonly { hours: number; share: number }[],
  overtime: number,
): HoursCut[] {
  return [false, true].flatMap((whole) => {
    let [worst, found] = [LEAST_VIOLATION, undefined as HoursCut | undefined];
    const b = whole ? there + most : there;
    for (const delta of new Set(parts.map(({ hours }) => hours))) {
      const floor = Math.floor(b / delta + HAIR);
      const f = b / delta - floor;
      if (f < LEAST_REMAINDER || f > 1 - LEAST_REMAINDER) continue;
      const cut = { delta, f, most: floor, whole };
      const left = parts.reduce((sum, { hours, share }) => sum + share * weightIn(cut, hours), 0);
      const broken = left - overtime * overtimeIn(cut) - floor;
      if (broken > worst) [worst, found] = [broken, cut];
    }
    return found ?? [];
  });
}

/** The cuts of a day's technicians, certified hours and each kind of bay that a fractional solution breaks. */
export function hoursCuts(bounds: DayBounds, parts: readonly DayPart[], overtime: number): DayCut[] {
  const cutsOf = (there: number, hoursOf: (bay: string, use: Pick<DayPart, 'hours' | 'certifiedHours'>) => number) => {
    const own = parts
      .map((part) => ({ hours: hoursOf(part.bay, part), share: part.share }))
      .filter(({ hours }) => hours > 0);
    return brokenCuts(there, bounds.overtime, own, overtime).map((cut): DayCut => ({
      weight: (bay, use) => weightIn(cut, hoursOf(bay, use)),
      overtime: overtimeIn(cut),
      most: cut.most,
    }));
  };
  return [
    ...cutsOf(bounds.technician, (_bay, { hours }) => hours),
    ...cutsOf(bounds.certified, (_bay, { certifiedHours }) => certifiedHours),
    ...[...bounds.bays].flatMap(([kind, there]) => cutsOf(there, (bay, { hours }) => (bay === kind ? hours : 0))),
  ];
}
