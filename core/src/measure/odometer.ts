import { dayNumber, METRES_PER_MILE, type DistanceUnit, type IsoDate } from '../units/index.ts';

/** An odometer on a day. */
export interface OdometerEntry {
  date: IsoDate;
  metres: number;
}

/** How an odometer fits no other: behind an earlier one, in the other unit, or too far in too few days. */
export type OdometerDoubt =
  | { kind: 'falls'; other: OdometerEntry }
  | { kind: 'km_as_miles'; insteadMetres: number; other: OdometerEntry }
  | { kind: 'miles_as_km'; insteadMetres: number; other: OdometerEntry }
  | { kind: 'jumps'; other: OdometerEntry; milesPerDay: number };

/** More than any of the vehicles drives in a day on average, miles (two drivers, common practice, no source). */
const MOST_MILES_A_DAY = 800;

/** Odometers are read and written to whole miles or kilometres: this much is no contradiction, metres. */
export const ODOMETER_TOLERANCE_M = 1610;

/** Slack for a day's driving when an odometer of the same day was read at another hour, metres. */
const SAME_DAY_METRES = MOST_MILES_A_DAY * METRES_PER_MILE;

/**
 * Looks at an odometer among the others of its vehicle: it must not fall from an earlier day nor pass a later
 * one, nor jump farther than the vehicle can drive. Where reading it in the other unit mends that, that is
 * named.
 *
 * @param entry the odometer as understood
 * @param others what is on record or stands in the same paper, any order
 * @param unit the unit it was understood in; the other one is tried
 * @returns the first doubt, or undefined
 */
export function doubtOdometer(
  entry: OdometerEntry,
  others: readonly OdometerEntry[],
  unit: DistanceUnit,
): OdometerDoubt | undefined {
  const plain = firstMisfit(entry, others);
  if (!plain) return undefined;
  const ratio = METRES_PER_MILE / 1000;
  const other = { ...entry, metres: unit === 'mi' ? entry.metres / ratio : entry.metres * ratio };
  if (!firstMisfit(other, others)) {
    return { kind: unit === 'mi' ? 'km_as_miles' : 'miles_as_km', insteadMetres: other.metres, other: plain.other };
  }
  return plain;
}

function firstMisfit(
  entry: OdometerEntry,
  others: readonly OdometerEntry[],
): Extract<OdometerDoubt, { kind: 'falls' | 'jumps' }> | undefined {
  const day = dayNumber(entry.date);
  for (const other of others) {
    const days = day - dayNumber(other.date);
    const driven = (entry.metres - other.metres) * (days < 0 ? -1 : 1);
    if (days === 0) {
      if (Math.abs(driven) > SAME_DAY_METRES)
        return { kind: 'jumps', other, milesPerDay: Math.abs(driven) / METRES_PER_MILE };
      continue;
    }
    if (driven < -ODOMETER_TOLERANCE_M) return { kind: 'falls', other };
    const milesPerDay = driven / METRES_PER_MILE / Math.abs(days);
    if (milesPerDay > MOST_MILES_A_DAY) return { kind: 'jumps', other, milesPerDay };
  }
  return undefined;
}

/** An odometer seen on a day by so many readings. */
export interface WeighedOdometer extends OdometerEntry {
  /** How much stands behind it: readings that carry it, more where it is on record already. */
  weight: number;
}

/**
 * The heaviest set of odometers of one vehicle that can all be true: rising with the days, never faster
 * than a vehicle can drive. One row of a sheet that contradicts all others is then the doubtful one, not
 * the others.
 *
 * Heaviest chain by dynamic programming over the entries in order of date, O(n²).
 */
export function consistentOdometers<T extends WeighedOdometer>(entries: readonly T[]): T[] {
  const sorted = [...entries].sort((a, b) => a.date.localeCompare(b.date) || a.metres - b.metres);
  const best: { weight: number; before: number }[] = [];
  sorted.forEach((entry, i) => {
    let reached = { weight: entry.weight, before: -1 };
    for (let j = 0; j < i; j += 1) {
      const weight = (best[j]?.weight ?? 0) + entry.weight;
      if (weight > reached.weight && !firstMisfit(entry, [sorted[j] as T])) reached = { weight, before: j };
    }
    best.push(reached);
  });
  let at = best.reduce((top, one, i) => (one.weight > (best[top]?.weight ?? 0) ? i : top), 0);
  const chain: T[] = [];
  while (at >= 0 && sorted[at]) {
    chain.unshift(sorted[at] as T);
    at = best[at]?.before ?? -1;
  }
  return chain;
}

/** An odometer that rises faster than this vehicle drives. */
export interface PaceDoubt {
  /** Miles a day since the odometer before, and as usual. */
  milesPerDay: number;
  usualPerDay: number;
  days: number;
  /** Where it was expected to stand, miles. */
  expectedMi: number;
}

/**
 * Looks at an odometer against the vehicle's own pace: farther on than three times its usual day would bring
 * it, and by more than a week's driving and 1,000 miles (common practice, no source).
 *
 * @param miles the odometer as understood, miles
 * @param before odometer and day before it
 * @param usualPerDay miles a day as usual
 */
export function doubtPace(
  miles: number,
  date: IsoDate,
  before: { miles: number; date: IsoDate },
  usualPerDay: number,
): PaceDoubt | undefined {
  const days = Math.max(1, dayNumber(date) - dayNumber(before.date));
  const expectedMi = before.miles + days * usualPerDay;
  const ahead = miles - expectedMi;
  if (miles - before.miles <= 3 * days * usualPerDay || ahead <= Math.max(1000, 7 * usualPerDay)) return undefined;
  return { milesPerDay: (miles - before.miles) / days, usualPerDay, days, expectedMi };
}
