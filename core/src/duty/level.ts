import { evenly, itemAt } from '../numeric/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import { severityOn, type DutySpan } from './severity.ts';

/** How a level behaves from block to block, severity's or miles a day's, all in logarithms: what a fleet teaches of it. */
export interface DutyProcess {
  /** Scatter of a block of 28 days about its route's level, error of measuring included (one sd). */
  blockSd: number;
  /** Chance in 28 days that a vehicle's route changes. */
  hazard: number;
  /** Level of routes, and their spread about it (one sd). */
  routeMean: number;
  routeSd: number;
  /** Chance that a block tells nothing of the route it is of; none, where left out. */
  stray?: number | undefined;
}

/** How far from its route's level a block may be that tells nothing of it: one sd of the logarithm (common practice, no source). */
const STRAY_SD = 2;

/** What is known of the level that goes on ahead: mean and one sd of its logarithm. */
export interface DutyLevel {
  mean: number;
  sd: number;
}

/** What the level of a vehicle's severity, or of its miles a day, may do ahead. */
export interface DutyAhead {
  /** How well the present level is known: one sd of its logarithm; a stated one is believed. */
  levelSd: number;
  /** Scatter of a period of 28 days about the level (one sd of the logarithm). */
  perPeriod: number;
  /** Chance a day that the route changes. */
  hazardPerDay: number;
  /** Logarithm of severity that a new route has, over that of the present one's median. */
  change: DutyLevel;
}

const BLOCK_DAYS = 28;

/** Before a fleet has taught it (common practice, no source): a sixth of scatter, a change of route in four years. */
export const DEFAULT_DUTY_PROCESS: DutyProcess = { blockSd: 0.18, hazard: 0.02, routeMean: 0, routeSd: 0.4 };

/** A measured block: logarithm of its severity, and its length. */
export interface MeasuredBlock {
  log: number;
  days: number;
}

/** A route that may have begun at some block: its weight, and what its blocks say of its level. */
interface Route {
  /** Index of its first block. */
  since: number;
  weight: number;
  mean: number;
  variance: number;
}

/** Routes with less weight than this are given up. */
const LEAST_WEIGHT = 1e-4;

/**
 * Routes that may be driven now, after all blocks, and the likelihood of the blocks. A route's level is normal about the
 * class's, its blocks scatter about it, and with the hazard another route begins at a block: the exact posterior over when
 * the present one began (but for blocks that may be stray: there each way to take them is collapsed by matching moments).
 * Source: Adams & MacKay, Bayesian Online Changepoint Detection (2007), with normal levels.
 */
function follow(
  blocks: readonly MeasuredBlock[],
  { blockSd, hazard, routeMean, routeSd, stray = 0 }: DutyProcess,
  first: DutyLevel = { mean: routeMean, sd: routeSd },
) {
  let routes: Route[] = [];
  let logLikelihood = 0;
  for (const [index, { log, days }] of blocks.entries()) {
    const noise = (blockSd ** 2 * BLOCK_DAYS) / Math.max(1, days);
    const changes = routes.length === 0 ? 1 : 1 - (1 - hazard) ** (days / BLOCK_DAYS);
    const { mean: level, sd } = index === 0 ? first : { mean: routeMean, sd: routeSd };
    const begun = { since: index, weight: changes, mean: level, variance: sd ** 2 };
    const before = [begun, ...routes.map((route) => ({ ...route, weight: route.weight * (1 - changes) }))];
    let total = 0;
    const next = before.map(({ since, weight, mean, variance }) => {
      const spread = variance + noise;
      const miss = log - mean;
      const told = (1 - stray) * normalDensity(miss, spread);
      const untold = stray === 0 ? 0 : stray * normalDensity(miss, spread + STRAY_SD ** 2);
      const chance = weight * (told + untold);
      total += chance;
      // Both ways it may be, by their mean and variance.
      const share = told + untold > 0 ? told / (told + untold) : 0;
      const moved = (variance / spread) * miss;
      const left = variance * (1 - (share * variance) / spread) + share * (1 - share) * moved ** 2;
      return { since, weight: chance, mean: mean + share * moved, variance: left };
    });
    logLikelihood += Math.log(Math.max(total, Number.MIN_VALUE));
    routes = next
      .map((route) => ({ ...route, weight: route.weight / Math.max(total, Number.MIN_VALUE) }))
      .filter(({ weight }) => weight > LEAST_WEIGHT);
  }
  return { routes, logLikelihood };
}

const normalDensity = (miss: number, variance: number) =>
  Math.exp((-0.5 * miss * miss) / variance) / Math.sqrt(2 * Math.PI * variance);

/** Logarithm of the chance of blocks under a process (density), every way in which routes may have changed added up. */
export function dutyLogLikelihood(blocks: readonly MeasuredBlock[], process: DutyProcess): number {
  return follow(blocks, process).logLikelihood;
}

