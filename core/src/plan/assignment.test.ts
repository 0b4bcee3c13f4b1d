import { describe, expect, it } from '@jest/globals';
// Kept package of general use: the Hungarian method (Kuhn 1955, Munkres 1957), with instances whose optimum it tells.
import computeMunkres from 'munkres-js';
import { seededRandom } from '../numeric/index.ts';
import { planDepot, weighPlan, type PlanDepot, type PlanProblem, type PlanVehicle } from './index.ts';

const until = { seconds: 1000, gap: 1e-9, now: () => 0, seed: 7 };

/** A shop with room for one vehicle a day, and a last day beyond all: where a plan is an assignment of vehicles to days. */
function shopOf(days: readonly number[], vehicles: readonly PlanVehicle[], outOfServicePerDay: number): PlanProblem {
  const every = days.map((_day, i) => (i === days.length - 1 ? 0 : 1));
  const depot: PlanDepot = {
    id: 'yard',
    bayHours: { light: every },
    technicianHours: every,
    certifiedHours: every,
    overtimeHours: days.map(() => 0),
    offRoad: {},
  };
  return {
    days,
    hoursADay: 1,
    depots: [depot],
    vehicles,
    prices: {
      visit: 0,
      setUpHours: 0,
      downtimePerHour: 0,
      overtimePerHour: 0,
      outside: undefined,
      outOfServicePerDay,
      move: { fixed: 0, perDay: 0, nearDays: 0, nearTimes: 1 },
    },
  };
}

/** A vehicle of one axle. @param about the day on which it passes its limit, for certain within a day */
const vehicleOf = (i: number, about: number, lifePerDay: number, latest: number, failure = 0): PlanVehicle => ({
  id: `v${i}`,
  depot: 'yard',
  class: 'van',
  bay: 'light',
  axles: [
    {
      axle: 1,
      hours: 1,
      certifiedHours: 0,
      passage: [
        { p: 0.1, day: about - 1 },
        { p: 0.9, day: about + 1 },
      ],
      lifePerDay,
      failure,
      latest,
      kitDay: 0,
    },
  ],
  closed: new Set(),
  published: new Map(),
});

const FAR = 2000;
/** A last day on which nobody is there, so late that nothing is left to it. */
const BEYOND = 100_000;
/** A day past the last one, dearer than any step of the instances. */
const LATE = 1000;

/**
 * A vehicle whose three days differ by two steps: life thrown away falls by the day, days past the last one rise, and the
 * last one lies where the first step comes out.
 */
function steps(i: number, [a, b, c]: readonly [number, number, number]): PlanVehicle {
  const life = LATE - (c - b);
  return vehicleOf(i, FAR, life, 2 - (b - a + life) / LATE);
}

/** Instances with their least sums, from the package's tests (munkres-js 1.2.2, test/test.js, by E. Segal-Halevi). */
const PUBLISHED: { matrix: [number, number, number][]; least: number }[] = [
  {
    matrix: [
      [400, 150, 400],
      [400, 450, 600],
      [300, 225, 300],
    ],
    least: 150 + 400 + 300,
  },
  {
    matrix: [
      [5, 3, 1],
      [2, 4, 6],
      [9, 9, 9],
    ],
    least: 1 + 2 + 9,
  },
];

/** What each vehicle costs on each day by itself, against its first: a visit weighed alone. */
const costsOf = (problem: PlanProblem): number[][] =>
  problem.vehicles.map((vehicle) => {
    const alone = { ...problem, vehicles: [vehicle] };
    const on = (day: number) => weighPlan(alone, [{ vehicle: vehicle.id, axles: [1], day, outside: false }]).cost;
    return problem.days.slice(0, -1).map((_day, day) => on(day));
  });

describe('a plan that is an assignment', () => {
  it.each(PUBLISHED)('has the least sum that is published: $least', async ({ matrix, least }) => {
    const problem = shopOf(
      [1, 2, 3, BEYOND],
      matrix.map((row, i) => steps(i, row)),
      LATE,
    );
    const costs = costsOf(problem);
    // The shop has the instance's own costs, but for a sum by vehicle.
    matrix.forEach((row, i) =>
      row.forEach((cost, day) =>
        expect((costs[i]?.[day] ?? NaN) - (costs[i]?.[0] ?? NaN)).toBeCloseTo(cost - row[0], 6),
      ),
    );
    const { visits } = await planDepot(problem, 'yard', until);
    const days = matrix.map((_row, i) => visits.find(({ vehicle }) => vehicle === `v${i}`)?.day ?? -1);
    expect([...days].sort()).toEqual([0, 1, 2]);
    expect(matrix.reduce((sum, row, i) => sum + (row[days[i] ?? -1] ?? NaN), 0)).toBe(least);
  });

  it.each([1, 2, 3, 4, 5, 6, 7, 8])(
    'costs what the Hungarian method finds for 40 vehicles on 48 days, and is proved to (draw %i)',
    async (seed) => {
      const random = seededRandom(seed);
      const days = [...Array.from({ length: 48 }, (_, i) => i + 1 + 2 * Math.floor(i / 5)), FAR];
      const vehicles = Array.from({ length: 40 }, (_, i) => {
        const about = 5 + 70 * random();
        return vehicleOf(i, about, 1 + 9 * random(), about - 20 * random(), 500 * random());
      });
      const problem = shopOf(days, vehicles, 30);
      const costs = costsOf(problem);
      const least = computeMunkres(costs).reduce((sum, [v, day]) => sum + (costs[v]?.[day] ?? NaN), 0);
      const { cost, bound, visits } = await planDepot(problem, 'yard', until);
      expect(new Set(visits.map(({ day }) => day)).size).toBe(vehicles.length);
      expect(cost).toBeCloseTo(least, 4);
      expect(bound).toBeLessThanOrEqual(least + 1e-4);
      expect(bound).toBeGreaterThan(least - 1e-2);
    },
  );
});
