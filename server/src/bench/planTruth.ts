/**
 * What plans would really have cost: fleets that the project's own simulator did not make are forecast, planned over 26 weeks,
 * and their truth says which pads wore out before they were done and what was thrown away. Against earliest-due-first on the
 * same marks, against the best of several fixed intervals, and against a plan that knew the truth. Prints a JSON line each;
 * called by `npm run bench` where such fleets are at hand.
 *
 *   node server/dist/bench/planTruth.js FOLDER …
 */
import path from 'node:path';
import { dayNumber, sortedQuantile, type AxleForecast } from '@mile-mark/core';
import {
  earliestDueFirst,
  everyDay,
  everyInterval,
  planDepot,
  TRIAL_PRICES,
  weighPlan,
  type PlanAxle,
  type PlannedVisit,
  type PlanProblem,
  type PlanVehicle,
} from '@mile-mark/core/plan';
import { AXLES, forecastOf, learnFleet, type TrialFleet, type Vehicle } from './trialFleet.ts';

const WEEKS = 26;
const WORKDAYS = Array.from({ length: WEEKS * 5 }, (_, i) => 7 * Math.floor(i / 5) + (i % 5) + 1);
const END = WORKDAYS.at(-1) ?? 0;
const LOAD = 0.75;
const DEPOTS = 3;
const SECONDS = 30;
/** Invented, as of the demo: a planned service of an axle, what wearing out costs beyond it, hours. */
const OF_CLASS = {
  light: { planned: 400, failure: 700, hours: 2.1, certified: 0 },
  heavy: { planned: 900, failure: 1600, hours: 3.3, certified: 0.6 },
};
/** A shop that goes by fixed miles finds what suits it: so many times the life that past sets had in the median. */
const INTERVAL_TIMES = [0.5, 0.6, 0.7, 0.8, 0.9, 1, 1.2];
const SHARES = { p05: 0.05, p10: 0.1, p25: 0.25, p50: 0.5, p75: 0.75, p90: 0.9, p95: 0.95 } as const;

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);
const now = () => performance.now() / 1000;

/** An axle with the day on which it truly passes its limit, days from today. */
interface Known {
  axle: PlanAxle;
  truth: number;
}

/** Miles that past sets lasted, by class and axle: the median from fitting to fitting. */
function livesOf(vehicles: readonly Vehicle[]): Map<string, number> {
  const lives = new Map<string, number[]>();
  for (const { input, heavy } of vehicles)
    for (const { axle } of input.axles) {
      const fitted = input.fittings.filter((one) => one.axle === axle).map(({ miles }) => miles);
      const key = `${heavy}/${axle}`;
      fitted.slice(1).forEach((miles, i) => {
        lives.set(key, [...(lives.get(key) ?? []), miles - (fitted[i] ?? miles)]);
      });
    }
  return new Map([...lives].map(([key, own]) => [key, sortedQuantile(Float64Array.from(own).sort(), 0.5)]));
}

function knownOf(
  forecast: AxleForecast,
  {
    heavy,
    today,
    perDay,
    odometer,
    life,
    truth,
  }: {
    heavy: boolean;
    today: string;
    perDay: number;
    odometer: number;
    life: number;
    truth: number;
  },
): Known {
  const { planned, failure, hours, certified } = OF_CLASS[heavy ? 'heavy' : 'light'];
  const inDays = (date: string) => dayNumber(date) - dayNumber(today);
  const since = forecast.fitted ? inDays(forecast.fitted.date) : 0;
  const lasts = Math.max(60, inDays(forecast.dates.p50) - since);
  const fittedAt = forecast.fitted?.miles ?? odometer;
  return {
    truth,
    axle: {
      axle: forecast.axle,
      hours,
      certifiedHours: certified * hours,
      passage: Object.entries(SHARES).map(([key, p]) => ({
        p,
        day: inDays(forecast.dates[key as keyof typeof SHARES]),
      })),
      lifePerDay: planned / lasts,
      failure,
      latest: inDays(forecast.dates.p05),
      kitDay: 0,
      intervalDays: INTERVAL_TIMES.map((times) => (fittedAt + times * life - odometer) / perDay),
    },
  };
}

/** The fleet's axles as they are forecast and as they truly are, in three depots that are as busy as each other. */
function problemOf(fleet: TrialFleet): { problem: PlanProblem; truths: Map<string, number> } {
  const lives = livesOf(fleet.vehicles);
  const truths = new Map<string, number>();
  const vehicles = fleet.vehicles.flatMap((vehicle, i): PlanVehicle[] => {
    const { id, input, heavy } = vehicle;
    const { axles, odometerNowMi, milesPerDay } = forecastOf(fleet, vehicle);
    const own = (fleet.truths.get(id) ?? []).flatMap((row) => {
      const axle = axles.find((one) => one.axle === AXLES[row.axle as string]);
      const life = lives.get(`${heavy}/${axle?.axle ?? 0}`);
      if (!axle || life === undefined) return [];
      const around = { heavy, today: input.today, perDay: milesPerDay.mean, odometer: odometerNowMi, life };
      return [knownOf(axle, { ...around, truth: Number(row.remaining_days) })];
    });
    if (own.length === 0) return [];
    for (const { axle, truth } of own) truths.set(`${id}/${axle.axle}`, truth);
    return [
      {
        id,
        depot: `depot ${i % DEPOTS}`,
        class: heavy ? 'heavy' : 'light',
        bay: heavy ? 'heavy' : 'light',
        axles: own.map(({ axle }) => axle),
        closed: new Set(),
        published: new Map(),
      },
    ];
  });
  const asked = (depot: string) =>
    vehicles
      .filter((one) => one.depot === depot)
      .flatMap(({ axles }) => axles)
      .filter(({ latest }) => latest <= END)
      .reduce((sum, { hours }) => sum + hours, 0);
  const depots = Array.from({ length: DEPOTS }, (_, i) => {
    const id = `depot ${i}`;
    return { ...everyDay(id, asked(id) / LOAD, WORKDAYS.length), offRoad: { heavy: 4, light: 6 } };
  });
  return { problem: { days: WORKDAYS, hoursADay: 8, depots, vehicles, prices: TRIAL_PRICES }, truths };
}