/**
 * The level that goes on after measured blocks.
 *
 * @param first what was known of the first route's level before any block; where left out, what is known of its class's
 */
export function dutyLevel(
  blocks: readonly MeasuredBlock[],
  process: DutyProcess,
  first: DutyLevel = { mean: process.routeMean, sd: process.routeSd },
): DutyLevel {
  const { routes } = follow(blocks, process, first);
  if (routes.length === 0) return first;
  const total = routes.reduce((sum, { weight }) => sum + weight, 0);
  const mean = routes.reduce((sum, one) => sum + one.weight * one.mean, 0) / total;
  const square = routes.reduce((sum, one) => sum + one.weight * (one.variance + (one.mean - mean) ** 2), 0) / total;
  return { mean, sd: Math.sqrt(square) };
}

/** First blocks of the routes that were driven, the likeliest: the present one's, then that before it, and so on. */
function routeStarts(blocks: readonly MeasuredBlock[], process: DutyProcess): Set<number> {
  const starts = new Set<number>();
  for (let end = blocks.length; end > 0;) {
    const { routes } = follow(blocks.slice(0, end), process);
    end = routes.reduce((best, route) => (route.weight > best.weight ? route : best)).since;
    starts.add(end);
  }
  return starts;
}

/** Whether a span is a measured block that had begun on a day. */
function isMeasured({ measured, from, to }: DutySpan, today: IsoDate): boolean {
  return measured === true && to !== undefined && from < today;
}

/** Measured blocks that had begun on a day, as logarithms. */
export function measuredBlocks(spans: readonly DutySpan[], today: IsoDate): MeasuredBlock[] {
  return spans
    .filter((span) => isMeasured(span, today))
    .map(({ from, to, severity }) => ({
      log: Math.log(severity),
      days: dayNumber(to as IsoDate) - dayNumber(from),
    }));
}

const GRIDS = {
  blockSd: [0.06, 0.09, 0.12, 0.15, 0.18, 0.22, 0.27, 0.33, 0.42],
  hazard: [0.003, 0.006, 0.012, 0.02, 0.035, 0.06, 0.1],
  routeSd: [0.15, 0.22, 0.32, 0.45, 0.65, 0.9],
} as const;
/** Scatter of a fleet's process about the default before any block was seen, in logarithms (starting value). */
const PRIOR_SD = 0.7;
/** So many vehicles of a class teach its process well enough; of more, as many evenly taken ones are listened to. */
const MOST_VEHICLES = 80;
/** Fewer blocks than this teach nothing. */
const LEAST_BLOCKS = 50;

/**
 * The process under which a class's blocks are likeliest, by turns over a grid of each figure (and between its values)
 * with a lognormal prior about what is assumed; the level of routes is the mean of the vehicles' own.
 *
 * @param vehicles blocks of each vehicle, in order
 * @param assumed what stands before anything is known
 * @returns what is assumed where there are fewer than fifty blocks
 */
export function learnDutyProcess(
  vehicles: readonly (readonly MeasuredBlock[])[],
  assumed: DutyProcess = DEFAULT_DUTY_PROCESS,
): DutyProcess {
  const known = vehicles.filter((blocks) => blocks.length > 0);
  const measured = evenly(known, MOST_VEHICLES);
  if (measured.reduce((sum, blocks) => sum + blocks.length, 0) < LEAST_BLOCKS) return assumed;
  const own = measured.map((blocks) => blocks.reduce((sum, { log }) => sum + log, 0) / blocks.length);
  let best: DutyProcess = {
    ...assumed,
    routeMean: own.reduce((sum, mean) => sum + mean, 0) / own.length,
  };
  const likelihood = (process: DutyProcess) => {
    let log = 0;
    for (const key of ['blockSd', 'hazard', 'routeSd'] as const)
      log -= 0.5 * (Math.log(process[key] / assumed[key]) / PRIOR_SD) ** 2;
    for (const blocks of measured) log += dutyLogLikelihood(blocks, process);
    return log;
  };
  for (let turn = 0; turn < 2; turn += 1)
    for (const key of ['blockSd', 'routeSd', 'hazard'] as const) {
      const tried = GRIDS[key].map((value) => ({ ...best, [key]: value }));
      best = { ...best, [key]: peakBetween(GRIDS[key], tried.map(likelihood)) };
    }
  return best;
}

/**
 * Where a likelihood over a grid has its peak, by a parabola through the highest value and its neighbours in the logarithm:
 * one odometer more moves it a little, not from one value of the grid to the next. Nothing lies beyond the grid's ends: there
 * it is the end itself.
 */
