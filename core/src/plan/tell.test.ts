import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import {
  earliestDueFirst,
  everyInterval,
  movedTo,
  packProblem,
  planTrial,
  searchDepot,
  tellMove,
  tellVisits,
  tryChange,
  unpackProblem,
  unplacedOf,
  weighPlan,
  type PlannedVisit,
  type PlanProblem,
} from './index.ts';

const until = { seconds: 1000, gap: 1e-6, now: () => 0, seed: 3 };
const fleet = (seed: number, over: Partial<Parameters<typeof planTrial>[0]> = {}): PlanProblem =>
  planTrial({ vehicles: 9, depots: 1, load: 0.6, weeks: 6, seed, ...over });
const solved = (problem: PlanProblem) => searchDepot(problem, 'depot 0', until).visits;
const only = <T>(all: readonly T[]): T => {
  const [first] = all;
  if (first === undefined) throw new Error('there is none');
  return first;
};

describe('a change of a plan', () => {
  it('moves the axles that are named and no others; each stays in one visit', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), fc.nat(), fc.nat(), (seed, which, to) => {
        const problem = fleet(seed);
        const before = earliestDueFirst(problem, 'depot 0', 90);
        fc.pre(before.length > 0);
        const visit = before[which % before.length] as PlannedVisit;
        const moved = { ...visit, axles: visit.axles.slice(0, 1), day: to % problem.days.length };
        const after = movedTo(before, moved);
        const places = (visits: readonly PlannedVisit[]) =>
          new Map(
            visits.flatMap(({ vehicle, axles, day }) => axles.map((axle) => [`${vehicle}/${axle}`, day] as const)),
          );
        const [had, has] = [places(before), places(after)];
        expect([...has.keys()].sort()).toEqual([...had.keys()].sort());
        for (const [place, day] of has)
          expect(day).toBe(place === `${visit.vehicle}/${visit.axles[0]}` ? moved.day : had.get(place));
        const { before: was, after: is } = tryChange(problem, before, after);
        expect(is.cost - was.cost).toBeCloseTo(weighPlan(problem, after).cost - weighPlan(problem, before).cost, 9);
      }),
      { numRuns: 40 },
    );
  });

  it('tells only what was whole before', () => {
    const problem = fleet(2);
    const visits = solved(problem);
    expect(tryChange(problem, visits, visits).breaks).toEqual([]);
    const visit = only(visits);
    const vehicle = problem.vehicles.find(({ id }) => id === visit.vehicle);
    const away = {
      ...problem,
      vehicles: problem.vehicles.map((one) =>
        one === vehicle ? { ...one, lock: undefined, closed: new Set([1]) } : one,
      ),
    };
    const after = movedTo(visits, { ...visit, day: 1 });
    expect(tryChange(away, visits, after).breaks).toContainEqual({ code: 'closed', vehicle: visit.vehicle, day: 1 });
  });
});

