import type { MileMark, WearChange } from '@mile-mark/contract/forecasts';
import type { Defect } from '@mile-mark/contract/jobs';
import type { Coverage } from '@mile-mark/contract/specifications';
import type { DueWindow } from '../../../stores/aheadView.ts';
import { daysBetween } from '../../../ui/format.ts';

export interface Lane {
  unit: string;
  model: string;
  depot: string;
  odometerNowMi: number;
  /** The axles' marks, in order of axle. */
  marks: MileMark[];
  nearest: string;
}

export type RoadRow = { kind: 'depot'; depot: string; lanes: number; due: number } | { kind: 'lane'; lane: Lane };

interface Filter {
  depot: string;
  vehicleClass: string;
  due: DueWindow;
  find: string;
  /** First day of the week whose marks alone are shown; '' for all. */
  week: string;
}

const DUE_DAYS: Record<DueWindow, number> = {
  any: Infinity,
  passed: -1,
  'this week': 6,
  '4 weeks': 28,
  '3 months': 92,
};

/** Lanes, one a vehicle, nearest mark first, that pass the filter. */
export function lanesOf(items: readonly MileMark[], filter: Filter, today: string): Lane[] {
  const lanes = new Map<string, Lane>();
  const find = filter.find.trim().toUpperCase();
  for (const mark of items) {
    if (filter.depot && mark.depot !== filter.depot) continue;
    if (filter.vehicleClass && mark.class !== filter.vehicleClass) continue;
    if (find && !mark.unit.includes(find)) continue;
    const lane = lanes.get(mark.unit);
    if (!lane) {
      const { unit, model, depot, odometerNowMi } = mark;
      lanes.set(unit, { unit, model, depot, odometerNowMi, marks: [mark], nearest: mark.markDate });
    } else {
      lane.marks.push(mark);
      if (mark.markDate < lane.nearest) lane.nearest = mark.markDate;
    }
  }
  const within = DUE_DAYS[filter.due];
  const inWeek = (date: string) => {
    const days = filter.week === '' ? 0 : daysBetween(filter.week, date);
    return days >= 0 && days < 7;
  };
  const chosen = [...lanes.values()].filter(
    ({ nearest, marks }) =>
      daysBetween(today, nearest) <= within && (filter.week === '' || marks.some((mark) => inWeek(mark.markDate))),
  );
  for (const { marks } of chosen) marks.sort((a, b) => a.axle - b.axle);
  return chosen.sort((a, b) => a.nearest.localeCompare(b.nearest) || a.unit.localeCompare(b.unit));
}

/** The rows of the road: each depot's heading, then its lanes; the depot of the nearest mark of all stands first. */
export function rowsOf(lanes: readonly Lane[], today: string): RoadRow[] {
  const depots = [...new Set(lanes.map(({ depot }) => depot))];
  return depots.flatMap((depot) => {
    const own = lanes.filter((lane) => lane.depot === depot);
    const due = own.flatMap(({ marks }) => marks).filter(({ markDate }) => daysBetween(today, markDate) <= 28).length;
    return [
      { kind: 'depot' as const, depot, lanes: own.length, due },
      ...own.map((lane) => ({ kind: 'lane' as const, lane })),
    ];
  });
}

/** The axle of a lane whose mark comes first. */
export function nearestAxle(lane: Lane): number {
  return lane.marks.reduce((best, mark) => (mark.markDate < best.markDate ? mark : best), lane.marks[0] as MileMark)
    .axle;
}

/** How many marks fall in each week from today; the first counts what is passed. */
export function marksByWeek(items: readonly MileMark[], today: string, weeks: number): number[] {
  const counts = Array<number>(weeks + 1).fill(0);
  for (const { markDate } of items) {
    const days = daysBetween(today, markDate);
    const index = days < 0 ? 0 : Math.floor(days / 7) + 1;
    if (index <= weeks) counts[index] = (counts[index] ?? 0) + 1;
  }
  return counts;
}

/** What an open change of wear is in two words, for the lane's label; the panel tells it in full. */
const SIGNS: Record<WearChange['kind'], string> = {
  apart: 'slide seized?',
  wheel: 'brake drags?',
  axle: 'wrong pads?',
  route: 'route changed?',
};

/** Signs of open changes by unit; the first named where there are several (a wheel's before the route's). */
export function signsOf(changes: readonly WearChange[]): Map<string, string> {
  const order = Object.keys(SIGNS);
  const open = changes.filter((one) => one.open).sort((a, b) => order.indexOf(b.kind) - order.indexOf(a.kind));
  return new Map(open.map(({ unit, kind }) => [unit, SIGNS[kind]]));
}

/** How near a mark must be for the lane to say that its job can't be done, days. */
const JOB_NEAR_DAYS = 56;

/** Signs of near jobs that can't be done: no wrench in reach, or a torque that nobody has released. */
export function jobSignsOf(
  items: readonly MileMark[],
  { unreachable, lacking }: Coverage,
  today: string,
): Map<string, string> {
  const signs = new Map<string, string>();
  for (const { unit, depot, model, axle, markDate } of items) {
    if (daysBetween(today, markDate) > JOB_NEAR_DAYS) continue;
    const wrench = unreachable.some((row) => row.depot === depot && row.model === model && row.axles.includes(axle));
    if (wrench) signs.set(unit, 'no wrench reaches');
    else if (
      !signs.has(unit) &&
      lacking.some((row) => row.model === model && row.axle === axle && row.jointKindId !== null)
    )
      signs.set(unit, 'torque unknown');
  }
  return signs;
}

/** Signs of open defects: a re-check that is due; before all others, a vehicle that is not to be driven. */
export function defectSignsOf(defects: readonly Pick<Defect, 'unit' | 'kind' | 'severity' | 'lifted'>[]): {
  forbids: Map<string, string>;
  recheck: Map<string, string>;
} {
  const forbids = defects.filter(({ severity, lifted }) => severity === 'do not drive' && lifted === null);
  const due = defects.filter(({ kind }) => kind === 're-check');
  return {
    forbids: new Map(forbids.map(({ unit }) => [unit, 'do not drive'])),
    recheck: new Map(due.map(({ unit }) => [unit, 're-check due'])),
  };
}

/**
 * Where the posts of a lane stand, px: at their dates, but never one upon the other; what would stand past the end is
 * moved back.
 *
 * @param xs where their dates are, px
 * @param gap least distance of two posts, px
 * @param end last place a post may stand, px
 */
export function fannedOut(xs: readonly number[], gap: number, end: number): number[] {
  const order = xs.map((_, index) => index).sort((a, b) => (xs[a] ?? 0) - (xs[b] ?? 0) || a - b);
  const placed = [...xs];
  let before = -Infinity;
  for (const index of order) {
    before = Math.max(xs[index] ?? 0, before + gap);
    placed[index] = before;
  }
  let after = end + gap;
  for (const index of order.reverse()) {
    after = Math.min(placed[index] ?? 0, after - gap);
    placed[index] = after;
  }
  return placed;
}
