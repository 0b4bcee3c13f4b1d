import { SIDES, type Pad, type Side } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import { beginRun, copyRun, proceed, type History, type Run } from './history.ts';
import { takeStep, withSteps, type RateStep, type WearState } from './state.ts';
import type { VehicleInput } from './types.ts';

/**
 * What may have changed: a wheel's pads wear apart (a slide seized, most often), both pads of a wheel wear otherwise
 * (drag), all pads of an axle since they were fitted (wrong pads, most often), all pads of the vehicle (the route).
 */
export type ChangeKind = 'apart' | 'wheel' | 'axle' | 'route';

/** A change of wear found in the readings, with its evidence. */
export interface WearChange {
  kind: ChangeKind;
  /** Where; undefined for the whole vehicle, `side` only for a wheel. */
  axle?: number | undefined;
  side?: Side | undefined;
  /** The pad that wears more, where the pads of a wheel wear apart. */
  more?: Pad | undefined;
  /** The look (or fitting) after which it began. */
  since: IsoDate;
  /** When new pads went on and ended it, as far as is known. */
  until?: IsoDate | undefined;
  /** Chance that it is so, 0 to 1. */
  probability: number;
  /** How many times its usual rate the (more wearing) pad wears: median, and 90 % interval. */
  factor: { p05: number; p50: number; p95: number };
  /** Looks at it since. */
  looks: number;
  /** Wear since then of the places in question, mean of sides where both are meant, and what it would have been without, mm. */
  wear: { side?: Side | undefined; pad: Pad; mm: number; usualMm: number }[];
}

/**
 * Steps of the log rate by kind, and the chance at any look that one began (starting values, common practice, no
 * source: a seized slide wears one pad about three times as fast and half relieves the other; drag over 1.6 times).
 */
const STEPS: Record<ChangeKind, { sd: number; hazard: number }> = {
  apart: { sd: 0.25, hazard: 0.008 },
  wheel: { sd: 0.5, hazard: 0.0003 },
  axle: { sd: 0.5, hazard: 0.001 },
  route: { sd: 0.5, hazard: 0.002 },
};
const APART = { more: Math.log(2.8), less: Math.log(0.55) };
const DRAG = Math.log(1.8);
/**
 * From this chance on a change is told. A seized slide earlier than the rest: its pins are tried in minutes, and it may
 * eat a pad before the next look. On twelve virtual fleets 0.82 told 90 % of them by the third look and one falsely in
 * 2,700 wheel-end inspections; 0.85 told 88 % and one in 3,000.
 */
export const TOLD_FROM: Readonly<Record<ChangeKind, number>> = { apart: 0.82, wheel: 0.9, axle: 0.9, route: 0.9 };
/** From this chance on a change that is not told yet is named as what widens the forecast. */
const NAMED_FROM = 0.2;
/** Under this chance a change is left out of the forecast. */
const COUNTS_FROM = 0.02;
/** How far back a change may have begun, looks. */
const LOOKS_BACK = 6;
/** How far the innovations must point a change's way, in standard deviations, to be worth the trial. */
const WORTH_TRYING = 2.3;
/** No more changes than this are looked for at a time in one vehicle. */
const MOST_CHANGES = 3;

interface Candidate {
  kind: ChangeKind;
  axle?: number | undefined;
  side?: Side | undefined;
  more?: Pad | undefined;
  since: IsoDate;
  /** When new pads end it. */
  until?: IsoDate | undefined;
  /** Pads that would wear more, and those that would wear less. */
  steps: RateStep[];
}

/** A change that is likely, but not sure enough to be told as found: it widens the forecast. */
export type SuspectedChange = Pick<WearChange, 'kind' | 'axle' | 'side' | 'more' | 'since' | 'probability'>;

/** A vehicle's history with changes of its wear found and taken in. */
export interface ChangedHistory {
  history: History;
  changes: WearChange[];
  /** The likeliest that entered as a mixture only. */
  suspected?: SuspectedChange | undefined;
}

/**
 * Runs a vehicle's history and looks for changes of wear.
 *
 * For every look after which a change may have begun, the history is run on from there with the rates in question
 * stepped by an unknown factor; by Bayes' rule the chance of all later figures under it, against that without, and
 * the chance of such a change give how sure it is. What is likely enough enters the state as the mixture of both,
 * collapsed to its mean and covariance. A candidate is tried only where the innovations of the plain run point its
 * way. New pads on an axle end what was seized or dragged there, and its rates go back.
 *
 * Source: likelihood-ratio test for jumps, Willsky & Jones, IEEE Trans. Automatic Control 21 (1976) 108; here with the
 * jump's size integrated out and gross errors in the likelihood.
 */
