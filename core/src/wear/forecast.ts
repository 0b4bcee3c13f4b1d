import { exposureBetween, type OdometerPoint, severityOn } from '../duty/index.ts';
import { type PoolItem, poolReadings, resolutionVariance } from '../measure/index.ts';
import { valueAt, sortedQuantile } from '../numeric/index.ts';
import { dateOfDay, dayNumber, type IsoDate } from '../units/index.ts';
import { ageReplacement } from './ageReplacement.ts';
import { type ChangedHistory, runWithChanges } from './changes.ts';
import { dutyExplained } from './explained.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import { pacesAhead, roadsAhead } from './horizon.ts';
import { type AxleContext, contextOf, padsAhead, standToday } from './standing.ts';
import { judgedTogether } from './judgedTogether.ts';
import type { Pace } from './milesPerDay.ts';
import type { AxleForecast, PadEstimate, Quantiles, VehicleForecast } from './outcome.ts';
import { firstPassage, shareBelowZero } from './passage.ts';
import { rotorOutlook, type RotorOutlook } from './rotor.ts';
import type { FittingInput, MarkRule, ReadingInput, ReadingJudgement, RiskPolicy, VehicleInput } from './types.ts';
import type { WearState } from './state.ts';
import { widthShares } from './width.ts';
import { valueOfInspection } from './worth.ts';

/**
 * The forecast of one vehicle: for each axle the estimate of its pads today, the distribution of the
 * odometer and date at which the first of them reaches the service limit, and the mile mark.
 *
 * @param input everything on record, odometers in miles, thicknesses in mm
 * @param policy risk target (0 to 0.5), seed and number of draws; the same input gives the same forecast
 */
export function forecastVehicle(input: VehicleInput, policy: RiskPolicy): VehicleForecast {
  return forecastFrom(runWithChanges(input), input, policy);
}

/**
 * The same from a history already run; what lies ahead (duty from today on, limits, risk, costs) may differ from what
 * it was run with.
 */
export function forecastFrom(
  { history, changes, suspected }: ChangedHistory,
  input: VehicleInput,
  policy: RiskPolicy,
): VehicleForecast {
  const today = standToday(history, input);
  const severityNow = severityOn(input.duty, dayNumber(input.today));
  const axles = input.axles.map((axle) => forecastAxle(contextOf(today, input, policy, axle)));
  return {
    axles,
    judgements: judgedTogether(history.judgements, input),
    changes,
    suspected,
    odometerNowMi: today.odometerNowMi,
    milesPerDay: paceOf(today.perDay),
    severityNow,
    explained: dutyExplained(input, today.history.state),
  };
}

const DAYS_A_YEAR = 365.25;
const paceOf = ({ mean, sd, basis, ahead }: Pace): VehicleForecast['milesPerDay'] => ({
  mean,
  sd,
  basis,
  scatter: ahead.perPeriod,
  changesAYear: ahead.hazardPerDay * DAYS_A_YEAR,
});

