/**
 * Plans seeded fleets over 26 weeks, depot after depot on one core: time, the gap that was proved, and the cost against
 * earliest-due-first, one by one and grouped by vehicle. Prints a JSON line each; called by `npm run bench`.
 */
import { earliestDueFirst, planDepot, planTrial, weighPlan } from '@mile-mark/core/plan';

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 10_000) / 10_000, unit })}\n`);
const now = () => performance.now() / 1000;

const FLEETS = [
  { vehicles: 60, depots: 3, load: 0.6, seconds: 10 },
  { vehicles: 60, depots: 1, load: 0.75, seconds: 20 },
  { vehicles: 400, depots: 4, load: 0.6, seconds: 60 },
];
for (const { seconds, ...fleet } of FLEETS) {
  const problem = planTrial({ ...fleet, weeks: 26, seed: 20 });
  const name = `plan, ${fleet.vehicles} vehicles, ${fleet.depots} depots, load ${fleet.load}`;
  const begun = now();
  const solved = [];
  for (const { id } of problem.depots)
    solved.push(await planDepot(problem, id, { seconds: seconds / problem.depots.length, gap: 0.005, now, seed: 1 }));
  print(`${name}: seconds`, now() - begun, 's');
  const visits = solved.flatMap((one) => one.visits);
  const { cost, broken } = weighPlan(problem, visits);
  const bound = solved.reduce((sum, one) => sum + one.bound, 0);
  print(`${name}: gap proved`, (cost - bound) / cost, 'share');
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
}
