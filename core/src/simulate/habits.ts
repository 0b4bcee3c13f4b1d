import { randomNormal, type Random } from '../numeric/index.ts';

/**
 * Ways in which a fleet may break what forecasts assume, each a switch of its own; left out, a fleet obeys. Used to try
 * forecasts on ground their makers did not shape for them.
 */
export interface Habits {
  /** Duty comes as measured blocks of 28 days, read with this error (one sd of the logarithm, half of it lasting over a route). */
  measuredErrorSd?: number | undefined;
  /** How far the stated severity of a route is off (one sd of the logarithm). */
  statedErrorSd?: number | undefined;
  /** Shocks of wear have heavy tails: Student's t with three degrees of freedom. */
  heavyTails?: boolean | undefined;
  /** Severity goes up and down over the year by this much (amplitude of the logarithm), and no paper says so. */
  seasonal?: number | undefined;
  /** Bias of every second appraiser moves by this much a year, mm. */
  driftMmPerYear?: number | undefined;
  /** Technicians round to this step whatever their gauge shows, mm. */
  roundToMm?: number | undefined;
  /** New pads are thicker than their nominal by this much, mm. */
  nominalOffMm?: number | undefined;
  /** Share of looks at one side only. */
  oneSided?: number | undefined;
  /** No vehicle is looked at more often. */
  mostLooks?: number | undefined;
  /** Vehicles of one model are of two kinds, this far apart in the logarithm of their wear. */
  sistersApart?: number | undefined;
  /** Spread of the rates of pads of an axle (one sd of the logarithm). */
  padSd?: number | undefined;
}

const YEAR_DAYS = 365.25;

/** A shock: standard normal, or with heavy tails of the same scale. */
export function shockOf({ heavyTails }: Habits, random: Random): number {
  const normal = randomNormal(random);
  if (!heavyTails) return normal;
  const square = randomNormal(random) ** 2 + randomNormal(random) ** 2 + randomNormal(random) ** 2;
  return normal / Math.sqrt(Math.max(0.05, square / 3));
}

/** Factor of the season on a day. */
export function seasonOn({ seasonal = 0 }: Habits, day: number): number {
  return Math.exp(seasonal * Math.sin((2 * Math.PI * day) / YEAR_DAYS));
}

/** What an appraiser reads too much on a day besides the bias, mm. */
export function driftOn({ driftMmPerYear = 0 }: Habits, appraiser: number, daysIn: number): number {
  return appraiser % 2 === 0 ? (driftMmPerYear * daysIn) / YEAR_DAYS : 0;
}

/** Whether another look is made, at a share of the record: where looks are few, they lie in its middle. */
export function isLookedAt({ mostLooks }: Habits, sofar: number, share: number): boolean {
  if (mostLooks === undefined) return true;
  return sofar < mostLooks && share > 0.3 + (0.4 * sofar) / mostLooks;
}

/** The family of trial fleets for each assumption in turn, by name. */
export const FAMILIES: Readonly<Record<string, { habits: Habits; unstatedRoutes?: number }>> = {
  'as assumed': { habits: {} },
  'route changes nobody logged': { habits: {}, unstatedRoutes: 0.4 },
  'duty measured without error': { habits: { measuredErrorSd: 0 } },
  'duty measured with error .3, routes unlogged': { habits: { measuredErrorSd: 0.3 }, unstatedRoutes: 0.4 },
  'stated duty off by .3': { habits: { statedErrorSd: 0.3 } },
  'heavy-tailed shocks': { habits: { heavyTails: true } },
  'seasonal severity': { habits: { seasonal: 0.3 } },
  'gauges that drift': { habits: { driftMmPerYear: 0.3 } },
  'technicians who round to .5 mm': { habits: { roundToMm: 0.5 } },
  'new pads .3 mm over nominal': { habits: { nominalOffMm: 0.3 } },
  'half the looks at one side only': { habits: { oneSided: 0.5 } },
  'two looks in all': { habits: { mostLooks: 2 } },
  'sister models that differ': { habits: { sistersApart: 0.5 } },
};

/** Seeds of fleets on which figures may be chosen, and of those on which they are only measured; none is in both. */
export const SEEDS = { tuning: [401, 402, 403, 404], bench: [501, 502] } as const;
