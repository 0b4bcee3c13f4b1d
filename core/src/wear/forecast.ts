import { exposureBetween, severityOn, type OdometerPoint } from '../duty/index.ts';
import { poolReadings, resolutionVariance, type PoolItem } from '../measure/index.ts';
import { sortedQuantile } from '../numeric/index.ts';
import { dateOfDay, dayNumber, type IsoDate } from '../units/index.ts';
import { advance } from './advance.ts';
import { horizon } from './horizon.ts';
import { milesPerDay } from './milesPerDay.ts';
import { observe } from './observe.ts';
import { axleState, commonDraws, firstPassage, shareBelowZero } from './passage.ts';
import { handKeyOf } from './handKey.ts';
import { wearingApart } from './seized.ts';
import { fitNewPads, forgetThickness, initialState, type WearState } from './state.ts';
import { swappedSides, withSwap, type SwappedSides } from './swappedSides.ts';
import { worthOfLook } from './worth.ts';
import type {
  AxleForecast,
  AxleInput,
  FittingInput,
  Hand,
  PadEstimate,
  ReadingInput,
  ReadingJudgement,
  RiskPolicy,
  TracePoint,
  VehicleForecast,
  VehicleInput,
} from './types.ts';

type Event =
  | { kind: 'odometer'; date: IsoDate; miles: number }
  | { kind: 'reading'; date: IsoDate; miles: number; reading: ReadingInput }
  | { kind: 'fitting'; date: IsoDate; miles: number; fitting: FittingInput };

/** On one day: odometers, then readings, then fittings (pads are measured before they are changed). */
const ORDER = { odometer: 0, reading: 1, fitting: 2 } as const;

/** The state of a vehicle after its whole history, with what was seen on the way. */
export interface History {
  state: WearState;
  judgements: ReadingJudgement[];
  /** Estimates of each pad after each event since its pads were fitted. */
  traces: TracePoint[][];
  points: OdometerPoint[];
  lastFitting: Map<number, FittingInput>;
}

/** Runs the filter over everything on record of one vehicle, in order of date. */
export function runHistory(input: VehicleInput): History {
  const hands = [...new Set(input.readings.map(handKeyOf))].sort();
  const handOf = (name: string): Hand => input.hands[name] ?? input.unknownHand;
  const state = initialState(input.axles, hands, handOf);
  const axleOf = new Map(input.axles.map((axle) => [axle.axle, axle]));
  const events = eventsOf(input);
  const judgements: ReadingJudgement[] = [];
  const traces: TracePoint[][] = state.places.map(() => []);
  const lastFitting = new Map<number, FittingInput>();
  let here: OdometerPoint | undefined;
  let swaps: SwappedSides = new Map();

  for (const [index, event] of events.entries()) {
    const point = { date: event.date, miles: Math.max(event.miles, here?.miles ?? 0) };
    if (here) {
      drive(state, input, here, point);
    }
    here = point;
    if (event.kind === 'reading') {
      const { reading } = event;
      const axle = axleOf.get(reading.axle);
      if (!axle) continue;
      if (opensAxle(events, index)) swaps = swappedSides(state, readingsOfAxle(events, index), handOf);
      const swap = swaps.get(reading.id);
      const taken = swap ? { ...reading, mm: swap.insteadMm } : reading;
      const judgement = observe(state, taken, axle, handOf(handKeyOf(reading)).repeatabilityMm);
      judgements.push(swap ? withSwap(judgement, swap, reading.mm) : judgement);
      record(state, traces, reading.axle, point);
    } else if (event.kind === 'fitting') {
      const axle = axleOf.get(event.fitting.axle);
      if (!axle) continue;
      fitNewPads(state, axle, input.noise.newToleranceMm);
      lastFitting.set(axle.axle, event.fitting);
      state.places.forEach((place, p) => {
        if (place.axle === axle.axle) traces[p] = [];
      });
      record(state, traces, axle.axle, point);
    }
  }
  return { state, judgements, traces, points: pointsOf(events), lastFitting };
}

/** Whether the reading at this index is the first of its inspection and axle. */
function opensAxle(events: readonly Event[], index: number): boolean {
  const [before, here] = [events[index - 1], events[index]];
  return !(before?.kind === 'reading' && here?.kind === 'reading' && sameAxleAndLook(before.reading, here.reading));
}

/** The readings of one inspection and axle that begin at this index. */
function readingsOfAxle(events: readonly Event[], index: number): ReadingInput[] {
  const own: ReadingInput[] = [];
  const first = events[index];
  for (const event of events.slice(index, index + 8)) {
    if (first?.kind !== 'reading' || event.kind !== 'reading' || !sameAxleAndLook(first.reading, event.reading)) break;
    own.push(event.reading);
  }
  return own;
}