export function runWithChanges(input: VehicleInput): ChangedHistory {
  const runs = new Map<IsoDate, Run>();
  const start = beginRun(input);
  const early = firstOnset(input);
  const plain = proceed(start, input, {
    onDay: (run, date) => {
      if (date >= early) runs.set(date, copyRun(run));
    },
  });
  let history: Run = plain;
  const changes: WearChange[] = [];
  let suspected: SuspectedChange | undefined;
  const taken: Candidate[] = [];
  for (let round = 0; round < MOST_CHANGES; round += 1) {
    const found = nextChange(input, plain, history, runs, taken);
    if (!found) break;
    history = found.history;
    suspected = found.suspected;
    if (!found.change) break;
    changes.push(found.change);
    taken.push(found.candidate);
  }
  return { history: collapsed(history, plain), changes, suspected };
}

/** The earliest day after which a change is looked for. */
function firstOnset(input: VehicleInput): IsoDate {
  const back = (days: readonly IsoDate[]) => [...new Set(days)].sort().at(-(LOOKS_BACK + 1)) ?? '';
  const dated = [...input.readings, ...input.fittings].filter(({ date }) => date <= input.today);
  const perAxle = input.axles.map(({ axle }) => back(dated.filter((one) => one.axle === axle).map(({ date }) => date)));
  return [...perAxle, back(dated.map(({ date }) => date))].sort()[0] ?? '';
}

interface Found {
  history: Run;
  candidate: Candidate;
  /** Only where it is sure enough to be told. */
  change?: WearChange | undefined;
  /** Where it is not, but likely enough to be named as what widens the forecast. */
  suspected?: SuspectedChange | undefined;
}

/** The likeliest further change, and the history with it taken in as far as it is likely. */
function nextChange(
  input: VehicleInput,
  plain: Run,
  base: Run,
  runs: ReadonlyMap<IsoDate, Run>,
  taken: readonly Candidate[],
): Found | undefined {
  const candidates = candidatesOf(input, base, [...runs.keys()]).filter(
    (one) => !taken.some((other) => sameCause(one, other)),
  );
  const tried = candidates.map((candidate) => {
    const { run, at } = runWith(input, runs, [...taken, candidate]);
    return { candidate, run, at, log: run.logEvidence - base.logEvidence + Math.log(STEPS[candidate.kind].hazard) };
  });
  if (tried.length === 0) return undefined;
  const highest = Math.max(0, ...tried.map(({ log }) => log));
  const total = Math.exp(-highest) + tried.reduce((sum, { log }) => sum + Math.exp(log - highest), 0);
  const chance = (log: number) => Math.exp(log - highest) / total;
  const best = tried.reduce((a, b) => (b.log > a.log ? b : a));
  // Onsets of one cause are one change: their chances add up, and the likeliest stands for them.
  const own = tried.filter(({ candidate }) => sameCause(candidate, best.candidate));
  const probability = own.reduce((sum, { log }) => sum + chance(log), 0);
  if (probability < COUNTS_FROM) return undefined;
  if (probability < TOLD_FROM[best.candidate.kind]) {
    const parts = tried.map(({ run, log }) => ({ state: run.state, weight: chance(log) }));
    const state = mixture([{ state: base.state, weight: chance(0) }, ...parts], plain.state.cov.size);
    const { kind, axle, side, more, since, until } = best.candidate;
    // What new pads ended no longer widens anything.
    const named = probability >= NAMED_FROM && until === undefined;
    const suspected = named ? { kind, axle, side, more, since, probability } : undefined;
    return { history: { ...base, state }, candidate: best.candidate, suspected };
  }
  return { history: best.run, candidate: best.candidate, change: told(input, best, probability) };
}

/** A run with steps taken in, and where the state keeps the last named change's. */
interface Stepped {
  run: Run;
  at: number;
}

/** Same kind of change of the same place and pads, whenever it began. */
function sameCause(a: Candidate, b: Candidate): boolean {
  return a.kind === b.kind && a.axle === b.axle && a.side === b.side && a.more === b.more && a.until === b.until;
}

