import { exposureBetween } from '../duty/index.ts';
import { resolutionVariance, SIDES, type Side } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import type { History } from './forecast.ts';
import { handKeyOf } from './handKey.ts';
import type { ReadingInput, VehicleInput } from './types.ts';

/** One wheel whose pads wear apart: the inner far more than the outer, or the reverse. */
export interface WearingApart {
  axle: number;
  side: Side;
  /** The pad that wears more. */
  more: 'inner' | 'outer';
  /** The look after which it began; the fitting, where there was none. */
  since: IsoDate;
  /** Wear of both pads since then as measured, mm. */
  innerWearMm: number;
  outerWearMm: number;
  /** Chance that it is so, 0 to 1. */
  probability: number;
}

/** How a seized slide wears its wheel's pads, as multiples of usual wear (common practice, no source). */
const SEIZED = { more: 2.8, less: 0.55, spread: 0.35 };
/** Chance at any look that a wheel began to wear apart since the look before (starting value, common practice, no source). */
const HAZARD = 0.006;
/** From this chance on it is told. */
const TOLD_FROM = 0.9;
/** Chance that a look holds a gross error that was not found, and the range in which it falls, mm. */
const GROSS = 0.004;
const GROSS_RANGE_MM = 20;
/** Spread of the rate between the two pads of a wheel, in the logarithm. */
const PAD_SPREAD = 0.1;

interface Look {
  date: IsoDate;
  miles: number;
  inner: number;
  outer: number;
  /** Variance of inner less outer, mm²; the technician's bias cancels. */
  variance: number;
  fitting: boolean;
}

/**
 * Finds wheels whose pads wear apart, by inner less outer at each look since the pads were fitted, in which the
 * technician's bias cancels: for every look after which it may have begun, the likelihood of the difference grown
 * since under usual wear, N(0, V), against that of a seized slide, N(∓2.25·G, V + …), G the usual wear of such a pad
 * as the other wheel of the axle has it. Figures doubted as gross errors are left out; a figure far too thin is not.
 *
 * @param history the run of the same input
 */
export function wearingApart(input: VehicleInput, history: History): WearingApart[] {
  return input.axles.flatMap(({ axle }) => SIDES.flatMap((side) => apartAt(input, history, axle, side)));
}

function apartAt(input: VehicleInput, history: History, axle: number, side: Side): WearingApart[] {
  const looks = looksAt(input, history, axle, side);
  const last = looks.at(-1);
  if (!last || looks.length < 2) return [];
  const rate = usualRate(history, axle, side);
  const growth = (a: number, b: number): Growth => {
    const [from, to] = [looks[a], looks[b]] as [Look, Look];
    const { weightedMiles, miles } = exposureBetween(input.duty, from, to);
    const usualMm = (rate * weightedMiles) / 1000;
    const own = 2 * (PAD_SPREAD ** 2 + input.noise.perPad ** 2 / Math.max(0.5, miles / 1000)) * usualMm ** 2;
    return {
      usualMm,
      innerLessOuterMm: to.inner - to.outer - (from.inner - from.outer),
      variance: from.variance + to.variance + own,
    };
  };
  let best: (WearingApart & { odds: number }) | undefined;
  const end = looks.length - 1;
  for (let start = 0; start < end; start += 1) {
    const from = looks[start] as Look;
    for (const more of ['inner', 'outer'] as const) {
      const before = end - 1 > start ? unlikeness(growth(start, end - 1), more) : 1;
      const earlier = start > 0 ? unlikeness(growth(start - 1, end), more) : from.fitting ? 0 : 1;
      const doubt = (GROSS / GROSS_RANGE_MM) * (before + earlier);
      const { apart, usual } = densities(growth(start, end), more);
      const odds = Math.log(apart / (usual + doubt)) + Math.log(HAZARD / (1 - HAZARD));
      if (best && best.odds >= odds) continue;
      best = {
        axle,
        side,
        more,
        since: from.date,
        innerWearMm: from.inner - last.inner,
        outerWearMm: from.outer - last.outer,
        probability: 1 / (1 + Math.exp(-odds)),
        odds,
      };
    }
  }
  if (!best || best.probability < TOLD_FROM) return [];
  const { odds: _odds, ...found } = best;
  return [found];
}