function sameAxleAndLook(a: ReadingInput, b: ReadingInput): boolean {
  return a.axle === b.axle && a.date === b.date && a.miles === b.miles && handKeyOf(a) === handKeyOf(b);
}

/** Carries the state from one odometer to another; an axle of which nothing is known yet stays unknown. */
function drive(state: WearState, input: VehicleInput, from: OdometerPoint, to: OdometerPoint): void {
  advance(state, exposureBetween(input.duty, from, to), input.noise);
  for (const axle of input.axles) {
    const known = state.places.some((place, p) => place.axle === axle.axle && state.informed[p]);
    if (!known) forgetThickness(state, axle);
  }
}

function eventsOf(input: VehicleInput): Event[] {
  const events: Event[] = [
    ...input.odometers.map(({ date, miles }) => ({ kind: 'odometer' as const, date, miles })),
    ...input.readings.map((reading) => ({
      kind: 'reading' as const,
      date: reading.date,
      miles: reading.miles,
      reading,
    })),
    ...input.fittings.map((fitting) => ({
      kind: 'fitting' as const,
      date: fitting.date,
      miles: fitting.miles,
      fitting,
    })),
  ];
  // Readings of one hand and axle stand together: they are one look at it.
  const lookOf = (event: Event) =>
    event.kind === 'reading' ? `${handKeyOf(event.reading)}/${event.reading.axle}/${event.reading.id}` : '';
  return events
    .filter(({ date }) => date <= input.today)
    .sort(
      (a, b) =>
        a.date.localeCompare(b.date) ||
        ORDER[a.kind] - ORDER[b.kind] ||
        a.miles - b.miles ||
        lookOf(a).localeCompare(lookOf(b)),
    );
}

/** One odometer a day, rising. */
function pointsOf(events: readonly Event[]): OdometerPoint[] {
  const points: OdometerPoint[] = [];
  for (const { date, miles } of events) {
    const last = points.at(-1);
    if (last?.date === date) last.miles = Math.max(last.miles, miles);
    else points.push({ date, miles: Math.max(miles, last?.miles ?? 0) });
  }
  return points;
}

function record(state: WearState, traces: TracePoint[][], axle: number, { date, miles }: OdometerPoint): void {
  const count = state.places.length;
  const { size, data } = state.cov;
  state.places.forEach((place, p) => {
    if (place.axle !== axle) return;
    const at = count + p;
    const point = {
      date,
      miles,
      meanMm: state.mean[at] as number,
      sdMm: Math.sqrt(Math.max(0, data[at * size + at] as number)),
    };
    const trace = traces[p] as TracePoint[];
    const last = trace.at(-1);
    if (last && last.date === date && last.miles === miles && trace.length > 1) trace[trace.length - 1] = point;
    else trace.push(point);
  });
}

/**
 * The forecast of one vehicle: for each axle the estimate of its pads today, the distribution of the
 * odometer and date at which the first of them reaches the service limit, and the mile mark.
 *
 * @param input everything on record, odometers in miles, thicknesses in mm
 * @param policy risk target (0 to 0.5), seed and number of draws; the same input gives the same forecast
 */
export function forecastVehicle(input: VehicleInput, policy: RiskPolicy): VehicleForecast {
  const history = runHistory(input);
  const { state, points } = history;
  const dutyFrom = input.duty.filter(({ from }) => from <= input.today).at(-1)?.from;
  const perDay = milesPerDay(
    points,
    input.today,
    input.statedMilesPerDay,
    input.duty.length > 1 ? dutyFrom : undefined,
  );
  const last = points.at(-1);
  const daysSince = last ? dayNumber(input.today) - dayNumber(last.date) : 0;
  const odometerNowMi = (last?.miles ?? 0) + daysSince * perDay.mean;
  if (last) {
    drive(state, input, last, { date: input.today, miles: odometerNowMi });
  }
  const severityNow = severityOn(input.duty, dayNumber(input.today));
  const axles = input.axles.map((axle) =>
    forecastAxle({ input, policy, history, axle, perDay, odometerNowMi, severityNow }),
  );
  return {
    axles,
    judgements: history.judgements,
    apart: wearingApart(input, history),
    odometerNowMi,
    milesPerDay: perDay,
    severityNow,
  };
}

