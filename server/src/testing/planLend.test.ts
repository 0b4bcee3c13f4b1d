import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { DayBoard, Plan, PlanHolds, PlanItem, Shop } from '@mile-mark/contract/plan';
import { dayNumber, type JobAction } from '@mile-mark/core';
import { kitDays } from '../features/parts/index.ts';
import { keepLoans } from '../features/plan/loans.ts';
import { TODAY } from './app.ts';
import { fieldsOf } from './partsApp.ts';
import { createPlanApp, type PlanApp } from './planApp.ts';

let app: PlanApp;
let plan: Plan;
let terms: Shop['terms'];
beforeAll(async () => {
  app = await createPlanApp({ ways: true });
  ({ terms } = await shop());
  plan = await propose();
}, 240_000);
afterAll(async () => app.test.close());

const shop = async () => (await app.coordinator.get('/api/shop').expect(200)).body as Shop;
// Whom to lend is searched for in a part of the time: on a machine that does much else, a second of it finds nobody.
const propose = (body: Record<string, unknown> = {}) => app.propose({ seconds: 4, ...body });
const lent = ({ items }: Plan) => items.filter(({ lentFrom }) => lentFrom !== null);
const stateWays = async (travel: unknown) => {
  const { by: _by, on: _on, ...now } = (await shop()).terms;
  return app.coordinator.put('/api/plan-terms').send({ ...now, travel });
};
const published = async () =>
  app.planOf((await app.sql<{ id: string }>(`select id from plan where state = 'published'`))[0]?.id ?? '');
const firstLent = (of: Plan, fits: (item: PlanItem) => boolean = () => true): PlanItem => {
  const item = lent(of).find(fits);
  if (!item) throw new Error('nobody is lent');
  return item;
};

describe('vehicles that another depot does', () => {
  it('go where there is a way, at what it costs, and the plan costs less than without', async () => {
    expect(lent(plan).length).toBeGreaterThan(0);
    let ways = 0;
    for (const { depot, lentFrom, why } of lent(plan)) {
      const way = terms.travel.find(({ between }) => between.includes(depot) && between.includes(lentFrom ?? ''));
      if (!way) throw new Error(`there is no way from ${lentFrom} to ${depot}`);
      ways += (way.costMinor + way.hours * terms.downtimePerHourMinor) / 100;
      expect(why.join(' ')).toContain(`A vehicle of ${lentFrom}`);
    }
    expect(plan.shares?.transfers).toBeCloseTo(ways, 6);
    await stateWays([]);
    const without = await propose();
    expect(lent(without)).toEqual([]);
    expect(without.shares?.transfers).toBe(0);
    expect(plan.cost).toBeLessThan(without.cost ?? 0);
    await stateWays(terms.travel);
  });

  it('are done once: no axle of theirs is at two depots, and what stays is at home', () => {
    const axles = plan.items.flatMap((item) => item.axles.map((axle) => `${item.unit}/${axle}`));
    expect(new Set(axles).size).toBe(axles.length);
    const depots = new Map<string, string>();
    for (const { unit, depot } of plan.items) expect(depots.set(unit, depots.get(unit) ?? depot).get(unit)).toBe(depot);
  });

  it('keep to what their own depot lets be off the road, wherever they stand', async () => {
    const caps = new Map((await shop()).depots.map((one) => [one.depot, one.offRoad]));
    const off = new Map<string, Set<string>>();
    for (const { unit, class: name, depot, lentFrom, date } of plan.items) {
      const key = [lentFrom ?? depot, name, date].join('/');
      off.set(key, (off.get(key) ?? new Set()).add(unit));
    }
    for (const [key, units] of off) {
      const [depot = '', name] = key.split('/');
      expect(units.size).toBeLessThanOrEqual(caps.get(depot)?.find((cap) => cap.class === name)?.most ?? Infinity);
    }
  });

  it('may be driven, and are neither in work nor booked by hand', async () => {
    const standing = await app.sql<{ unit: string }>(
      `select distinct v.unit from defect d join vehicle v on v.id = d.vehicle_id where d.severity = 'do not drive'`,
    );
    const stay = await app.sql<{ unit: string }>(
      `select v.unit from job j join vehicle v on v.id = j.vehicle_id where j.state in ('booked', 'in work')`,
    );
    expect(standing.length).toBeGreaterThan(0);
    const units = lent(plan).map(({ unit }) => unit);
    for (const { unit } of [...standing, ...stay]) expect(units).not.toContain(unit);
  });

  it('are decided once, whoever solves: what a second process found is not taken', async () => {
    const id = await app.ask();
    const loan = { vehicle: randomUUID(), class: 'van', from: 'a', to: 'b', cost: 1, hours: 1, only: null };
    expect(await keepLoans(app.fork(), id, [loan])).toEqual([loan]);
    expect(await keepLoans(app.fork(), id, [])).toEqual([loan]);
    await app.sql(`update plan set state = 'dropped' where id = ?`, [id]);
  });
});