/** How inner less outer grew between two looks. */
interface Growth {
  /** Usual wear of a pad in between, mm. */
  usualMm: number;
  innerLessOuterMm: number;
  variance: number;
}

/** Density of what was seen where the pads wear apart, and where they wear as usual, 1/mm. */
function densities(
  { usualMm, innerLessOuterMm, variance }: Growth,
  more: WearingApart['more'],
): { apart: number; usual: number } {
  const grown = more === 'inner' ? -innerLessOuterMm : innerLessOuterMm;
  const mean = (SEIZED.more - SEIZED.less) * usualMm;
  return {
    apart: Math.exp(logNormal(grown - mean, variance + (SEIZED.spread * mean) ** 2)),
    usual: Math.exp(logNormal(grown, variance)),
  };
}

/**
 * How little another look bears it out, 0 to 1: what is left of the chance that the look in question holds a gross
 * error. A look that shows the same makes two gross errors necessary.
 */
function unlikeness(growth: Growth, more: WearingApart['more']): number {
  const { apart, usual } = densities(growth, more);
  const floor = GROSS / GROSS_RANGE_MM;
  return Math.min(1, (usual + floor) / (apart + floor));
}

function logNormal(x: number, variance: number): number {
  return -0.5 * (Math.log(2 * Math.PI * variance) + (x * x) / variance);
}

/** The wear of a pad of this axle under usual conditions, mm per 1,000 duty-weighted miles: as the other wheel has it. */
function usualRate({ state }: History, axle: number, side: Side): number {
  const logs = state.places.flatMap((place, p) =>
    place.axle === axle && place.side !== side ? [state.mean[p] as number] : [],
  );
  return Math.exp(logs.reduce((sum, log) => sum + log, 0) / Math.max(1, logs.length));
}

/** Both pads of a wheel at each look since the pads were fitted; the fitting itself, where known, is the first. */
function looksAt(input: VehicleInput, history: History, axle: number, side: Side): Look[] {
  const fitted = history.lastFitting.get(axle);
  const newMm = input.axles.find((one) => one.axle === axle)?.newMm ?? 0;
  const gross = new Set(
    history.judgements.flatMap(({ id, suspicion }) =>
      suspicion && suspicion.kind !== 'thinner_than_expected' ? [id] : [],
    ),
  );
  const own = input.readings.filter(
    (one) =>
      one.axle === axle &&
      one.side === side &&
      one.date <= input.today &&
      !gross.has(one.id) &&
      (!fitted || one.date > fitted.date),
  );
  const pairs = new Map<string, Partial<Record<'inner' | 'outer', ReadingInput>>>();
  for (const one of own) {
    const key = `${one.date}/${handKeyOf(one)}`;
    pairs.set(key, { ...pairs.get(key), [one.pad]: one });
  }
  const looks = [...pairs.values()].flatMap(({ inner, outer }): Look[] => {
    if (!inner || !outer) return [];
    const hand = input.hands[handKeyOf(inner)] ?? input.unknownHand;
    const each = hand.repeatabilityMm ** 2 + resolutionVariance(inner.resolutionMm);
    return [
      { date: inner.date, miles: inner.miles, inner: inner.mm, outer: outer.mm, variance: 2 * each, fitting: false },
    ];
  });
  looks.sort((a, b) => a.date.localeCompare(b.date) || a.miles - b.miles);
  if (!fitted) return looks;
  const variance = 2 * input.noise.newToleranceMm ** 2;
  return [{ date: fitted.date, miles: fitted.miles, inner: newMm, outer: newMm, variance, fitting: true }, ...looks];
}