function peakBetween(grid: readonly number[], logs: readonly number[]): number {
  const at = logs.indexOf(Math.max(...logs));
  const here = Math.log(itemAt(grid, at));
  if (at === 0 || at === grid.length - 1) return itemAt(grid, at);
  const [left, right] = [Math.log(itemAt(grid, at - 1)) - here, Math.log(itemAt(grid, at + 1)) - here];
  const [below, above] = [itemAt(logs, at - 1) - itemAt(logs, at), itemAt(logs, at + 1) - itemAt(logs, at)];
  // a·x² + b·x through nought and both neighbours; its vertex lies between them.
  const bend = (below / left - above / right) / (left - right);
  const slope = above / right - bend * right;
  return bend < 0 ? Math.exp(here + Math.min(right, Math.max(left, -slope / (2 * bend)))) : itemAt(grid, at);
}

/** What a level that stands at `level` may do ahead under a process. */
export function aheadOf(level: DutyLevel, { blockSd, hazard, routeMean, routeSd }: DutyProcess): DutyAhead {
  return {
    levelSd: level.sd,
    perPeriod: blockSd,
    hazardPerDay: 1 - (1 - hazard) ** (1 / BLOCK_DAYS),
    change: { mean: routeMean - level.mean, sd: routeSd },
  };
}

/**
 * The duty of a vehicle with the level of its present route from the end of its last measured block on, and what may
 * become of it. A duty stated since then is believed as it is, and one that is dated ahead from its day on.
 *
 * @param spans in order of date; `measured` ones have an end
 * @param axles whose severities may differ
 * @param stated how stated duties change; where it is left out, one that is stated goes on for good
 */
export function withLevelAhead(
  spans: readonly DutySpan[],
  today: IsoDate,
  axles: readonly number[],
  process: DutyProcess,
  stated?: DutyProcess,
): { spans: DutySpan[]; ahead: DutyAhead | undefined; measured: boolean } {
  const measured = spans.filter((span) => isMeasured(span, today));
  const last = measured.at(-1);
  const restated = spans.some(
    ({ from, continues }) => last !== undefined && from > last.from && from <= today && !continues,
  );
  if (!last?.to || restated) {
    const level = { mean: Math.log(severityOn(spans, dayNumber(today))), sd: 0 };
    return { spans: [...spans], ahead: stated && aheadOf(level, stated), measured: false };
  }
  const blocks = measuredBlocks(spans, today);
  const level = dutyLevel(blocks, process);
  const starts = routeStarts(blocks, process);
  const present = measured.slice(Math.max(...starts));
  const byAxle = last.byAxle && {
    byAxle: Object.fromEntries(
      axles.map((axle) => {
        const ratios = present.map((span) => Math.log((span.byAxle?.[axle] ?? span.severity) / span.severity));
        return [axle, Math.exp(level.mean + ratios.reduce((sum, ratio) => sum + ratio, 0) / ratios.length)];
      }),
    ),
  };
  const from = last.to <= today ? last.to : today;
  return {
    spans: [
      ...withRoutes(
        spans.filter((span) => span.from < from),
        new Set([...starts].map((block) => measured[block]?.from)),
      ),
      { from, severity: Math.exp(level.mean), ...byAxle, continues: true },
      ...spans.filter((span) => span.from > today && !span.continues),
    ],
    ahead: aheadOf(level, process),
    measured: true,
  };
}

/** Where another route began, another duty began; every block knows the level of its route, the mean of it by days. */
function withRoutes(spans: readonly DutySpan[], starts: ReadonlySet<IsoDate | undefined>): DutySpan[] {
  const routes: DutySpan[][] = [];
  for (const span of spans) {
    if (!span.measured || !span.to) routes.push([span]);
    else if (starts.has(span.from)) routes.push([{ ...span, continues: false }]);
    else if (routes.at(-1)?.[0]?.measured) routes.at(-1)?.push(span);
    else routes.push([span]);
  }
  return routes.flatMap((route) => {
    if (!route[0]?.measured) return route;
    let [days, sum] = [0, 0];
    for (const { from, to, severity } of route) {
      const own = Math.max(1, dayNumber(to ?? from) - dayNumber(from));
      days += own;
      sum += own * Math.log(severity);
    }
    return route.map((span) => ({ ...span, block: { route: Math.exp(sum / days), told: span.severity } }));
  });
}

/**
 * Measured blocks as far as they are believed: of what one is off the level of its route, a share; the rest is error of
 * measuring it. Spans that know no route stay as they are.
 *
 * @param share 0 (blocks of a route are all alike) to 1 (each is what was measured of it)
 */
export function believedBlocks(spans: readonly DutySpan[], share: number): DutySpan[] {
  return spans.map((span) => {
    if (!span.block) return span;
    const { route, told } = span.block;
    const severity = route * (told / route) ** share;
    const factor = severity / span.severity;
    const byAxle = span.byAxle && {
      byAxle: Object.fromEntries(Object.entries(span.byAxle).map(([axle, own]) => [axle, own * factor])),
    };
    return { ...span, severity, ...byAxle };
  });
}
