/**
 * Plans seeded fleets over 26 weeks, depot after depot, two at a time as a machine of two processors does: time, the gap that was
 * proved, the cost against earliest-due-first (one by one, and grouped by vehicle), what a change of one mark in twenty
 * moves, and what a move by hand takes to be weighed. Prints a JSON line each; called by `npm run bench`.
 */
import {
  earliestDueFirst,
  movedTo,
  planTrial,
  SEARCH_SHARE,
  tryChange,
  weighPlan,
  type PlannedVisit,
  type PlanProblem,
  type PlanTrial,
  type SolvedDepot,
} from '@mile-mark/core/plan';
import { seededRandom } from '@mile-mark/core';
import { computePool } from '../compute.ts';
import { lend, prove, search } from '../features/plan/jobs/tasks.ts';

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 10_000) / 10_000, unit })}\n`);
const now = () => performance.now() / 1000;
const pool = computePool(2);
const never = new AbortController().signal;

/** Of its hours the first depot has so much, where vehicles are lent. */
const SHORT = 0.5;

const FLEETS: (Omit<PlanTrial, 'weeks' | 'seed'> & { seconds: number; gap: number })[] = [
  { vehicles: 60, depots: 3, load: 0.6, seconds: 4, gap: 0.005 },
  { vehicles: 60, depots: 1, load: 0.75, seconds: 20, gap: 0.005 },
  { vehicles: 400, depots: 4, load: 0.6, seconds: 29, gap: 0.005 },
  { vehicles: 400, depots: 4, load: 0.75, seconds: 27, gap: 0.005 },
  { vehicles: 400, depots: 4, load: 0.75, shifts: 'whole days', seconds: 27, gap: 0.005 },
  { vehicles: 2000, depots: 10, load: 0.75, seconds: 16.5, gap: 0.01 },
];

/** A depot's part of a problem. */
const ofDepot = (problem: PlanProblem, id: string): PlanProblem => ({
  ...problem,
  depots: problem.depots.filter((one) => one.id === id),
  vehicles: problem.vehicles.filter(({ depot }) => depot === id),
});

/** Depots are solved as the queue does: each for so many seconds, as many at a time as there are threads. */
async function solveAll(
  problem: PlanProblem,
  { seconds, gap }: { seconds: number; gap: number },
): Promise<SolvedDepot[]> {
  return Promise.all(
    problem.depots.map(async ({ id }) => {
      const asked = { problem: ofDepot(problem, id), depot: id, gap };
      const first = await search(pool, { ...asked, seconds: seconds * SEARCH_SHARE }, never);
      return prove(pool, { ...asked, seconds: Math.max(0.1, seconds - first.seconds), visits: first.visits }, never);
    }),
  );
}

for (const { seconds, gap, ...fleet } of FLEETS) {
  const problem = planTrial({ ...fleet, weeks: 26, seed: 20 });
  const name = `plan, ${fleet.vehicles} vehicles, ${fleet.depots} depots, load ${fleet.load}${fleet.shifts ? `, ${fleet.shifts}` : ''}`;
  const begun = now();
  const solved = await solveAll(problem, { seconds, gap });
  print(`${name}: elapsed`, now() - begun, 's');
  const visits = solved.flatMap((one) => one.visits);
  const { cost, broken } = weighPlan(problem, visits);
  const bound = solved.reduce((sum, one) => sum + one.bound, 0);
  print(`${name}: gap proved`, (cost - bound) / cost, 'share');
  print(`${name}: depots within a per cent`, solved.filter(({ provedGap }) => provedGap <= 0.01).length, 'depots');
  print(`${name}: broken`, broken.length, 'rules');
  for (const [how, days] of [
    ['earliest due first', undefined],
    ['the same, grouped by vehicle', 90],
  ] as const) {
    const plain = weighPlan(
      problem,
      problem.depots.flatMap(({ id }) => earliestDueFirst(problem, id, days)),
    );
    print(`${name}: cost ÷ ${how}`, cost / plain.cost, 'ratio');
  }
  if (fleet.vehicles === 400 && fleet.load === 0.6) await replan(name, problem, visits);
}
for (const fleet of [
  { vehicles: 60, depots: 3, load: 0.6, seconds: 5 },
  { vehicles: 400, depots: 4, load: 0.6, seconds: 15 },
  { vehicles: 2000, depots: 10, load: 0.6, seconds: 30 },
])
  await lent(fleet);
print('plan: memory', process.memoryUsage().rss / 1e6, 'MB');
await pool.close();

/** Depots of which the first is short of people do each other's vehicles: who is lent, how long that takes, what it saves by search. */
async function lent({ seconds, ...fleet }: Omit<PlanTrial, 'weeks' | 'seed'> & { seconds: number }): Promise<void> {
  const even = planTrial({ ...fleet, weeks: 26, seed: 20 });
  const short = (hours: readonly number[]) => hours.map((one) => SHORT * one);
  const problem: PlanProblem = {
    ...even,
    depots: even.depots.map((depot, i) =>
      i > 0
        ? depot
        : { ...depot, technicianHours: short(depot.technicianHours), certifiedHours: short(depot.certifiedHours) },
    ),
  };
  const homes = problem.depots.map(({ id }) => ofDepot(problem, id));
  // Each depot has a way to the two next to it.
  const next = (i: number) =>
    [1, problem.depots.length - 1].map((by) => problem.depots[(i + by) % problem.depots.length]?.id);
  const guests = problem.depots.flatMap(({ id }, i) =>
    [...new Set(next(i))].flatMap((to) =>
      to === undefined || to === id
        ? []
        : problem.vehicles
            .filter(({ depot, lock }) => depot === id && !lock)
            .map((vehicle) => ({ ...vehicle, depot: to, lent: { from: id, cost: 60, hours: 1.5 } })),
    ),
  );
  const name = `plan, lent, ${fleet.vehicles} vehicles, ${fleet.depots} depots`;
  const begun = now();
  const found = await lend(pool, { homes, guests, least: 60, seconds }, never);
  print(`${name}: decided`, now() - begun, 's');
  print(`${name}: vehicles`, found.loans.length, 'vehicles');
  print(`${name}: cost ÷ nobody lent, by search`, found.together / found.alone, 'ratio');
}

/** One mark in twenty moves by up to five weeks: what is planned anew moves of the others; and one move by hand. */
async function replan(name: string, problem: PlanProblem, visits: readonly PlannedVisit[]): Promise<void> {
  const random = seededRandom(5);
  const changed = new Set<string>();
  const stood = (vehicle: string) =>
    new Map(
      visits
        .filter((one) => one.vehicle === vehicle)
        .flatMap(({ axles, day }) => axles.map((axle): [number, number] => [axle, day])),
    );
  const since: PlanProblem = {
    ...problem,
    vehicles: problem.vehicles.map((vehicle) => ({
      ...vehicle,
      published: stood(vehicle.id),
      axles: vehicle.axles.map((axle) => {
        if (random() >= 0.05) return axle;
        changed.add(vehicle.id);
        const by = Math.round(70 * (random() - 0.5));
        return { ...axle, latest: axle.latest + by, passage: axle.passage.map(({ p, day }) => ({ p, day: day + by })) };
      }),
    })),
  };
  const begun = now();
  // What is shown at once: the search from the published plan; its proof comes after.
  const anew = (
    await Promise.all(
      since.depots.map(({ id }) =>
        search(pool, { problem: ofDepot(since, id), depot: id, seconds: 2.4, gap: 0.005 }, never),
      ),
    )
  ).flatMap((one) => one.visits);
  print(`${name}: planned anew after 5 % of marks changed`, now() - begun, 's');
  const gained = weighPlan(since, visits).cost - weighPlan(since, anew).cost;
  print(`${name}: saved by planning anew`, gained / weighPlan(since, visits).cost, 'share');
  const places = (all: readonly PlannedVisit[]) =>
    new Map(
      all.flatMap(({ vehicle, axles, day }) => axles.map((axle): [string, number] => [`${vehicle}/${axle}`, day])),
    );
  const [before, after] = [places(visits), places(anew)];
  const untouched = [...before].filter(([place]) => !changed.has(place.split('/')[0] ?? ''));
  print(
    `${name}: untouched bookings moved`,
    untouched.filter(([place, day]) => after.get(place) !== day).length / untouched.length,
    'share',
  );
  const [one] = visits;
  if (!one) return;
  const depot = problem.vehicles.find(({ id }) => id === one.vehicle)?.depot;
  const own = ofDepot(problem, depot ?? '');
  const there = visits.filter(({ vehicle }) => own.vehicles.some(({ id }) => id === vehicle));
  const start = now();
  for (let i = 0; i < 20; i += 1) tryChange(own, there, movedTo(there, { ...one, day: i }));
  print(`${name}: one move by hand weighed`, ((now() - start) / 20) * 1000, 'ms');
}
