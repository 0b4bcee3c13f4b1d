import { SIDES, type Pad, type Side } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import type { Run } from './history.ts';
import { OUTLIVES, waysOn } from './outlived.ts';
import type { RateStep } from './state.ts';
import type { VehicleInput } from './types.ts';

/**
 * What may have changed: a wheel's pads wear apart (a slide seized, most often), both pads of a wheel wear otherwise
 * (drag), all pads of an axle since they were fitted (wrong pads, most often), all pads of the vehicle (the route).
 */
export type ChangeKind = 'apart' | 'wheel' | 'axle' | 'route';

/**
 * Scatter of the log of a change's factor by kind (starting values, common practice, no source: a seized slide wears
 * one pad about three times as fast and half relieves the other; drag over 1.6 times).
 */
const STEP_SD: Readonly<Record<ChangeKind, number>> = { apart: 0.25, wheel: 0.5, axle: 0.5, route: 0.5 };
/** Chance at any look that a change began since the one before (starting values, common practice, no source). */
const HAZARDS: Readonly<Record<ChangeKind, number>> = { apart: 0.008, wheel: 0.0003, axle: 0.001, route: 0.002 };
/** The outer pad of a sliding caliper seldom wears faster than the inner one: its share of the chance (common practice, no source). */
const OUTER_SHARE = 0.1;
/**
 * Chance of a slide that nobody has told yet, for what lies ahead. For telling it is set higher, as pins are tried in
 * minutes; believed as high, it widened fifty forecasts for three slides that were there.
 */
const UNTOLD_APART = 0.001;

/** Chance that a change began since the look before: for telling it, and for the forecast until it is told. */
export function hazardOf(candidate: Pick<Candidate, 'kind' | 'more' | 'outlives'>, until: 'told' | 'untold'): number {
  const { kind, more, outlives } = candidate;
  const share = outlives === undefined ? 1 : outlives ? OUTLIVES : 1 - OUTLIVES;
  if (kind !== 'apart') return HAZARDS[kind] * share;
  return (until === 'told' ? HAZARDS.apart : UNTOLD_APART) * (more === 'outer' ? OUTER_SHARE : 1) * share;
}
/** Means of the log of a change's factor, from the same practice: of the pad that wears more and its mate; of drag. */
const APART = { more: Math.log(2.8), less: Math.log(0.55) };
const DRAG = Math.log(1.8);
/** How far back a change may have begun, looks. */
const LOOKS_BACK = 6;
/** How far the innovations must point a change's way, in standard deviations, to be worth the trial. */
const WORTH_TRYING = 2.3;

/** A change that may have happened, to be tried on the history. */
export interface Candidate {
  kind: ChangeKind;
  axle?: number | undefined;
  side?: Side | undefined;
  more?: Pad | undefined;
  since: IsoDate;
  /** When new pads end it. */
  until?: IsoDate | undefined;
  /** Whether it goes on under those. */
  outlives?: boolean | undefined;
  /** Pads that would wear more, and those that would wear less. */
  steps: RateStep[];
}

/** Same kind of change of the same place and pads, whenever it began. */
export function sameCause(a: Candidate, b: Candidate): boolean {
  return a.kind === b.kind && a.axle === b.axle && a.side === b.side && a.more === b.more && a.until === b.until;
}

/** The earliest day after which a change is looked for. */
export function firstOnset(input: VehicleInput): IsoDate {
  const back = (days: readonly IsoDate[]) => [...new Set(days)].sort().at(-(LOOKS_BACK + 1)) ?? '';
  const dated = [...input.readings, ...input.fittings].filter(({ date }) => date <= input.today);
  const perAxle = input.axles.map(({ axle }) => back(dated.filter((one) => one.axle === axle).map(({ date }) => date)));
  return [...perAxle, back(dated.map(({ date }) => date))].sort()[0] ?? '';
}

/** Changes worth trying: the innovations since some look point their way. */
export function candidatesOf(input: VehicleInput, run: Run, days: readonly IsoDate[]): Candidate[] {
  const looks = innovationsOf(input, run);
  const places = run.state.places;
  const found: Candidate[] = [];
  const consider = (candidate: Candidate, days: readonly IsoDate[], weights: ReadonlyMap<number, number>) => {
    const either = candidate.kind === 'axle' || candidate.kind === 'route';
    for (const since of days) {
      const until = endOf(input, candidate, since);
      for (const outlives of waysOn(input, { ...candidate, since, until })) {
        const score = scoreOf(looks, since, outlives ? undefined : until, weights);
        if ((either ? Math.abs(score) : score) > WORTH_TRYING) found.push({ ...candidate, since, until, outlives });
      }
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
          { pads: [at(more)], mean: APART.more, sd: STEP_SD.apart },
          { pads: [at(less)], mean: APART.less, sd: STEP_SD.apart },
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
      const steps = [{ pads: both, mean: DRAG, sd: STEP_SD.wheel }];
      const weights = new Map(own.map((p) => [p, both.includes(p) ? -1 : 0.5]));
      consider({ kind: 'wheel', axle, side, since: '', steps }, recent, weights);
    }
    if (fitted !== undefined && input.axles.length > 1 && days.includes(fitted)) {
      const steps = [{ pads: own, mean: 0, sd: STEP_SD.axle }];
      consider({ kind: 'axle', axle, since: '', steps }, [fitted], new Map(own.map((p) => [p, -1])));
    }
  }
  const all = places.map((_, p) => p);
  const onsets = days.slice(0, -1).slice(-LOOKS_BACK);
  const steps = [{ pads: all, mean: 0, sd: STEP_SD.route }];
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

/** How far each figure lay from what was expected of its pad; figures doubted as something else than wear are left out. */
export function innovationsOf(input: VehicleInput, run: Run): Innovation[] {
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