describe('why a visit is on its day', () => {
  it('costs of all visits and of what is left are the plan’s, overtime apart', () => {
    for (const seed of [1, 2, 3, 4]) {
      const problem = fleet(seed);
      const visits = solved(problem);
      const told = tellVisits(problem, 'depot 0', visits);
      const { of } = weighPlan(problem, visits);
      const unplaced = weighPlan(problem, []).of;
      const placedRisk = visits.reduce(
        (sum, { vehicle, axles }) =>
          sum +
          axles.reduce((own, axle) => {
            const one = problem.vehicles.find(({ id }) => id === vehicle);
            const alone = {
              ...problem,
              vehicles: one ? [{ ...one, axles: one.axles.filter((own2) => own2.axle === axle), lock: undefined }] : [],
            };
            return own + weighPlan(alone, []).cost;
          }, 0),
        0,
      );
      const never = unplaced.risk + unplaced.outOfService + unplaced.moves - placedRisk;
      const whole = of.lifeThrownAway + of.risk + of.outOfService + of.visits + of.outside + of.moves;
      expect(told.reduce((sum, { cost }) => sum + cost, never)).toBeCloseTo(whole, 6);
    }
  });

  it('names a day that is better by itself only where it is, by what it costs less', () => {
    const problem = fleet(5);
    const visits = solved(problem);
    tellVisits(problem, 'depot 0', visits).forEach(({ better }, i) => {
      if (!better) return;
      const visit = visits[i] as PlannedVisit;
      const [here, there] = [[visit], [{ ...visit, day: better.day }]].map((one) => weighPlan(problem, one));
      const apart = (one: typeof here) => (one?.cost ?? 0) - (one?.of.overtime ?? 0);
      expect(better.more).toBeGreaterThan(0);
      expect(apart(here) - apart(there)).toBeCloseTo(better.more, 6);
    });
  });

  it('says that the shop has not the hours, where even alone there is no room on the better day', () => {
    const problem = fleet(5);
    const [shop] = problem.depots;
    if (!shop) throw new Error('no depot');
    const without = {
      ...problem,
      depots: [
        {
          ...shop,
          technicianHours: shop.technicianHours.map((there, day) => (day % 2 ? there : 0)),
          overtimeHours: shop.overtimeHours.map(() => 0),
        },
      ],
    };
    const visits = solved(without);
    const told = tellVisits(without, 'depot 0', visits).flatMap(({ better }) => better ?? []);
    expect(told.some(({ shut }) => shut)).toBe(true);
    for (const { day, shut } of told) if (day % 2 === 0) expect(shut).toBe(true);
  });

  it('a visit that moved says what staying would cost, or break', () => {
    const problem = fleet(6);
    const visits = solved(problem);
    const visit = only(visits);
    const published = new Map(visit.axles.map((axle) => [axle, visit.day + 2]));
    const since = {
      ...problem,
      vehicles: problem.vehicles.map((one) =>
        one.id === visit.vehicle ? { ...one, lock: undefined, published } : one,
      ),
    };
    const told = tellMove(since, visits, visit);
    expect(told?.from).toBe(visit.day + 2);
    const stayed = movedTo(visits, { ...visit, day: visit.day + 2 });
    expect(told?.staying).toBeCloseTo(weighPlan(since, stayed).cost - weighPlan(since, visits).cost, 9);
    expect(tellMove(problem, visits, visit)).toBeUndefined();
  });
});

describe('what could not be placed', () => {
  /** One vehicle with one axle that is long due. */
  const one = (over: Partial<PlanProblem['vehicles'][number]>, axle: object = {}, depot: object = {}): PlanProblem => {
    const problem = fleet(1);
    const [vehicle, shop] = [only(problem.vehicles), only(problem.depots)];
    const due = {
      ...only(vehicle.axles),
      passage: [{ p: 0.5, day: 2 }],
      latest: 3,
      kitDay: 0,
      hours: 2,
      certifiedHours: 0,
      failure: 2000,
    };
    return {
      ...problem,
      prices: { ...problem.prices, outside: undefined },
      depots: [{ ...shop, ...depot }],
      vehicles: [
        { ...vehicle, closed: new Set(), lock: undefined, published: new Map(), axles: [{ ...due, ...axle }], ...over },
      ],
    };
  };
  const every = (problem: PlanProblem, value: number) => problem.days.map(() => value);
  const base = one({});
  it.each([
    ['nothing, where there is room', one({}), []],
    ['its kit', one({}, { kitDay: 1e5 }), ['kit']],
    ['the vehicle’s absence', one({ closed: new Set(base.days.keys()) }), ['away']],
    ['the cap off the road', one({}, {}, { offRoad: { [only(base.vehicles).class]: 0 } }), ['off the road']],
    ['hours', one({}, {}, { technicianHours: every(base, 0), overtimeHours: every(base, 0) }), ['hours']],
    ['that it costs more than not', one({}, { failure: 0, lifePerDay: 0, latest: 40 }), ['dear']],
    ['nothing, where it is not due yet', one({}, { passage: [{ p: 0.5, day: 900 }], latest: 800 }), []],
  ])('is told with what binds: %s', (_what, problem, binds) => {
    expect(unplacedOf(problem, 'depot 0', solved(problem)).map((left) => left.binds)).toEqual(binds);
  });
});