/**
 * What a plan cost as things really went: visits and hours as planned, pads worn out before, life thrown away; and the same
 * with the days that a shop which keeps its own rule leaves vehicles standing past their last allowed day.
 */
function really(problem: PlanProblem, truths: ReadonlyMap<string, number>, visits: readonly PlannedVisit[]) {
  const { of } = weighPlan(problem, visits);
  const dayOf = new Map(
    visits.flatMap(({ vehicle, axles, day }) => axles.map((axle): [string, number] => [`${vehicle}/${axle}`, day])),
  );
  let [cost, wornOut, thrown] = [of.visits + of.overtime + of.outside, 0, 0];
  for (const { id, axles } of problem.vehicles)
    for (const { axle, lifePerDay, failure } of axles) {
      const truth = truths.get(`${id}/${axle}`) ?? Infinity;
      const at = dayOf.get(`${id}/${axle}`);
      const day = at === undefined ? END : (problem.days[at] ?? END);
      if (truth < day) {
        cost += failure;
        wornOut += 1;
      } else if (at !== undefined) {
        cost += lifePerDay * (truth - day);
        thrown += truth - day;
      }
    }
  return { cost, byRule: cost + of.outOfService, wornOut, thrown: thrown / Math.max(1, dayOf.size), done: dayOf.size };
}

/** The problem as somebody would have it who knows the day. */
const foreknown = (problem: PlanProblem, truths: ReadonlyMap<string, number>): PlanProblem => ({
  ...problem,
  vehicles: problem.vehicles.map((vehicle) => ({
    ...vehicle,
    axles: vehicle.axles.map((axle) => {
      const day = truths.get(`${vehicle.id}/${axle.axle}`) ?? 0;
      return { ...axle, passage: [{ p: 0.5, day }], latest: Math.max(axle.latest, Math.floor(day)) };
    }),
  })),
});

async function planned(problem: PlanProblem): Promise<PlannedVisit[]> {
  const visits: PlannedVisit[] = [];
  for (const { id } of problem.depots)
    visits.push(...(await planDepot(problem, id, { seconds: SECONDS, gap: 0.005, seed: 1, now })).visits);
  return visits;
}

for (const folder of process.argv.slice(2)) {
  const { problem, truths } = problemOf(learnFleet(folder));
  const by = (book: (depot: string) => PlannedVisit[]) =>
    really(
      problem,
      truths,
      problem.depots.flatMap(({ id }) => book(id)),
    );
  const own = really(problem, truths, await planned(problem));
  // The shop's rule sets a last day by risk; what days past it cost is the rule's, not the road's.
  const unruled = { ...problem, prices: { ...problem.prices, outOfServicePerDay: 0 } };
  const byRisk = really(unruled, truths, await planned(unruled));
  const best = really(unruled, truths, await planned(foreknown(unruled, truths)));
  const intervals = INTERVAL_TIMES.map((_times, which) => by((id) => everyInterval(problem, id, which)));
  const others = {
    'earliest due first': by((id) => earliestDueFirst(problem, id, undefined)),
    'the same, grouped by vehicle': by((id) => earliestDueFirst(problem, id, 90)),
    'the best fixed interval': intervals.reduce((a, b) => (b.cost < a.cost ? b : a)),
    'a plan that knew the truth': best,
  };
  const name = `plan lived through, ${path.basename(folder)} (${truths.size} axles)`;
  const told = { 'the plan': own, 'the plan by risk alone': byRisk, ...others };
  for (const [which, one] of Object.entries(told)) {
    print(`${name}: worn out before they were done, ${which}`, one.wornOut, 'axles');
    print(`${name}: life thrown away, ${which} (${one.done} axles done)`, one.thrown, 'days');
  }
  for (const [which, other] of Object.entries(others)) {
    print(`${name}: cost ÷ ${which}`, own.cost / other.cost, 'ratio');
    print(`${name}: cost by risk alone ÷ ${which}`, byRisk.cost / other.cost, 'ratio');
  }
  // Fixed intervals know no risk target, and who knows the truth needs none.
  for (const which of ['earliest due first', 'the same, grouped by vehicle'] as const)
    print(`${name}: cost with days past the risk target ÷ ${which}`, own.byRule / others[which].byRule, 'ratio');
}
