import { itemAt } from '../numeric/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import type { DutyProcess, MeasuredBlock } from './level.ts';
import type { DutySpan, OdometerPoint } from './severity.ts';

/**
 * How miles a day behave before a fleet has taught it, in logarithms: fifty miles a day, twice as many or half for one
 * vehicle in three; a sixth of scatter from one period of 28 days to the next, another pace in eight years. One
 * stretch in thirty tells nothing of how it is driven: it stood in a workshop, was lent, or its odometer was off some paper
 * (common practice, no source). Where the next one is like it, it was another pace after all.
 */
export const DEFAULT_PACE_PROCESS: DutyProcess = {
  blockSd: 0.15,
  hazard: 0.01,
  routeMean: Math.log(50),
  routeSd: 0.7,
  stray: 1 / 30,
};

/**
 * One odometer a day, rising.
 *
 * @param points in order of date, miles
 */
export function risingOdometers(points: Iterable<OdometerPoint>): OdometerPoint[] {
  const rising: OdometerPoint[] = [];
  for (const { date, miles } of points) {
    const last = rising.at(-1);
    if (last?.date === date) last.miles = Math.max(last.miles, miles);
    else rising.push({ date, miles: Math.max(miles, last?.miles ?? miles) });
  }
  return rising;
}

/** Odometers closer together than this are one stretch: a day more or less between them would tell too much, days. */
const LEAST_DAYS = 14;
/** A vehicle that stands is driven a little, miles a day: nought has no logarithm. */
const LEAST_MILES_A_DAY = 0.5;

/**
 * Miles a day between odometers, as logarithms, stretch by stretch. An odometer that does not go on belongs to the
 * stretch around it.
 *
 * @param points in order of date, miles
 * @returns stretches of fourteen days or more; where all lie closer together, the one they make
 */
export function paceBlocks(points: readonly OdometerPoint[]): MeasuredBlock[] {
  const blocks: MeasuredBlock[] = [];
  let [from] = points;
  if (!from) return blocks;
  let before: OdometerPoint | undefined;
  for (const to of points.slice(1)) {
    const days = dayNumber(to.date) - dayNumber(from.date);
    if (days < LEAST_DAYS || to.miles < from.miles) continue;
    blocks.push(blockOf(from, to));
    [before, from] = [from, to];
  }
  const last = itemAt(points, points.length - 1);
  if (dayNumber(last.date) > dayNumber(from.date) && last.miles >= from.miles) {
    // What is left over is too short to tell by itself: it joins the stretch before.
    const joined = blockOf(before ?? from, last);
    if (before) blocks[blocks.length - 1] = joined;
    else blocks.push(joined);
  }
  return blocks;
}

function blockOf(from: OdometerPoint, to: OdometerPoint): MeasuredBlock {
  const days = dayNumber(to.date) - dayNumber(from.date);
  return { log: Math.log(Math.max(LEAST_MILES_A_DAY, (to.miles - from.miles) / days)), days };
}

/**
 * What stated duty does before a fleet has taught it: another one in fifteen years, of a severity that differs by two
 * fifths (common practice, no source). It has no blocks, so no scatter of them.
 */
export const DEFAULT_STATED_PROCESS: DutyProcess = { blockSd: 0, hazard: 0.005, routeMean: 0, routeSd: 0.4 };
/** So much record weighs as much as the assumption, periods of 28 days: fifteen vehicles for a year. */
const PRIOR_PERIODS = 200;
/** So many duties weigh as much as the assumption of their spread. */
const PRIOR_DUTIES = 10;
const PERIOD_DAYS = 28;

/**
 * How long each duty of a vehicle lasted until a day, and its severity, where all of it is stated; none, where some of it
 * was measured.
 */
export function statedDuties(spans: readonly DutySpan[], today: IsoDate): MeasuredBlock[] {
  const begun = spans.filter(({ from }) => from <= today);
  if (begun.some(({ measured }) => measured)) return [];
  const duties: MeasuredBlock[] = [];
  begun.forEach(({ from, severity, continues }, k) => {
    const days = dayNumber(begun[k + 1]?.from ?? today) - dayNumber(from);
    const last = duties.at(-1);
    if (continues && last) last.days += days;
    else duties.push({ log: Math.log(severity), days });
  });
  return duties;
}

/**
 * How often stated duties change and how they differ, as a class's record has it: the hazard by its Gamma posterior, the
 * spread by its inverse-Gamma one, both about the assumption (BDA3, §2.6).
 *
 * @param vehicles duties of each vehicle, in order
 */
export function learnStatedProcess(vehicles: readonly (readonly MeasuredBlock[])[]): DutyProcess {
  const { hazard, routeMean, routeSd } = DEFAULT_STATED_PROCESS;
  const duties = vehicles.flat();
  const periods = duties.reduce((sum, { days }) => sum + days, 0) / PERIOD_DAYS;
  const changes = vehicles.reduce((sum, own) => sum + Math.max(0, own.length - 1), 0);
  const mean =
    (PRIOR_DUTIES * routeMean + duties.reduce((sum, { log }) => sum + log, 0)) / (PRIOR_DUTIES + duties.length);
  const squares = duties.reduce((sum, { log }) => sum + (log - mean) ** 2, 0) + PRIOR_DUTIES * routeSd ** 2;
  return {
    blockSd: 0,
    hazard: (changes + PRIOR_PERIODS * hazard) / (periods + PRIOR_PERIODS),
    routeMean: mean,
    routeSd: Math.sqrt(squares / (PRIOR_DUTIES + duties.length)),
  };
}