describe('planning anew', () => {
  const published = (problem: PlanProblem, visits: readonly PlannedVisit[]): PlanProblem => ({
    ...problem,
    vehicles: problem.vehicles.map((vehicle) => ({
      ...vehicle,
      published: new Map(
        visits
          .filter((one) => one.vehicle === vehicle.id)
          .flatMap(({ axles, day }) => axles.map((axle): [number, number] => [axle, day])),
      ),
    })),
  });
  const places = (visits: readonly PlannedVisit[]) =>
    visits.flatMap(({ vehicle, axles, day }) => axles.map((axle) => `${vehicle}/${axle} on ${day}`)).sort();

  it('begins from what is published: where nothing changed, a plan that is far from best stays as it is', () => {
    for (const seed of [11, 12, 13]) {
      const problem = { ...fleet(seed), prices: { ...fleet(seed).prices, outside: undefined } };
      const careful = earliestDueFirst(problem, 'depot 0', 90);
      const dear = { ...problem.prices, move: { fixed: 1e6, perDay: 0, nearDays: 0, nearTimes: 1 } };
      const since = published({ ...problem, prices: dear }, careful);
      const anew = places(solved(since));
      expect(places(careful).filter((place) => !anew.includes(place))).toEqual([]);
    }
  });

  it('moves what can’t stay: the vehicle is away on its day', () => {
    const problem = fleet(14);
    const visits = solved(problem).filter(({ outside }) => !outside);
    const visit = only(
      visits.filter((one) => problem.vehicles.find(({ id }) => id === one.vehicle)?.lock === undefined),
    );
    const since = published(problem, visits);
    const away = {
      ...since,
      vehicles: since.vehicles.map((one) =>
        one.id === visit.vehicle ? { ...one, closed: new Set([visit.day]) } : one,
      ),
    };
    const anew = solved(away);
    expect(anew.some((one) => one.vehicle === visit.vehicle && one.day === visit.day)).toBe(false);
    expect(weighPlan(away, anew).broken.filter(({ code }) => code === 'closed')).toEqual([]);
  });
});

it('a plan by interval begins no axle before its interval has ended, where the days from there on have room', () => {
  const problem = fleet(8, { load: 0.2 });
  const due = {
    ...problem,
    vehicles: problem.vehicles.map((one, i) => ({
      ...one,
      lock: undefined,
      axles: one.axles.map((axle) => ({ ...axle, kitDay: 0, intervalDays: [3 + i] })),
    })),
  };
  const visits = everyInterval(due, 'depot 0', 0);
  expect(visits.length).toBeGreaterThan(0);
  for (const { vehicle, day } of visits) {
    const own = due.vehicles.findIndex(({ id }) => id === vehicle);
    expect(due.days[day]).toBeGreaterThanOrEqual(3 + own);
  }
  expect(weighPlan(due, visits).cost).toBeGreaterThanOrEqual(weighPlan(due, solved(due)).cost - 1e-6);
  expect(earliestDueFirst(due, 'depot 0', undefined)).not.toEqual(visits);
});

it('a problem that was kept as JSON is the one it was', () => {
  const problem = fleet(9);
  const back = unpackProblem(JSON.parse(JSON.stringify(packProblem(problem))) as ReturnType<typeof packProblem>);
  expect(solved(back)).toEqual(solved(problem));
  expect(back.vehicles.map(({ closed, published }) => [closed, published])).toEqual(
    problem.vehicles.map(({ closed, published }) => [closed, published]),
  );
});
