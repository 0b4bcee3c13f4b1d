import { valueAt } from '../numeric/index.ts';
import { dutiesBegun, exposureBetween, type OdometerPoint, risingOdometers } from '../duty/index.ts';
import { SIDES_PRIOR } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import { advance, type Stretch } from './advance.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import { judgedTogether } from './judgedTogether.ts';
import { observe } from './observe.ts';
import { type Event, eventsOf } from './events.ts';
import { copyState, fitNewPads, forgetThickness, initialState, type WearState, widenRates } from './state.ts';
import { swappedSides, type SwappedSides, withSwap } from './swappedSides.ts';
import type { FittingInput, Appraiser, ReadingInput, ReadingJudgement, TracePoint, VehicleInput } from './types.ts';

/** The state of a vehicle after its whole history, with what was seen on the way. */
export interface History {
  state: WearState;
  judgements: ReadingJudgement[];
  /** Estimates of each pad after each event since its pads were fitted. */
  traces: TracePoint[][];
  points: OdometerPoint[];
  lastFitting: Map<number, FittingInput>;
  /** Logarithm of the chance of all figures as they were read. */
  logEvidence: number;
}

/** A run through the events of a vehicle that can be stopped, copied and gone on with. */
export interface Run extends History {
  events: readonly Event[];
  /** Events taken in so far. */
  taken: number;
  here?: OdometerPoint | undefined;
  swaps: SwappedSides;
  /** The look that is being taken in: where it begins among the events, and its readings in the order they are taken. */
  look: { at: number; readings: readonly ReadingInput[] };
  /** What was driven before each event, filled as runs get there: it is the same for all that share the events. */
  driven: (Driven | undefined)[];
}

/** A stretch of driving between two points, and how many duties began on it. */
interface Driven extends Stretch {
  dutiesBegun: number;
}

/** What somebody may do to a run besides: at its fittings. */
export interface RunHooks {
  onFitting?: (state: WearState, axle: number, date: IsoDate) => void;
  /** Called when a day with readings or fittings is over. */
  onDay?: (run: Run, date: IsoDate) => void;
}

/** Runs the filter over everything on record of one vehicle, in order of date. */
export function runHistory(input: VehicleInput): History {
  const run = proceed(beginRun(input), input);
  return { ...run, judgements: judgedTogether(run.judgements, input) };
}

/** The same for whoever asks only what it ended with and how likely it was: no traces are kept on the way. */
export function runUntraced(input: VehicleInput): Omit<History, 'traces'> {
  const run = proceed({ ...beginRun(input), traces: [] }, input);
  return { ...run, judgements: judgedTogether(run.judgements, input) };
}

/** A run before its first event. */
export function beginRun(input: VehicleInput): Run {
  const appraisers = [...new Set(input.readings.map(appraiserKeyOf))].sort();
  const state = initialState(input.axles, appraisers, (name) => input.appraisers[name] ?? input.unknownAppraiser);
  const events = eventsOf(input);
  return {
    state,
    judgements: [],
    traces: state.places.map(() => []),
    points: risingOdometers(events),
    lastFitting: new Map(),
    logEvidence: 0,
    events,
    taken: 0,
    swaps: new Map(),
    look: { at: 0, readings: [] },
    driven: [],
  };
}

/** A copy of a run that can go another way. */
export function copyRun(run: Run): Run {
  return {
    ...run,
    state: copyState(run.state),
    judgements: [...run.judgements],
    traces: run.traces.map((trace) => [...trace]),
    lastFitting: new Map(run.lastFitting),
  };
}

