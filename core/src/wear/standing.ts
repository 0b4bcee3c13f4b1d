import { severityOn } from '../duty/index.ts';
import { valueAt } from '../numeric/index.ts';
import { dayNumber } from '../units/index.ts';
import { wideningAt } from './calibration.ts';
import { drive, type History } from './history.ts';
import { milesPerDay, odometerToday, type Pace } from './milesPerDay.ts';
import { axleState, type AxleState } from './passage.ts';
import { copyState } from './state.ts';
import type { AxleInput, RiskPolicy, VehicleInput } from './types.ts';

/** A vehicle carried to today. */
export interface Today {
  history: History;
  perDay: Pace;
  odometerNowMi: number;
}

/** Carries a history to today, and leaves it as it was. */
export function standToday(before: History, input: VehicleInput): Today {
  const history = { ...before, state: copyState(before.state) };
  const { state, points } = history;
  const begun = input.duty.filter(({ from, continues }) => from <= input.today && !continues);
  const dutyFrom = begun.at(-1)?.from;
  const paceFrom =
    input.paceFrom === undefined ? (begun.length > 1 ? dutyFrom : undefined) : (input.paceFrom ?? undefined);
  const perDay = milesPerDay(points, input.today, input.statedMilesPerDay, paceFrom, input.pace);
  const last = points.at(-1);
  const odometerNowMi = odometerToday(
    points,
    input.today,
    perDay.mean,
    paceFrom,
    input.statedMilesPerDayBefore,
    input.pace,
  );
  if (last) {
    drive(state, input, last, { date: input.today, miles: odometerNowMi });
  }
  return { history, perDay, odometerNowMi };
}

/** What the forecast of one axle rests on. */
export interface AxleContext extends Today {
  input: VehicleInput;
  policy: RiskPolicy;
  axle: AxleInput;
  severityNow: number;
}

/** The context of one axle of a vehicle whose history is known. */
export function contextOf(today: Today, input: VehicleInput, policy: RiskPolicy, axle: AxleInput): AxleContext {
  return { ...today, input, policy, axle, severityNow: severityOn(input.duty, dayNumber(input.today), axle.axle) };
}

/**
 * How far what all readings and nominal thicknesses of a shop tell together may be off what is there, mm (common practice,
 * no source; chosen on the seeds for tuning). New pads over their nominal and gauges that all show too much look alike, and
 * no number of readings tells which it is: a limit is met by the pad, not by the gauge.
 */
const ABSOLUTE_SD_MM = 0.13;

/**
 * The pads of an axle as they stand, and the noise of what is ahead of them, as wide as past forecasts had to be.
 *
 * @param absoluteSdMm how far all readings together may be off; nought where other readings are foretold, which are off
 *   by the same
 */
export function padsAhead(
  { input, history: { state }, axle, perDay, severityNow }: AxleContext,
  absoluteSdMm = ABSOLUTE_SD_MM,
) {
  const count = state.places.length;
  const own = state.places.flatMap((place, p) => (place.axle === axle.axle ? [p] : []));
  const part = axleState(state.mean, state.cov, [...own, ...own.map((p) => count + p)]);
  const widened = wideningAt(input.widening, milesLeft(part, axle.limitMm) / Math.max(1e-6, severityNow));
  const { data, size } = part.cov;
  for (let i = 0; i < size; i += 1)
    for (let k = 0; k < size; k += 1) {
      const absolute = i >= own.length && k >= own.length ? absoluteSdMm ** 2 : 0;
      data[i * size + k] = widened ** 2 * valueAt(data, i * size + k) + absolute;
    }
  const { ahead } = input;
  return {
    own,
    part,
    widened,
    ahead: ahead && { ...ahead, levelSd: widened * ahead.levelSd },
    noise: {
      perPad: widened * input.noise.perPad,
      perPeriod: widened * scatterAhead(input.noise.perPeriod, ahead?.perPeriod ?? 0),
      exposurePerPeriod: Math.max(1e-6, (28 * perDay.mean * severityNow) / 1000),
      milesPerExposure: 1 / severityNow,
    },
  };
}

/**
 * How a period ahead scatters, of the vehicle as a whole: as wear does about what is measured of its duty, or as measured
 * blocks do about their level. What wear shows that blocks did not tell is, for the most, error of measuring them, and does
 * not come twice.
 */
function scatterAhead(ofWear: number, ofBlocks: number): number {
  return Math.sqrt(Math.max(ofWear ** 2, ofBlocks ** 2 - ofWear ** 2));
}

/** About how many duty-weighted miles an axle's pads have left, ≥ 0. */
function milesLeft({ mean }: AxleState, limitMm: number): number {
  const pads = mean.length / 2;
  const left = Array.from(
    { length: pads },
    (_, p) => (1000 * (valueAt(mean, pads + p) - limitMm)) / Math.exp(valueAt(mean, p)),
  );
  return Math.max(0, Math.min(...left));
}