/** Runs on from the first of the changes' days with all of them in the rates from their days on. */
function runWith(input: VehicleInput, runs: ReadonlyMap<IsoDate, Run>, changes: readonly Candidate[]): Stepped {
  const ordered = [...changes].sort((a, b) => a.since.localeCompare(b.since));
  const first = runs.get(ordered[0]?.since ?? '') as Run;
  const run = copyRun(first);
  const bare = run.state.cov.size;
  run.state = withSteps(
    run.state,
    ordered.flatMap(({ steps }) => steps),
  );
  let next = bare;
  const active = ordered.map((candidate) => {
    const at = next;
    next += candidate.steps.length;
    return { candidate, at, on: false };
  });
  const turn = (one: (typeof active)[number], sign: 1 | -1) => {
    one.candidate.steps.forEach(({ pads }, j) => takeStep(run.state, pads, one.at + j, sign));
    one.on = sign === 1;
  };
  const begin = (date: IsoDate) => {
    for (const one of active) if (!one.on && one.candidate.since === date) turn(one, 1);
  };
  begin(ordered[0]?.since ?? '');
  proceed(run, input, {
    onFitting: (_state, axle, date) => {
      for (const one of active) {
        const { kind, since } = one.candidate;
        if (one.on && kind !== 'route' && one.candidate.axle === axle && date > since) turn(one, -1);
      }
    },
    onDay: (_run, date) => begin(date),
  });
  return { run, at: active.find(({ candidate }) => candidate === changes.at(-1))?.at ?? bare };
}

/** Changes worth trying: the innovations since some look point their way. */
function candidatesOf(input: VehicleInput, run: Run, days: readonly IsoDate[]): Candidate[] {
  const looks = innovationsOf(input, run);
  const places = run.state.places;
  const found: Candidate[] = [];
  const consider = (candidate: Candidate, days: readonly IsoDate[], weights: ReadonlyMap<number, number>) => {
    for (const since of days) {
      const until = endOf(input, candidate, since);
      const score = scoreOf(looks, since, until, weights);
      if (
        candidate.kind === 'axle' || candidate.kind === 'route' ? Math.abs(score) > WORTH_TRYING : score > WORTH_TRYING
      )
        found.push({ ...candidate, since, until });
    }
  };
  for (const { axle } of input.axles) {
    const own = places.flatMap((place, p) => (place.axle === axle ? [p] : []));
    const measured = new Set(looks.filter(({ pad }) => own.includes(pad)).map(({ date }) => date));
    const fittings = fittingsOf(input, axle);
    const fitted = fittings.at(-1);
    const onsets = days.filter((date) => measured.has(date) || fittings.includes(date));
    const recent = onsets.slice(0, -1).slice(-LOOKS_BACK);
    for (const side of SIDES) {
      const at = (pad: Pad) => own.find((p) => places[p]?.side === side && places[p]?.pad === pad) ?? -1;
      for (const more of ['inner', 'outer'] as const) {
        const less = more === 'inner' ? 'outer' : 'inner';
        const steps = [
          { pads: [at(more)], mean: APART.more, sd: STEPS.apart.sd },
          { pads: [at(less)], mean: APART.less, sd: STEPS.apart.sd },
        ];
        consider(
          { kind: 'apart', axle, side, more, since: '', steps },
          recent,
          new Map([
            [at(more), -1],
            [at(less), 0.5],
          ]),
        );
      }
      const both = [at('inner'), at('outer')];
      const steps = [{ pads: both, mean: DRAG, sd: STEPS.wheel.sd }];
      const weights = new Map(own.map((p) => [p, both.includes(p) ? -1 : 0.5]));
      consider({ kind: 'wheel', axle, side, since: '', steps }, recent, weights);
    }
    if (fitted !== undefined && input.axles.length > 1 && days.includes(fitted)) {
      const steps = [{ pads: own, mean: 0, sd: STEPS.axle.sd }];
      consider({ kind: 'axle', axle, since: '', steps }, [fitted], new Map(own.map((p) => [p, -1])));
    }
  }
  const all = places.map((_, p) => p);
  const onsets = days.slice(0, -1).slice(-LOOKS_BACK);
  const steps = [{ pads: all, mean: 0, sd: STEPS.route.sd }];
  consider({ kind: 'route', since: '', steps }, onsets, new Map(all.map((p) => [p, -1])));
  return found;
}

/** Days on which an axle got new pads, in order. */
function fittingsOf(input: VehicleInput, axle: number): IsoDate[] {
  return input.fittings
    .filter((one) => one.axle === axle && one.date <= input.today)
    .map(({ date }) => date)
    .sort();
}

/** The day on which new pads ended a change that began on a day; undefined while it goes on. */
function endOf(
  input: VehicleInput,
  { kind, axle }: Pick<Candidate, 'kind' | 'axle'>,
  since: IsoDate,
): IsoDate | undefined {
  if (kind === 'route' || axle === undefined) return undefined;
  return fittingsOf(input, axle).find((date) => date > since);
}