function forecastAxle(context: AxleContext): AxleForecast {
  const { input, policy, history, axle, perDay, odometerNowMi, severityNow } = context;
  const { own, part, noise, widened, ahead } = padsAhead(context);
  const passage = firstPassage(part, axle.limitMm, noise, policy.draws, policy.seed);
  const fitted = history.lastFitting.get(axle.axle);
  // Nothing is claimed of the time before the pads were fitted, or before the record began.
  const since = odometerNowMi - (fitted?.miles ?? history.points[0]?.miles ?? odometerNowMi);
  const miles = new Float64Array(passage.length);
  const days = new Float64Array(passage.length);
  const drawn = { count: passage.length, seed: policy.seed };
  const roads = roadsAhead({ ...input, ahead }, perDay.mean, axle.axle, drawn);
  const daysOf = pacesAhead(perDay, { ...drawn, widened });
  const steady = passage.map((exposure, i) => roads.daysTo(exposure, i));
  steady.forEach((meanDays, i) => {
    const driven = Math.max(-since, meanDays * perDay.mean);
    miles[i] = odometerNowMi + driven;
    days[i] = driven > 0 ? daysOf(driven, i) : driven / perDay.mean;
  });
  miles.sort();
  days.sort();
  const lives = miles.map((at) => at - odometerNowMi);
  const today = dayNumber(input.today);
  const at = (p: number) => sortedQuantile(miles, p);
  const dateAt = (p: number) => dateOfDay(today + Math.min(36500, sortedQuantile(days, p)));
  const pads = own.map((p) => padEstimate(p, context));
  const driven = Math.max(0, since);
  const cost = policy.costs && fitted ? ageReplacement(lives, driven, policy.costs) : undefined;
  const riskMarkMiles = at(policy.riskTarget);
  const costMarkMiles = cost && !cost.runsOut ? odometerNowMi + cost.milesFromNow : undefined;
  const ruledBy: MarkRule = costMarkMiles !== undefined && costMarkMiles < riskMarkMiles ? 'cost' : 'risk';
  // The day of the risk target holds whichever rule sets the miles: at the usual pace least cost may lie after it, and a
  // mark whose two rules lie close together would leap by weeks with every mile between them.
  const costDate =
    costMarkMiles === undefined
      ? undefined
      : dateOfDay(today + Math.min(36500, Math.max(0, costMarkMiles - odometerNowMi) / perDay.mean));
  const riskDate = dateAt(policy.riskTarget);
  const markDate = costDate !== undefined && costDate < riskDate ? costDate : riskDate;
  return {
    axle: axle.axle,
    limitMm: axle.limitMm,
    pads,
    thinnestMm: Math.min(...pads.map(({ meanMm }) => meanMm)),
    markMiles: ruledBy === 'cost' ? (costMarkMiles as number) : riskMarkMiles,
    markDate,
    ruledBy,
    riskMarkMiles,
    costMarkMiles,
    costPerMile: cost?.costPerMile,
    nextInspectionDue: nextInspectionDue(context, { part, noise, ahead, steady }, markDate),
    rotor: rotorOf(context, pads),
    miles: quantilesBy(at),
    dates: quantilesBy(dateAt),
    probabilityBelowNow: shareBelowZero(passage),
    fitted,
    widened: widened > 1 ? widened : undefined,
    width: widthShares(part, axle.limitMm, noise, {
      input: { ...input, ahead },
      milesPerDay: perDay.mean,
      axle: axle.axle,
      seed: policy.seed,
    }),
    worth: valueOfInspection(part, axle.limitMm, noise, policy.riskTarget, 1000 / severityNow, policy.seed),
    evidence: evidenceOf(input.readings, axle.axle, fitted),
  };
}

/** The day by which the chance of being below the least thickness reaches the target, no later than the mark itself. */
function nextInspectionDue(
  { input, policy, axle, perDay }: AxleContext,
  {
    part,
    noise,
    ahead,
    steady,
  }: Pick<ReturnType<typeof padsAhead>, 'part' | 'noise' | 'ahead'> & { steady: Float64Array },
  markDate: IsoDate,
): IsoDate {
  const daysToLeast = (leastMm: number) => {
    const count = Math.min(policy.draws, 512);
    const passage = firstPassage(part, leastMm, noise, count, policy.seed);
    const roads = roadsAhead({ ...input, ahead }, perDay.mean, axle.axle, { count, seed: policy.seed });
    return passage.map((exposure, i) => roads.daysTo(exposure, i));
  };
  const { leastMm = axle.limitMm } = axle;
  const days = sortedQuantile(
    (leastMm === axle.limitMm ? steady.slice() : daysToLeast(leastMm)).sort(),
    policy.riskTarget,
  );
  const latest = dateOfDay(dayNumber(input.today) + Math.min(36500, Math.max(0, Math.floor(days))));
  const due = markDate > input.today ? markDate : input.today;
  return latest < due ? latest : due;
}

/** What is to be expected of the axle's rotors, by the wear of its pads. */
function rotorOf(
  { input, history, axle, odometerNowMi }: AxleContext,
  pads: readonly PadEstimate[],
): RotorOutlook | undefined {
  const { rotor } = axle;
  if (!rotor) return undefined;
  const { state, points } = history;
  const logs = state.places.flatMap((place, p) => (place.axle === axle.axle ? [valueAt(state.mean, p)] : []));
  const rate = Math.exp(logs.reduce((sum, log) => sum + log, 0) / logs.length);
  const start = {
    date: rotor.fittedOn ?? points[0]?.date ?? input.today,
    miles: rotor.fittedMiles ?? points[0]?.miles ?? odometerNowMi,
  };
  const worn = (to: OdometerPoint) => (rate * exposureBetween(input.duty, start, to, axle.axle).weightedMiles) / 1000;
  const mean = pads.reduce((sum, { meanMm }) => sum + meanMm, 0) / pads.length;
  return rotorOutlook({
    newMm: rotor.newMm,
    discardMm: rotor.discardMm,
    fromNew: rotor.fittedOn !== undefined,
    readings: rotor.readings
      .filter(({ date }) => date >= start.date && date <= input.today)
      .map(({ side, mm, date, miles }) => ({ side, mm, padWearMm: worn({ date, miles }) })),
    padWearNowMm: worn({ date: input.today, miles: odometerNowMi }),
    padsLeftMm: Math.max(0, mean - axle.limitMm),
    padsNewMm: axle.newMm - axle.limitMm,
  });
}