describe('where a vehicle is done', () => {
  it('has its kit there: nobody goes where it is not in time', async () => {
    const kits = await kitDays(app.fork(), TODAY);
    const ids = new Map(
      (await app.sql<{ id: string; unit: string }>('select id, unit from vehicle')).map(({ id, unit }) => [unit, id]),
    );
    const depots = new Map(
      (await app.sql<{ id: string; name: string }>('select id, name from depot')).map(({ id, name }) => [name, id]),
    );
    const there = kits(new Map(lent(plan).map(({ unit, depot }) => [ids.get(unit) ?? '', depots.get(depot) ?? ''])));
    for (const { unit, axles, date } of lent(plan))
      for (const axle of axles)
        expect(there.get(`${ids.get(unit)}/${axle}`)).toBeLessThanOrEqual(dayNumber(date) - dayNumber(TODAY));
    // Shelves are a depot's: what lies there at one has to be ordered at another.
    const all = [...ids.values()];
    const at = [...depots.values()].map((depot) => kits(new Map(all.map((vehicle) => [vehicle, depot]))));
    const differ = [...(at[0] ?? [])].filter(([key, day]) => at.some((other) => other.get(key) !== day));
    expect(differ.length).toBeGreaterThan(0);
  });

  it('waits for the kit of what its job will do, where that is known: rotors that lie nowhere come later than pads that do', async () => {
    const kits = await kitDays(app.fork(), TODAY);
    const usual = kits();
    const pads = [...usual].filter(([, day]) => day === 0).map(([key]) => key);
    const scoped = (...actions: JobAction[]) =>
      new Map(pads.map((key) => [key, actions.map((action) => ({ action, sides: 'both' as const }))]));
    expect(kits(undefined, scoped('pads', 'hardware', 'sensor'))).toEqual(usual);
    const more = kits(undefined, scoped('pads', 'hardware', 'sensor', 'rotors new'));
    const waits = pads.filter((key) => (more.get(key) ?? 0) > 0);
    expect(waits.length).toBeGreaterThan(0);
  });

  it('can be asked for: at another depot whatever it costs, or at its own', async () => {
    const item = firstLent(plan);
    const other = plan.items.find(
      ({ depot, lentFrom, locked }) => depot === 'Northfold' && lentFrom === null && !locked,
    );
    if (!other) throw new Error('Northfold does nothing of its own');
    const asked = await propose({
      doneAt: [
        { unit: item.unit, depot: item.lentFrom },
        { unit: other.unit.toLowerCase(), depot: 'Saltmarsh depot' },
      ],
    });
    const placesOf = (unit: string) => [
      ...new Set(asked.items.filter((one) => one.unit === unit).map(({ depot }) => depot)),
    ];
    expect(placesOf(item.unit)).toEqual([item.lentFrom]);
    expect(placesOf(other.unit)).toEqual(['Saltmarsh depot']);
    expect(asked.cost).toBeGreaterThan(plan.cost ?? Infinity);
    plan = await propose();
    expect(lent(plan).map(app.keyOf)).toContain(app.keyOf(item));
  });

  const unitOf = async (sql: string) => (await app.sql<{ unit: string }>(sql))[0]?.unit ?? '';
  it.each([
    ['a unit that is not', async () => ({ unit: 'X99', depot: 'Northfold' }), 'doneAt.0.unit'],
    ['a depot that is not planned', async () => ({ unit: firstLent(plan).unit, depot: 'Nowhere' }), 'doneAt.0.depot'],
    [
      'one that may not be driven',
      async () => ({
        unit: await unitOf(
          `select v.unit from defect d join vehicle v on v.id = d.vehicle_id join depot y on y.id = v.depot_id
           where d.severity = 'do not drive' and y.name = 'Creamery yard' and not exists (select 1 from job j
             where j.vehicle_id = v.id and j.state in ('booked', 'in work')) limit 1`,
        ),
        depot: 'Northfold',
      }),
      'doneAt.0.unit',
    ],
    [
      'one that is booked by hand at its own',
      async () => ({
        unit: await unitOf(
          `select v.unit from job j join vehicle v on v.id = j.vehicle_id join depot y on y.id = v.depot_id
           where j.state = 'booked' and y.name = 'Creamery yard' limit 1`,
        ),
        depot: 'Northfold',
      }),
      'doneAt.0.unit',
    ],
  ])('is refused for %s', async (_what, wish, field) => {
    const answer = await app.coordinator.post('/api/plans').send({ id: randomUUID(), doneAt: [await wish()] });
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('is refused without a way, and where its own depot is not planned', async () => {
    const { unit, lentFrom, depot } = firstLent(plan);
    const ask = async (depots: unknown[]) =>
      app.coordinator.post('/api/plans').send({ id: randomUUID(), depots, doneAt: [{ unit, depot }] });
    const alone = await ask([depot]);
    expect([alone.status, fieldsOf(alone)]).toEqual([422, ['doneAt.0.unit']]);
    await stateWays([]);
    const without = await ask([depot, lentFrom]);
    expect([without.status, fieldsOf(without)]).toEqual([422, ['doneAt.0.depot']]);
    await stateWays(terms.travel);
  });
});

describe('once such a plan is published', () => {
  it('their jobs are the other depot’s: on its board, in its calendar, told to who works there', async () => {
    await app.publish(plan).expect(201);
    const item = firstLent(await published(), ({ jobId }) => jobId !== null);
    const [job] = await app.sql<{ depot: string }>(
      'select d.name as depot from job j join depot d on d.id = j.depot_id where j.id = ?',
      [item.jobId],
    );
    expect(job?.depot).toBe(item.depot);
    const board = (await app.viewer.get('/api/day-board').query({ depot: item.depot, date: item.date }).expect(200))
      .body as DayBoard;
    expect(board.jobs.map(({ unit }) => unit)).toContain(item.unit);
    const link = await app.coordinator
      .post('/api/calendar-links')
      .send({ id: randomUUID(), kind: 'depot', of: item.depot })
      .expect(201);
    const { text } = await app.viewer.get((link.body as { path: string }).path).expect(200);
    expect(text).toContain(item.unit);
    const mails = await app.sql<{ body: string }>('select body from mail');
    expect(mails.some(({ body }) => body.includes(`${item.depot}:`) && body.includes(item.unit))).toBe(true);
    // At home it is told where the vehicle is.
    const lines = mails.flatMap(({ body }) => body.split('\n'));
    expect(lines.some((line) => line.includes(item.unit) && line.endsWith(`, at ${item.depot}`))).toBe(true);
  });

  it('nothing of it no longer holds, and a plan that follows leaves them where they are', async () => {
    // A booked job's own kit is known, which may not be there where the usual one is: settled first.
    await app.publish(await propose()).expect(201);
    const now = await published();
    expect(lent(now).length).toBeGreaterThan(0);
    const { items } = (await app.viewer.get(`/api/plans/${now.id}/holds`).expect(200)).body as PlanHolds;
    expect(items.filter(({ what }) => !what.includes('came due since'))).toEqual([]);
    const again = await propose();
    // Their kits are on the shelves of the depot that does them.
    const elsewhere = new Set(lent(now).map(({ unit }) => unit));
    expect(items.filter(({ unit }) => unit !== null && elsewhere.has(unit))).toEqual([]);
    const before = new Map(lent(now).map((one) => [app.keyOf(one), one.depot]));
    const stayed = lent(again).filter((one) => before.get(app.keyOf(one)) === one.depot);
    expect(stayed.length).toBe(before.size);
    expect(again.items.filter(({ moved, why }) => moved !== null && !why[0]?.includes('kit is not there'))).toEqual([]);
  });

  it('a depot planned by itself leaves its lent vehicles to the other, and keeps those it has', async () => {
    const now = await published();
    const item = firstLent(now);
    const own = await propose({ depots: [item.lentFrom] });
    expect(own.items.map(({ unit }) => unit)).not.toContain(item.unit);
    const other = await propose({ depots: [item.depot] });
    expect(other.items.filter(({ unit }) => unit === item.unit).map(({ lentFrom }) => lentFrom)).toContain(
      item.lentFrom,
    );
    await app.publish(await app.planOf(own.id)).expect(201);
    const after = await published();
    const places = after.items.filter(({ unit }) => unit === item.unit).map(({ depot }) => depot);
    expect([...new Set(places)]).toEqual([item.depot]);
    // The next one of both knows it still.
    const both = await propose();
    expect(both.items.filter(({ unit }) => unit === item.unit).every(({ depot }) => depot === item.depot)).toBe(true);
  });

  it('one that a person then books on another day stays there', async () => {
    const item = firstLent(await published(), ({ jobId }) => jobId !== null);
    const day = (await published()).depots.find(({ depot }) => depot === item.depot)?.days.at(6)?.date ?? '';
    const { revision } = (
      await app.sql<{ revision: number }>('select revision from job where id = ?', [item.jobId])
    )[0] ?? {
      revision: NaN,
    };
    await app.coordinator
      .post(`/api/jobs/${item.jobId}/moves`)
      .send({ id: randomUUID(), verb: 'book', day, revision })
      .expect(201);
    const next = await propose();
    const stays = next.items.find((one) => one.unit === item.unit && one.locked);
    expect(stays).toMatchObject({ depot: item.depot, date: day, lentFrom: item.lentFrom });
    const alone = await propose({ depots: [item.lentFrom] });
    expect(alone.items.map(({ unit }) => unit)).not.toContain(item.unit);
  });

  it('without a way any more the others come home, and their jobs with them', async () => {
    const before = await published();
    const item = firstLent(
      before,
      ({ jobId, unit }) => jobId !== null && before.items.some((one) => one.unit === unit && !one.locked),
    );
    await stateWays([]);
    const next = await propose();
    const home = lent(next).filter(({ locked }) => !locked);
    // What a person booked elsewhere is there still.
    const booked = new Set(next.items.filter(({ locked }) => locked).map(({ unit }) => unit));
    expect(home.filter(({ unit }) => !booked.has(unit))).toEqual([]);
    await app.publish(next).expect(201);
    const jobs = await app.sql<{ unit: string; home: boolean; state: string }>(
      `select v.unit, j.depot_id = v.depot_id as home, j.state from job j join vehicle v on v.id = j.vehicle_id where j.state = 'booked'`,
    );
    for (const { unit, home: own } of jobs) expect([unit, own]).toEqual([unit, !booked.has(unit) || own]);
    expect(jobs.some(({ unit, home: own }) => unit !== item.unit && own)).toBe(true);
    await stateWays(terms.travel);
  });
});

it('a depot whose vehicles all went elsewhere has no visit of the plan before', async () => {
  const next = await propose();
  const left = next.items.find(({ lentFrom }) => lentFrom === null)?.depot ?? '';
  expect((await published()).items.some(({ depot }) => depot === left)).toBe(true);
  await app.sql('delete from plan_visit where plan_id = ? and depot_id = (select id from depot where name = ?)', [
    next.id,
    left,
  ]);
  await app.publish(next).expect(201);
  expect((await published()).items.filter(({ depot }) => depot === left)).toEqual([]);
  await app.publish(await propose()).expect(201);
});

describe('a depot’s calendar', () => {
  const feedOf = async (depot: string) => {
    const link = await app.coordinator
      .post('/api/calendar-links')
      .send({ id: randomUUID(), kind: 'depot', of: depot })
      .expect(201);
    const { path } = link.body as { path: string };
    return async () => {
      const { text } = await app.viewer.get(path).expect(200);
      const events = text.replaceAll('\r\n ', '').split('BEGIN:VEVENT').slice(1);
      return new Map(events.map((one) => [/UID:(\S+)/.exec(one)?.[1] ?? '', /STATUS:(\S+)/.exec(one)?.[1] ?? '']));
    };
  };

  it('has as cancelled what another depot does since, which has it in its own under the same name', async () => {
    const before = await published();
    const home = new Map(before.items.map((one) => [app.keyOf(one), one.depot]));
    // Who may work on air brakes there is ill for long: what could come home before goes now.
    await app.coordinator
      .post('/api/absences')
      .send({ id: randomUUID(), kind: 'person', of: 'Dag Pellworth', from: TODAY, to: '2027-04-30', reason: 'ill' })
      .expect(201);
    const next = await propose();
    const item = firstLent(next, (one) => home.get(app.keyOf(one)) === one.lentFrom);
    const [own, other] = [await feedOf(item.lentFrom ?? ''), await feedOf(item.depot)];
    const was = await own();
    await app.publish(next).expect(201);
    const [left, came] = [await own(), await other()];
    for (const uid of was.keys()) expect(left.has(uid)).toBe(true);
    const moved = [...left].filter(([uid, status]) => status === 'CANCELLED' && was.get(uid) === 'CONFIRMED');
    const there = moved.filter(([uid]) => came.get(uid) === 'CONFIRMED');
    expect(there.length).toBeGreaterThan(0);
  });
});