interface Innovation {
  pad: number;
  date: IsoDate;
  /** Figure less expectation, in standard deviations, no more than four. */
  z: number;
}

function innovationsOf(input: VehicleInput, run: Run): Innovation[] {
  const byId = new Map(input.readings.map((reading) => [reading.id, reading]));
  const places = run.state.places;
  return run.judgements.flatMap(({ id, takenMm, expectedMm, expectedSdMm, suspicion }) => {
    const reading = byId.get(id);
    if (
      !reading ||
      (suspicion && suspicion.kind !== 'thinner_than_expected' && suspicion.kind !== 'thicker_than_expected')
    )
      return [];
    const pad = places.findIndex(
      ({ axle, side, pad: own }) => axle === reading.axle && side === reading.side && own === reading.pad,
    );
    const z = (takenMm - expectedMm) / expectedSdMm;
    return [{ pad, date: reading.date, z: Math.max(-4, Math.min(4, z)) }];
  });
}

/** How far the innovations after a day point the way of a change, in standard deviations if they were independent. */
function scoreOf(
  looks: readonly Innovation[],
  since: IsoDate,
  until: IsoDate | undefined,
  weights: ReadonlyMap<number, number>,
): number {
  let [sum, squares] = [0, 0];
  for (const { pad, date, z } of looks) {
    const weight = weights.get(pad);
    if (weight === undefined || date <= since || (until !== undefined && date > until)) continue;
    sum += weight * z;
    squares += weight * weight;
  }
  return squares > 0 ? sum / Math.sqrt(squares) : 0;
}

/** Mixture of normal states by its mean and covariance; components added for steps are left out. */
function mixture(parts: readonly { state: WearState; weight: number }[], size: number): WearState {
  const [first] = parts as [(typeof parts)[number]];
  const mean = new Float64Array(size);
  const data = new Float64Array(size * size);
  for (const { state, weight } of parts)
    for (let i = 0; i < size; i += 1) mean[i] = (mean[i] as number) + weight * (state.mean[i] as number);
  for (const { state, weight } of parts) {
    const own = state.cov.size;
    for (let i = 0; i < size; i += 1) {
      const di = (state.mean[i] as number) - (mean[i] as number);
      for (let k = 0; k < size; k += 1) {
        const dk = (state.mean[k] as number) - (mean[k] as number);
        data[i * size + k] =
          (data[i * size + k] as number) + weight * ((state.cov.data[i * own + k] as number) + di * dk);
      }
    }
  }
  return { ...first.state, mean, cov: { size, data }, informed: [...first.state.informed] };
}

/** A history whose state has no components but those of the plain one. */
function collapsed(history: Run, plain: Run): History {
  const size = plain.state.cov.size;
  return { ...history, state: mixture([{ state: history.state, weight: 1 }], size) };
}

function told(
  input: VehicleInput,
  { candidate, run, at }: Stepped & { candidate: Candidate },
  probability: number,
): WearChange {
  const { kind, axle, side, more, since, until, steps } = candidate;
  const mean = run.state.mean[at] as number;
  const sd = Math.sqrt(Math.max(0, run.state.cov.data[at * run.state.cov.size + at] as number));
  const pads = [...new Set(steps.flatMap((step) => step.pads))];
  const looks = new Set(
    innovationsOf(input, run)
      .filter(({ pad, date }) => pads.includes(pad) && date > since)
      .map(({ date }) => date),
  );
  const wear =
    kind === 'route' || until !== undefined
      ? []
      : pads.flatMap((p) => {
          const place = run.state.places[p];
          const trace = run.traces[p] ?? [];
          const from = trace.filter(({ date }) => date <= since).at(-1) ?? trace[0];
          const to = trace.at(-1);
          if (!place || !from || !to) return [];
          const step = steps.find((one) => one.pads.includes(p)) as RateStep;
          const factor = Math.exp(run.state.mean[at + steps.indexOf(step)] as number);
          const mm = from.meanMm - to.meanMm;
          return [{ side: place.side, pad: place.pad, mm, usualMm: mm / factor }];
        });
  return {
    kind,
    axle,
    side,
    more,
    since,
    until,
    probability,
    factor: { p05: Math.exp(mean - 1.6449 * sd), p50: Math.exp(mean), p95: Math.exp(mean + 1.6449 * sd) },
    looks: looks.size,
    wear,
  };
}