function quantilesBy<T>(at: (p: number) => T): Quantiles<T> {
  return { p05: at(0.05), p10: at(0.1), p25: at(0.25), p50: at(0.5), p75: at(0.75), p90: at(0.9), p95: at(0.95) };
}

function padEstimate(p: number, { input, history, severityNow, odometerNowMi }: AxleContext): PadEstimate {
  const { state } = history;
  const { size, data } = state.cov;
  const at = state.places.length + p;
  const place = state.places[p] as WearState['places'][number];
  const ratePerExposure = Math.exp(valueAt(state.mean, p));
  const fitted = history.lastFitting.get(place.axle);
  const now = { date: input.today, miles: odometerNowMi };
  const regularOf = regularChances(history.judgements);
  const items: (PoolItem & { biasMm: number; wearMm: number })[] = input.readings
    .filter(
      (one) => one.axle === place.axle && one.side === place.side && one.pad === place.pad && isSince(one, fitted),
    )
    .filter(({ date }) => date <= input.today)
    .map((one) => {
      const appraiser = input.appraisers[appraiserKeyOf(one)] ?? input.unknownAppraiser;
      const wearMm = (exposureBetween(input.duty, one, now, place.axle).weightedMiles / 1000) * ratePerExposure;
      return {
        id: one.id,
        technician: one.technician,
        biasMm: appraiser.biasMm + (one.driftMm ?? 0),
        wearMm,
        carriedMm: one.mm - appraiser.biasMm - (one.driftMm ?? 0) - wearMm,
        variance:
          appraiser.repeatabilityMm ** 2 +
          appraiser.biasSdMm ** 2 +
          resolutionVariance(one.resolutionMm) +
          (WEAR_SINCE_SPREAD * wearMm) ** 2,
        regular: regularOf.get(one.id) ?? 1,
      };
    });
  const pooled = poolReadings(items);
  return {
    side: place.side,
    pad: place.pad,
    meanMm: valueAt(state.mean, at),
    sdMm: Math.sqrt(Math.max(0, valueAt(data, at * size + at))),
    ratePer1000Mi: ratePerExposure * severityNow,
    pooled,
    carried: items.map(({ id, biasMm, wearMm, carriedMm, variance, regular }) => ({
      id,
      biasMm,
      wearMm,
      carriedMm,
      sdMm: Math.sqrt(variance),
      weight: pooled?.weights.get(id) ?? 0,
      regular,
    })),
    trace: history.traces[p] ?? [],
  };
}

/** How far the wear since a reading may be off, as a share of it (common practice, no source). */
const WEAR_SINCE_SPREAD = 0.2;

/** Chance that a reading is of its own pad; one whose sides were swapped says nothing of the place it names. */
function regularChance({ hypotheses, suspicion }: ReadingJudgement): number {
  if (suspicion?.kind === 'sides') return 1 - suspicion.probability;
  return hypotheses
    .filter(({ explanation }) => explanation === 'regular' || explanation === 'changed')
    .reduce((sum, { probability }) => sum + probability, 0);
}

const REGULAR = new WeakMap<readonly ReadingJudgement[], Map<string, number>>();

/** The same by the reading's id; worked out once for all pads of a vehicle. */
function regularChances(judgements: readonly ReadingJudgement[]): ReadonlyMap<string, number> {
  const known = REGULAR.get(judgements);
  if (known) return known;
  const chances = new Map(judgements.map((one) => [one.id, regularChance(one)]));
  REGULAR.set(judgements, chances);
  return chances;
}

/** Whether a reading was taken of the pads fitted last (a reading on the day of fitting is of the old ones). */
function isSince({ date, miles }: { date: IsoDate; miles: number }, fitted: FittingInput | undefined): boolean {
  return !fitted || date > fitted.date || (date === fitted.date && miles > fitted.miles);
}

function evidenceOf(
  readings: readonly ReadingInput[],
  axle: number,
  fitted: FittingInput | undefined,
): AxleForecast['evidence'] {
  const own = readings.filter((reading) => reading.axle === axle);
  const since = own.filter((reading) => isSince(reading, fitted));
  return {
    readings: since.length,
    technicians: new Set(since.map(({ technician }) => technician)).size,
    lastDate: since
      .map(({ date }) => date)
      .sort()
      .at(-1),
    earlierReadings: own.length - since.length,
  };
}
