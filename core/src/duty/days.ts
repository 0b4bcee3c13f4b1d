import type { Duty, VehicleMasses } from './work.ts';

/** One day as a vehicle's own recorder sums it up. */
export interface DrivenDay {
  miles: number;
  stops: number;
  /** Root mean square of the speeds before stops, mph. */
  stopMph: number;
  slowdowns: number;
  slowdownFromMph: number;
  slowdownToMph: number;
  /** Mean mass on the road, kg. */
  massKg: number;
  /** Height lost in descents, and in the longest of them, m. */
  descentM: number;
  longestDescentM: number;
}

/**
 * The duty that stands for driven days: counts over miles, speeds by their energy (root mean squares), mass by miles.
 * What a recorder does not see (retarder, the trailer as such) is taken from the stated duty; the mass on the road
 * has the trailer in it, so what is left of it is payload.
 *
 * @returns undefined where nothing was driven
 */
export function dutyOfDays(
  days: readonly DrivenDay[],
  { tareKg, gvwrKg }: VehicleMasses,
  { retarderShare, towedKg }: Pick<Duty, 'retarderShare' | 'towedKg'>,
): Duty | undefined {
  const sum = (of: (day: DrivenDay) => number) => days.reduce((total, day) => total + of(day), 0);
  const miles = sum((day) => day.miles);
  if (miles <= 0) return undefined;
  const [stops, slowdowns] = [sum((day) => day.stops), sum((day) => day.slowdowns)];
  const rms = (count: number, of: (day: DrivenDay) => number) => (count > 0 ? Math.sqrt(sum(of) / count) : 0);
  const massKg = sum((day) => day.massKg * day.miles) / miles;
  return {
    stopsPerMile: stops / miles,
    mphBeforeStop: rms(stops, (day) => day.stops * day.stopMph ** 2),
    payloadShare: Math.max(0, Math.min(1.5, (massKg - towedKg - tareKg) / Math.max(1, gvwrKg - tareKg))),
    descentMPerMile: sum((day) => day.descentM) / miles,
    retarderShare,
    towedKg,
    slowdownsPerMile: slowdowns / miles,
    slowdownFromMph: rms(slowdowns, (day) => day.slowdowns * day.slowdownFromMph ** 2),
    slowdownToMph: rms(slowdowns, (day) => day.slowdowns * day.slowdownToMph ** 2),
    longestDescentM: Math.max(0, ...days.map((day) => day.longestDescentM)),
  };
}
