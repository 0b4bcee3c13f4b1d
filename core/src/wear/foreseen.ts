import { choleskyLower, normalCdf, normalQuantile, valueAt } from '../numeric/index.ts';
import { resolutionVariance } from '../measure/index.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import { runWithChanges } from './changes.ts';
import { contextOf, padsAhead, standToday, type AxleContext } from './standing.ts';
import { roadsAhead } from './horizon.ts';
import { commonDraws } from './passage.ts';
import type { FittingInput, ReadingInput, VehicleInput } from './types.ts';

/** A look at an axle, held against what was foreseen of it on an earlier day. */
export interface ForeseenLook {
  axle: number;
  date: string;
  /** Miles driven since that day. */
  milesAhead: number;
  /**
   * Where the mean of its pads fell among what was foreseen: the normal quantile of the share foreseen below it. Standard
   * normal over many looks, where forecasts keep their word (probability integral transform; Dawid 1984, from memory).
   */
  z: number;
}

/** What came after the day of a forecast. */
export interface Later {
  readings: readonly ReadingInput[];
  fittings: readonly FittingInput[];
}

const DRAWS = 256;
const SEED = 1;
/** A share is never nearer to 0 or 1 than half a draw. */
const LEAST_SHARE = 0.5 / DRAWS;

/**
 * Foresees later looks at each axle from what was known on a day, the duty ahead being as unknown as it was then; only how
 * many miles were driven is taken as it came. Looks after the next new pads say nothing of these.
 *
 * @param known the vehicle as it stood on its `today`
 */
export function foresee(known: VehicleInput, later: Later): ForeseenLook[] {
  const { history } = runWithChanges(known);
  const today = standToday(history, known);
  return known.axles.flatMap((axle) => {
    const count = today.history.state.places.length;
    const first = today.history.state.places.findIndex((place) => place.axle === axle.axle);
    if (!today.history.state.informed[first] || count === 0) return [];
    const changed = later.fittings
      .filter((one) => one.axle === axle.axle && one.date > known.today)
      .map(({ date }) => date)
      .sort()[0];
    const own = later.readings.filter(
      (one) => one.axle === axle.axle && one.date > known.today && (changed === undefined || one.date <= changed),
    );
    const looks = [...new Set(own.map(({ date }) => date))].sort();
    const context = contextOf(today, known, { riskTarget: 0.05, seed: SEED, draws: DRAWS }, axle);
    const foreseen = thicknessAhead(context);
    return looks.map((date) => {
      const readings = own.filter((one) => one.date === date);
      const miles = Math.max(0, (readings[0] as ReadingInput).miles - today.odometerNowMi);
      return { axle: axle.axle, date, milesAhead: miles, z: placeOf(readings, foreseen(readings, miles), known) };
    });
  });
}

/** Draws of the mean thickness of the pads that were read, after some miles, mm. */
function thicknessAhead(context: AxleContext): (readings: readonly ReadingInput[], miles: number) => Float64Array {
  const { part, noise, own, ahead } = padsAhead(context, 0);
  const { perDay, input, axle, history } = context;
  const size = part.cov.size;
  const lower = choleskyLower(part.cov);
  const draws = commonDraws(DRAWS, size + 1, SEED);
  const roads = roadsAhead({ ...input, ahead }, perDay.mean, axle.axle, { count: DRAWS, seed: SEED });
  const values = new Float64Array(DRAWS * size);
  for (let i = 0; i < DRAWS; i += 1)
    for (let j = 0; j < size; j += 1) {
      let value = valueAt(part.mean, j);
      for (let k = 0; k <= j; k += 1) value += valueAt(lower, j * size + k) * valueAt(draws, i * (size + 1) + k);
      values[i * size + j] = j < size / 2 ? Math.exp(value) : value;
    }
  return (readings, miles) => {
    const pads = readings.map(({ side, pad }) =>
      own.findIndex((p) => {
        const place = history.state.places[p];
        return place?.side === side && place.pad === pad;
      }),
    );
    return Float64Array.from({ length: DRAWS }, (_, i) => {
      const exposure = roads.exposureIn(miles / perDay.mean, i);
      const periods = Math.max(0.25, exposure / noise.exposurePerPeriod);
      const sd = Math.sqrt(noise.perPeriod ** 2 / periods + noise.perPad ** 2 / Math.max(0.25, miles / 1000));
      const scatter = Math.exp(-sd * valueAt(draws, i * (size + 1) + size) - (sd * sd) / 2);
      let left = 0;
      for (const p of pads)
        left += valueAt(values, i * size + own.length + p) - valueAt(values, i * size + p) * exposure * scatter;
      return left / pads.length;
    });
  };
}

/** Where the mean of readings fell among draws of the thickness, bias and scatter of their appraisers added. */
function placeOf(readings: readonly ReadingInput[], foreseen: Float64Array, known: VehicleInput): number {
  let [measured, variance] = [0, 0];
  for (const reading of readings) {
    const appraiser = known.appraisers[appraiserKeyOf(reading)] ?? known.unknownAppraiser;
    measured += (reading.mm - appraiser.biasMm - (reading.driftMm ?? 0)) / readings.length;
    const own = (appraiser.repeatabilityMm ** 2 + resolutionVariance(reading.resolutionMm)) / readings.length ** 2;
    variance += own + appraiser.biasSdMm ** 2 / readings.length;
  }
  const sd = Math.sqrt(variance);
  const below = foreseen.reduce((sum, mm) => sum + normalCdf((measured - mm) / sd), 0) / foreseen.length;
  return normalQuantile(Math.min(1 - LEAST_SHARE, Math.max(LEAST_SHARE, below)));
}

/** Days before today from which past forecasts are made again. */
export const FORESEEN_FROM_DAYS: readonly number[] = [180, 360];
