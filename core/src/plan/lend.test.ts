import { describe, expect, it } from '@jest/globals';
import { seededRandom } from '../numeric/index.ts';
import {
  lendVehicles,
  planDepot,
  planFaults,
  planTrial,
  weighPlan,
  withLoans,
  type LendAsk,
  type Loan,
  type PlannedVisit,
  type PlanProblem,
  type PlanVehicle,
} from './index.ts';

const until = { seconds: 1000, gap: 1e-6, now: () => 0, seed: 7 };

/** Two shops so small that every plan of both can be tried, with each vehicle at either: the first is short of hours. */
function two(seed: number, cap: number | undefined): LendAsk {
  const random = seededRandom(seed);
  const whole = planTrial({ vehicles: 3, depots: 1, load: 0.6, weeks: 1, seed });
  // The second shop does not work on the first's second day, and works on one of its own.
  const calendars = [
    [1, 2, 4],
    [1, 3, 4],
  ];
  const homes = calendars.map((days, k): PlanProblem => {
    const every = (value: number) => days.map(() => value);
    return {
      ...whole,
      days,
      depots: [
        {
          id: `depot ${k}`,
          // Now and then the first has no bay for what belongs to it.
          bayHours: k === 0 && random() < 0.3 ? { light: every(8) } : { light: every(8), heavy: every(8) },
          technicianHours: every(k === 0 ? 1 + 2 * random() : 5),
          certifiedHours: every(k === 0 ? random() : 4),
          overtimeHours: every(2 * random()),
          offRoad: cap === undefined ? {} : { heavy: cap, van: cap, pickup: cap },
        },
      ],
      prices: { ...whole.prices, outside: undefined },
      vehicles: whole.vehicles
        .filter((_one, i) => (i < 2 ? 0 : 1) === k)
        .map((vehicle) => ({
          ...vehicle,
          depot: `depot ${k}`,
          axles: vehicle.axles.slice(0, 1).map((axle) => ({ ...axle, ...dueAbout(random) })),
          closed: new Set(random() < 0.3 ? [1] : []),
          lock: undefined,
        })),
    };
  });
  const cost = 150 * random();
  const guests = homes.flatMap(({ vehicles }, k) =>
    vehicles.map((vehicle): PlanVehicle => ({
      ...vehicle,
      depot: `depot ${1 - k}`,
      closed: new Set(),
      lent: { from: `depot ${k}`, cost, hours: 1.5 },
    })),
  );
  return { homes, guests, least: 1 };
}

function dueAbout(random: () => number) {
  const median = -6 + 12 * random();
  return {
    passage: [0.05, 0.25, 0.5, 0.75, 0.95].map((p, k) => ({ p, day: median + 3 * (k - 2) })),
    latest: Math.round(median),
    kitDay: 0,
  };
}

/** Vehicles of one depot and class on one day, wherever they stand: more than their depot lets be off the road? */
function capsKept({ homes }: LendAsk, problems: readonly PlanProblem[], visits: readonly PlannedVisit[][]): boolean {
  return homes.every(({ vehicles, depots }) => {
    const off = new Map<string, number>();
    problems.forEach(({ days }, k) => {
      for (const { vehicle, day } of visits[k] ?? []) {
        const own = vehicles.find(({ id }) => id === vehicle);
        if (own) off.set(`${own.class}/${days[day]}`, (off.get(`${own.class}/${days[day]}`) ?? 0) + 1);
      }
    });
    return [...off].every(([key, count]) => count <= (depots[0]?.offRoad[key.split('/')[0] ?? ''] ?? Infinity));
  });
}

/** Every way of placing one-axle vehicles: each on each day, or not at all. */
function waysOf({ vehicles, days }: PlanProblem): PlannedVisit[][] {
  return vehicles.reduce<PlannedVisit[][]>(
    (ways, { id, axles }) =>
      ways.flatMap((way) => [
        way,
        ...days.map((_day, day) => [
          ...way,
          { vehicle: id, axles: axles.map(({ axle }) => axle), day, outside: false },
        ]),
      ]),
    [[]],
  );
}

/** The least that both shops can cost, every vehicle tried at either. */
function leastOf(ask: LendAsk): number {
  let least = Infinity;
  for (let who = 0; who < 1 << ask.guests.length; who += 1) {
    const loans = ask.guests
      .filter((_one, i) => (who >> i) & 1)
      .map((guest): Loan => ({ vehicle: guest.id, from: guest.lent?.from ?? '', to: guest.depot }));
    const problems = withLoans(ask, loans);
    const [first, second] = problems.map((problem) =>
      waysOf(problem).flatMap((visits) => {
        const { cost, broken } = weighPlan(problem, visits);
        // Who goes elsewhere goes to be done.
        const idle = problem.vehicles.some(({ id, lent }) => lent && !visits.some(({ vehicle }) => vehicle === id));
        return broken.length === 0 && !idle ? [{ visits, cost }] : [];
      }),
    );
    for (const one of first ?? [])
      for (const other of second ?? [])
        if (one.cost + other.cost < least && capsKept(ask, problems, [one.visits, other.visits]))
          least = one.cost + other.cost;
  }
  return least;
}