/** Takes in the events that are left; changes the run and returns it. */
export function proceed(run: Run, input: VehicleInput, hooks: RunHooks = {}): Run {
  const appraiserOf = (name: string): Appraiser => input.appraisers[name] ?? input.unknownAppraiser;
  const axleOf = new Map(input.axles.map((axle) => [axle.axle, axle]));
  const { state, events } = run;
  for (; run.taken < events.length; run.taken += 1) {
    const index = run.taken;
    const event = events[index] as Event;
    const point = { date: event.date, miles: Math.max(event.miles, run.here?.miles ?? event.miles) };
    // Readings of one look are of one moment: nothing was driven between them.
    if (run.here && (run.here.date !== point.date || run.here.miles !== point.miles))
      carry(state, input, (run.driven[index] ??= drivenBetween(input, run.here, point)));
    run.here = point;
    const axle = axleOf.get(
      event.kind === 'reading' ? event.reading.axle : event.kind === 'fitting' ? event.fitting.axle : 0,
    );
    if (event.kind === 'reading' && axle) {
      if (event.opens) {
        run.swaps = swappedSides(state, event.opens, appraiserOf);
        run.look = { at: index, readings: leastSurprisingFirst(state, event.opens, appraiserOf) };
      }
      const reading = run.look.readings[index - run.look.at] ?? event.reading;
      const swap = run.swaps.get(reading.id);
      const taken = swap ? { ...reading, mm: swap.insteadMm } : reading;
      const judgement = observe(state, taken, axle, appraiserOf(appraiserKeyOf(reading)).repeatabilityMm);
      run.logEvidence += judgement.logEvidence + (swap && event.opens ? Math.log(SIDES_PRIOR) : 0);
      run.judgements.push(swap ? withSwap(judgement, swap, reading.mm) : judgement);
      record(state, run.traces, reading.axle, point);
    } else if (event.kind === 'fitting' && axle) {
      fitNewPads(state, axle, input.noise.newToleranceMm);
      hooks.onFitting?.(state, axle.axle, event.date);
      run.lastFitting.set(axle.axle, event.fitting);
      state.places.forEach((place, p) => {
        if (place.axle === axle.axle && run.traces[p]) run.traces[p] = [];
      });
      record(state, run.traces, axle.axle, point);
    }
    if (hooks.onDay && event.kind !== 'odometer' && events[index + 1]?.date !== event.date) {
      run.taken += 1;
      hooks.onDay(run, event.date);
      run.taken -= 1;
    }
  }
  return run;
}

/** Carries the state from one odometer to another; an axle of which nothing is known yet stays unknown. */
export function drive(state: WearState, input: VehicleInput, from: OdometerPoint, to: OdometerPoint): void {
  carry(state, input, drivenBetween(input, from, to));
}

function drivenBetween(input: VehicleInput, from: OdometerPoint, to: OdometerPoint): Driven {
  const hot = input.duty.some(({ byAxle }) => byAxle !== undefined);
  const byAxle = hot
    ? Object.fromEntries(
        input.axles.map(({ axle }) => [axle, exposureBetween(input.duty, from, to, axle).weightedMiles]),
      )
    : undefined;
  const begun = dutiesBegun(input.duty, from.date, to.date);
  return { ...exposureBetween(input.duty, from, to), byAxle, dutiesBegun: begun };
}

function carry(state: WearState, input: VehicleInput, driven: Driven): void {
  if (driven.dutiesBegun > 0) widenRates(state, driven.dutiesBegun * input.noise.perDuty ** 2);
  advance(state, driven, input.noise);
  for (const axle of input.axles) {
    const known = state.places.some((place, p) => place.axle === axle.axle && state.informed[p]);
    if (!known) forgetThickness(state, axle);
  }
}

/**
 * The readings of one look, those nearest to what is expected first: each is judged knowing those that are less in doubt,
 * so that the pads of a look are judged together and the order in which they were written down tells nothing.
 */
function leastSurprisingFirst(
  state: WearState,
  readings: readonly ReadingInput[],
  appraiserOf: (name: string) => Appraiser,
): ReadingInput[] {
  const { size, data } = state.cov;
  const count = state.places.length;
  const surprise = (reading: ReadingInput) => {
    const { axle, side, pad } = reading;
    const x = count + state.places.findIndex((one) => one.axle === axle && one.side === side && one.pad === pad);
    const b = 2 * count + state.appraisers.indexOf(appraiserKeyOf(reading));
    const variance = valueAt(data, x * size + x) + 2 * valueAt(data, x * size + b) + valueAt(data, b * size + b);
    const spread = variance + appraiserOf(appraiserKeyOf(reading)).repeatabilityMm ** 2;
    return (reading.mm - valueAt(state.mean, x) - valueAt(state.mean, b) - (reading.driftMm ?? 0)) ** 2 / spread;
  };
  return readings
    .map((reading) => ({ reading, by: surprise(reading) }))
    .sort((a, b) => a.by - b.by || (a.reading.id < b.reading.id ? -1 : 1))
    .map(({ reading }) => reading);
}

/** Adds to the traces of an axle's pads, where they are kept. */
function record(state: WearState, traces: TracePoint[][], axle: number, { date, miles }: OdometerPoint): void {
  if (traces.length === 0) return;
  const count = state.places.length;
  const { size, data } = state.cov;
  state.places.forEach((place, p) => {
    if (place.axle !== axle) return;
    const at = count + p;
    const point = {
      date,
      miles,
      meanMm: valueAt(state.mean, at),
      sdMm: Math.sqrt(Math.max(0, valueAt(data, at * size + at))),
    };
    const trace = traces[p] as TracePoint[];
    const last = trace.at(-1);
    if (last && last.date === date && last.miles === miles && trace.length > 1) trace[trace.length - 1] = point;
    else trace.push(point);
  });
}