interface AxleContext {
  input: VehicleInput;
  policy: RiskPolicy;
  history: History;
  axle: AxleInput;
  perDay: VehicleForecast['milesPerDay'];
  odometerNowMi: number;
  severityNow: number;
}

function forecastAxle(context: AxleContext): AxleForecast {
  const { input, policy, history, axle, perDay, odometerNowMi, severityNow } = context;
  const { state } = history;
  const count = state.places.length;
  const own = state.places.flatMap((place, p) => (place.axle === axle.axle ? [p] : []));
  const part = axleState(state.mean, state.cov, [...own, ...own.map((p) => count + p)]);
  const exposurePerPeriod = Math.max(1e-6, (28 * perDay.mean * severityNow) / 1000);
  const noise = { ...input.noise, exposurePerPeriod, milesPerExposure: 1 / severityNow };
  const passage = firstPassage(part, axle.limitMm, noise, policy.draws, policy.seed);
  const fitted = history.lastFitting.get(axle.axle);
  // Nothing is claimed of the time before the pads were fitted, or before the record began.
  const since = odometerNowMi - (fitted?.miles ?? history.points[0]?.miles ?? odometerNowMi);
  const miles = new Float64Array(passage.length);
  const days = new Float64Array(passage.length);
  const pace = commonDraws(passage.length, 1, policy.seed + 1);
  const daysTo = horizon(input.duty, input.today, perDay.mean);
  const paceSd = perDay.sd / perDay.mean;
  passage.forEach((exposure, i) => {
    const meanDays = daysTo(exposure);
    const driven = Math.max(-since, meanDays * perDay.mean);
    miles[i] = odometerNowMi + driven;
    const factor = driven > 0 ? Math.exp(-paceSd * (pace[i] as number)) : 1;
    days[i] = (driven / perDay.mean) * factor;
  });
  days.sort();
  const today = dayNumber(input.today);
  const at = (p: number) => sortedQuantile(miles, p);
  const dateAt = (p: number) => dateOfDay(today + Math.min(36500, sortedQuantile(days, p)));
  const pads = own.map((p) => padEstimate(p, context));
  return {
    axle: axle.axle,
    limitMm: axle.limitMm,
    pads,
    thinnestMm: Math.min(...pads.map(({ meanMm }) => meanMm)),
    markMiles: at(policy.riskTarget),
    markDate: dateAt(policy.riskTarget),
    miles: { p05: at(0.05), p10: at(0.1), p50: at(0.5), p90: at(0.9) },
    dates: { p05: dateAt(0.05), p10: dateAt(0.1), p50: dateAt(0.5), p90: dateAt(0.9) },
    probabilityBelowNow: shareBelowZero(passage),
    fitted,
    worth: worthOfLook(part, axle.limitMm, noise, policy.riskTarget, 1000 / severityNow, policy.seed),
    evidence: evidenceOf(input.readings, axle.axle, fitted),
  };
}

function padEstimate(p: number, { input, history, severityNow, odometerNowMi }: AxleContext): PadEstimate {
  const { state } = history;
  const { size, data } = state.cov;
  const at = state.places.length + p;
  const place = state.places[p] as WearState['places'][number];
  const ratePerExposure = Math.exp(state.mean[p] as number);
  const fitted = history.lastFitting.get(place.axle);
  const now = { date: input.today, miles: odometerNowMi };
  const regularOf = new Map(history.judgements.map((one) => [one.id, regularChance(one)]));
  const items: (PoolItem & { biasMm: number; wearMm: number })[] = input.readings
    .filter(
      (one) => one.axle === place.axle && one.side === place.side && one.pad === place.pad && isSince(one, fitted),
    )
    .filter(({ date }) => date <= input.today)
    .map((one) => {
      const hand = input.hands[handKeyOf(one)] ?? input.unknownHand;
      const wearMm = (exposureBetween(input.duty, one, now).weightedMiles / 1000) * ratePerExposure;
      return {
        id: one.id,
        technician: one.technician,
        biasMm: hand.biasMm,
        wearMm,
        carriedMm: one.mm - hand.biasMm - wearMm,
        variance:
          hand.repeatabilityMm ** 2 +
          hand.biasSdMm ** 2 +
          resolutionVariance(one.resolutionMm) +
          (WEAR_SINCE_SPREAD * wearMm) ** 2,
        regular: regularOf.get(one.id) ?? 1,
      };
    });
  const pooled = poolReadings(items);
  return {
    side: place.side,
    pad: place.pad,
    meanMm: state.mean[at] as number,
    sdMm: Math.sqrt(Math.max(0, data[at * size + at] as number)),
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