const SHOPS = Array.from({ length: 24 }, (_, i) => i + 1);

describe.each([undefined, 1])('vehicles lent between two shops, %s off the road at once', (cap) => {
  const asks = SHOPS.map((seed) => two(seed, cap));
  const lent = asks.map((ask) => lendVehicles(ask, until));

  it('never cost more than without, and are what both shops’ plans then cost together', async () => {
    let any = 0;
    for (const [i, ask] of asks.entries()) {
      const { loans, alone, together } = lent[i] ?? { loans: [], alone: NaN, together: NaN };
      expect(together).toBeLessThanOrEqual(alone + 1e-9);
      any += loans.length;
      const problems = withLoans(ask, loans);
      const visits: PlannedVisit[][] = [];
      let cost = 0;
      for (const problem of problems) {
        expect(planFaults(problem)).toEqual([]);
        const plan = await planDepot(problem, problem.depots[0]?.id ?? '', until);
        const weighed = weighPlan(problem, plan.visits);
        expect(weighed.broken).toEqual([]);
        expect(weighed.cost).toBeCloseTo(plan.cost, 6);
        visits.push(plan.visits);
        cost += plan.cost;
      }
      expect(cost).toBeLessThanOrEqual(together + 1e-6);
      expect(capsKept(ask, problems, visits)).toBe(true);
    }
    expect(any).toBeGreaterThan(SHOPS.length / 3);
  });

  it('come near to the least of all there are, every vehicle tried at either shop on every day', () => {
    let [could, does] = [0, 0];
    asks.forEach((ask, i) => {
      const least = leastOf(ask);
      const { alone, together } = lent[i] ?? { alone: NaN, together: NaN };
      expect(together).toBeGreaterThanOrEqual(least - 1e-6);
      could += alone - least;
      does += alone - together;
    });
    expect(could).toBeGreaterThan(0);
    // One after the other is no proof: it finds most of what lending could save, not all.
    expect(does / could).toBeGreaterThan(0.97);
  });
});

describe('a vehicle of another depot', () => {
  const base = two(3, undefined);
  const askOf = (change: (guest: PlanVehicle) => PlanVehicle): LendAsk => ({
    ...base,
    guests: base.guests.map(change),
  });

  it('stays where going there costs more than it saves', () => {
    const { loans, alone, together } = lendVehicles(
      askOf((guest) => ({ ...guest, lent: { from: guest.lent?.from ?? '', cost: 100_000, hours: 0 } })),
      until,
    );
    expect(loans).toEqual([]);
    expect(together).toBe(alone);
  });

  it('stays where the published plan has it, unless going pays for the change too', () => {
    for (const seed of SHOPS) {
      const ask = two(seed, undefined);
      const at = (depot: (guest: PlanVehicle) => string) => ({
        ...ask,
        before: ask.guests.map((guest) => ({ vehicle: guest.id, depot: depot(guest), change: 100_000 })),
      });
      expect(
        lendVehicles(
          at(({ lent }) => lent?.from ?? ''),
          until,
        ).loans,
      ).toEqual([]);
      const away = new Map(ask.guests.map(({ id, depot }) => [id, depot]));
      for (const { vehicle, to } of lendVehicles(
        at(({ depot }) => depot),
        until,
      ).loans)
        expect(to).toBe(away.get(vehicle));
    }
    const gone = SHOPS.map((seed) => {
      const ask = two(seed, undefined);
      const before = ask.guests.map((guest) => ({ vehicle: guest.id, depot: guest.depot, change: 100_000 }));
      return lendVehicles({ ...ask, before }, until).loans.length - lendVehicles(ask, until).loans.length;
    });
    // Who is elsewhere already is brought home by nothing so small as what it would save.
    expect(Math.min(...gone)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...gone)).toBeGreaterThan(0);
  });

  it('pays for the way and the hours on it at each visit', () => {
    const guest = base.guests.find(({ depot }) => depot === 'depot 1');
    const home = base.homes[1];
    if (!guest || !home) throw new Error('no such vehicle');
    const problem = { ...home, vehicles: [guest] };
    const visit = { vehicle: guest.id, axles: guest.axles.map(({ axle }) => axle), day: 0, outside: false };
    const dear = weighPlan(problem, [visit]);
    const free = weighPlan({ ...problem, vehicles: [{ ...guest, lent: undefined }] }, [visit]);
    const way = (guest.lent?.cost ?? NaN) + 1.5 * problem.prices.downtimePerHour;
    expect(dear.of.transfers).toBeCloseTo(way, 9);
    expect(dear.cost - free.cost).toBeCloseTo(way, 9);
  });

  it('is refused where it has no depot to come from', () => {
    expect(() =>
      lendVehicles(
        askOf((guest) => ({ ...guest, lent: { from: 'nowhere', cost: 1, hours: 1 } })),
        until,
      ),
    ).toThrow(RangeError);
  });
});
