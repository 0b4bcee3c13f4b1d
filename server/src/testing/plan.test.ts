import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Plan, PlanHolds, PlanItem, PlanTried, Shop } from '@mile-mark/contract/plan';
import { brokenInWords } from '@mile-mark/contract/words';
import { weighPlan } from '@mile-mark/core/plan';
import { sendMails } from '../features/plan/jobs/mail.ts';
import { solveDepot } from '../features/plan/jobs/solve.ts';
import { keptProblem, plannedOf, visitsOf } from '../features/plan/visits.ts';
import { mailStandIn } from '@mile-mark/standins';
import { TODAY } from './app.ts';
import { fieldsOf } from './partsApp.ts';
import { createPlanApp, otherDay, someItem, type PlanApp } from './planApp.ts';

let app: PlanApp;
let first: Plan;
beforeAll(async () => {
  app = await createPlanApp();
  // A booked job's own kit is known, which may not be there where the usual one is: here all are.
  await app.fillShelves();
  first = await app.propose({ seconds: 30, gap: 0.015 });
}, 240_000);
afterAll(async () => app.test.close());

describe('a proposed plan', () => {
  it('is whole: every depot solved, a gap proved, compared with what a shop would do otherwise', () => {
    expect(first).toMatchObject({ state: 'proposed', failure: null, againstPublished: null });
    expect(first.depots.map(({ state }) => state)).toEqual(['done', 'done', 'done']);
    expect(first.provedGap).toBeLessThanOrEqual(0.02);
    expect(first.againstEarliestDueFirst).toBeLessThan(1);
    expect(first.againstFixedInterval).toBeLessThan(1);
  });

  it('costs what its problem says, worked out without the solver’s tables, and breaks nothing', async () => {
    let cost = 0;
    for (const { depot_id } of await app.sql<{ depot_id: string }>(
      'select depot_id from plan_depot where plan_id = ?',
      [first.id],
    )) {
      const kept = await keptProblem(app.fork(), first.id, depot_id);
      if (!kept) throw new Error('a depot was not kept');
      const weighed = weighPlan(kept.problem, plannedOf(await visitsOf(app.fork(), first.id, depot_id), kept.dates));
      // Only a lock may break anything: it is a promise.
      const locks = kept.problem.vehicles.flatMap(({ lock }) => lock?.day ?? []);
      expect(weighed.broken.filter(({ day }) => !locks.includes(day))).toEqual([]);
      cost += weighed.cost;
    }
    expect(first.cost).toBeCloseTo(cost, 6);
    expect(Object.values(first.shares ?? {}).reduce((sum, share) => sum + share, 0)).toBeCloseTo(cost, 6);
  });

  it('has each axle at most once, on days on which its shop works, with a bay of its kind and its reasons', () => {
    const seen = first.items.flatMap(({ unit, axles }) => axles.map((axle) => `${unit}/${axle}`));
    expect(new Set(seen).size).toBe(seen.length);
    for (const item of first.items) {
      const days = first.depots.find(({ depot }) => depot === item.depot)?.days ?? [];
      expect(days.map(({ date }) => date)).toContain(item.date);
      expect(item.outside ? item.bay : (item.bay ?? '')).toBe(
        item.outside ? null : item.class === 'heavy' ? 'Bay 1' : 'Bay 2',
      );
      expect(item.why.length).toBeGreaterThanOrEqual(item.axles.length);
    }
  });

  it('keeps what a person booked on its day', async () => {
    const booked = await app.sql<{ unit: string; day: string }>(
      `select v.unit, j.day::text from job j join vehicle v on v.id = j.vehicle_id where j.state = 'booked'`,
    );
    expect(booked.length).toBeGreaterThan(0);
    for (const { unit, day } of booked) {
      const item = first.items.find((one) => one.unit === unit && one.locked);
      if (day >= TODAY) expect([unit, item?.date]).toEqual([unit, day]);
    }
  });

  it('is for those who may: others read it, and are refused the rest', async () => {
    await app.viewer.get(`/api/plans/${first.id}`).expect(200);
    const body = { id: randomUUID() };
    for (const who of [app.viewer, app.technician]) {
      await who.post('/api/plans').send(body).expect(403);
      await who.post(`/api/plans/${first.id}/publish`).send(body).expect(403);
      await who.post('/api/absences').send(body).expect(403);
    }
  });

  it.each([
    ['a day that is past', { fromDate: '2026-11-01' }, 'fromDate'],
    ['no week', { weeks: 0 }, 'weeks'],
    ['a depot that is not', { depots: ['Nowhere'] }, 'depots.0'],
    ['a vehicle that is not', { urgent: [{ unit: 'X99', axles: [1] }] }, 'urgent.0.unit'],
    ['an axle that is not', { urgent: [{ unit: 'V05', axles: [5] }] }, 'urgent.0.axles'],
  ])('is refused for %s', async (_what, over, field) => {
    const answer = await app.coordinator.post('/api/plans').send({ id: randomUUID(), ...over });
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });
});

describe('moving a visit by hand', () => {
  const tried = async (plan: Plan, item: PlanItem, date: string) =>
    app.coordinator.post('/api/plans/try').send({ planId: plan.id, unit: item.unit, axles: item.axles, date });

  it('is told beforehand what it costs and breaks, and nothing has changed', async () => {
    const item = someItem(first);
    const answer = (await tried(first, item, otherDay(first, item)).then((one) => one.body)) as PlanTried;
    expect(Object.values(answer.shares).reduce((sum, share) => sum + share, 0)).toBeCloseTo(answer.difference, 6);
    // The plan is within its proved gap of the best: no single move that breaks nothing can gain more than that.
    if (answer.breaks.length === 0)
      expect(answer.difference).toBeGreaterThan(-(first.provedGap ?? 0) * (first.cost ?? 0) - 1e-6);
    expect(await app.planOf(first.id)).toEqual(first);
  });

  it('costs what was told, is locked, and can be taken back', async () => {
    const item = someItem(first);
    const date = otherDay(first, item);
    const told = (await tried(first, item, date)).body as PlanTried;
    const move = { id: randomUUID(), revision: first.revision, unit: item.unit, axles: item.axles, date };
    await app.coordinator.post(`/api/plans/${first.id}/moves`).send(move).expect(201);
    // The same again is the same.
    await app.coordinator.post(`/api/plans/${first.id}/moves`).send(move).expect(201);
    const after = await app.planOf(first.id);
    expect((after.cost ?? 0) - (first.cost ?? 0)).toBeCloseTo(told.difference, 6);
    const moved = after.items.find((one) => app.keyOf(one) === app.keyOf(item));
    expect(moved).toMatchObject({ date, locked: true, byHand: true });
    expect(after).toMatchObject({ canUndo: true, revision: first.revision + 1 });
    const older = await app.coordinator
      .post(`/api/plans/${first.id}/moves`)
      .send({ ...move, id: randomUUID(), date: item.date });
    expect(older.status).toBe(409);
    await app.coordinator
      .post(`/api/plans/${first.id}/undo`)
      .send({ id: randomUUID(), revision: after.revision })
      .expect(201);
    const back = await app.planOf(first.id);
    const bare = ({ id: _id, ...rest }: PlanItem) => rest;
    expect(back.items.map(bare)).toEqual(first.items.map(bare));
    expect(back.cost).toBeCloseTo(first.cost ?? 0, 6);
    first = back;
  });

  it.each([
    ['a Sunday', '2026-11-29', 'date'],
    ['a day after the plan', '2028-01-04', 'date'],
  ])('onto %s is refused with what is accepted', async (_what, date, field) => {
    const answer = await tried(first, someItem(first), date);
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
    expect(answer.body.errors[0].message).toMatch(/a working day from \d{4}/);
  });

  it('says what it breaks: the vehicle away, the kit not there, the hours', async () => {
    const all = new Set<string>();
    for (const item of first.items.filter(({ locked }) => !locked).slice(0, 12))
      for (const { date } of first.depots.find(({ depot }) => depot === item.depot)?.days.slice(0, 3) ?? [])
        for (const text of ((await tried(first, item, date)).body as PlanTried).breaks)
          all.add(text.replace(/\d+/g, '#'));
    expect(all.size).toBeGreaterThan(0);
  });
});

describe('publishing', () => {
  it('books what begins soon, tells those concerned, once; the other of two at once is told', async () => {
    const answers = await Promise.all([app.publish(first), app.publish(first)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const done = answers.find(({ status }) => status === 201)?.body as { booked: number; told: number };
    const plan = await app.planOf(first.id);
    expect(plan.state).toBe('published');
    const soon = plan.items.filter(({ date, jobId }) => date <= '2026-12-18' && jobId !== null);
    expect(soon.length).toBeGreaterThanOrEqual(done.booked);
    const jobs = await app.sql<{ id: string; day: string }>(`select id, day::text from job where state = 'booked'`);
    for (const { jobId, date } of plan.items.filter((one) => one.jobId !== null))
      expect(jobs.find(({ id }) => id === jobId)?.day ?? date).toBe(date);
    const mails = await app.sql<{ n: number }>('select count(*)::int as n from mail');
    expect(mails[0]?.n).toBe(done.told);
  });

  it('mails arrive once, though the service does not answer for each', async () => {
    const service = await mailStandIn({ seed: 4, failing: 0.5 });
    try {
      await app.sql(
        `insert into mail (id, person_id, subject, body) select gen_random_uuid(), id, 'The plan', 'P12 moved' from person where email is not null`,
      );
      const waiting = async () =>
        (await app.sql<{ n: number }>('select count(*)::int as n from mail where sent_at is null'))[0]?.n ?? 0;
      const there = await waiting();
      for (let i = 0; i < 12 && (await waiting()) > 0; i += 1)
        await sendMails(app.fork(), service.url).catch(() => undefined);
      expect([await waiting(), service.taken().length]).toEqual([0, there]);
    } finally {
      await service.close();
    }
  });

  it('a plan that follows moves what can’t stay and nothing else, and publishes to the same', async () => {
    const again = await app.propose();
    expect(again.items.filter((item) => item.moved !== null)).toEqual([]);
    expect(again.gone).toEqual([]);
    await app.publish(again).expect(201);
    first = await app.planOf(again.id);
    const third = await app.propose();
    expect(third.items.filter((item) => item.moved !== null)).toEqual([]);
    // Staying is what it does.
    expect(Math.abs(third.againstPublished?.saves ?? NaN)).toBeLessThan(0.01 * (third.cost ?? 0));
  });
});

describe('what comes in between', () => {
  const shop = async () => (await app.coordinator.get('/api/shop').expect(200)).body as Shop;

  it('a technician falls ill: nobody is booked on what only that one may do, and each move is told', async () => {
    const before = await app.planOf(first.id);
    const id = randomUUID();
    await app.coordinator
      .post('/api/absences')
      .send({ id, kind: 'person', of: 'Dag Pellworth', from: TODAY, to: '2027-01-08', reason: 'ill' })
      .expect(201);
    const plan = await app.propose();
    const air = plan.items.filter(
      (item) => item.depot === 'Northfold' && item.class === 'heavy' && item.date <= '2027-01-08' && !item.locked,
    );
    expect(air.filter(({ outside }) => !outside)).toEqual([]);
    // Staying with the plan of before would break the hours that are not there.
    expect(plan.againstPublished?.breaks).toBeGreaterThan(before.againstPublished?.breaks ?? 0);
    const moved = plan.items.filter((item) => item.moved !== null);
    for (const item of moved)
      expect(before.items.find((one) => app.keyOf(one) === app.keyOf(item))?.date).toBe(item.moved);
    // Other depots have nothing to do with it.
    expect(moved.filter(({ depot }) => depot !== 'Northfold')).toEqual([]);
    await app.coordinator.delete(`/api/absences/${id}`).expect(200);
    expect((await shop()).absences.map((one) => one.id)).not.toContain(id);
  });

  it('what the published plan can no longer keep is named, and nothing where nothing came in between', async () => {
    const { body: list } = await app.coordinator.get('/api/plans').expect(200);
    const { items: plans } = list as { items: { id: string; state: string }[] };
    const id = plans.find(({ state }) => state === 'published')?.id ?? '';
    const holds = async () => ((await app.viewer.get(`/api/plans/${id}/holds`).expect(200)).body as PlanHolds).items;
    const before = await holds();
    const plan = await app.planOf(id);
    const item = someItem(plan, (one) => one.depot === 'Northfold' && one.jobId === null && one.date > '2027-01-15');
    const whileAway = async <T>(kind: string, of: string, then: () => Promise<T>) => {
      const absence = { id: randomUUID(), kind, of, from: item.date, to: item.date, reason: 'found out since' };
      await app.coordinator.post('/api/absences').send(absence).expect(201);
      const found = await then();
      await app.coordinator.delete(`/api/absences/${absence.id}`).expect(200);
      return found;
    };
    const away = async (kind: string, of: string) =>
      (await whileAway(kind, of, holds)).filter(({ what }) => !before.some((one) => one.what === what));
    expect(await away('vehicle', item.unit)).toEqual([
      { depot: 'Northfold', date: item.date, unit: item.unit, what: brokenInWords('closed', item.unit, item.date) },
    ]);
    expect(await away('depot', 'Northfold')).toContainEqual({
      depot: 'Northfold',
      date: item.date,
      unit: item.unit,
      what: brokenInWords('shut', item.unit, item.date),
    });
    // Planned anew while the shop is shut, it is said why the visit left.
    const anew = await whileAway('depot', 'Northfold', () => app.propose({ depots: ['Northfold'] }));
    const left = anew.items.find((one) => app.keyOf(one) === app.keyOf(item));
    expect(left?.moved).toBe(item.date);
    expect(left?.why[0]).toContain(`Nobody works on brakes on`);
    // Nothing stays behind, and of a plan that is not the one that counts nothing is said.
    expect(await holds()).toEqual(before);
    const dropped = plans.find(({ state }) => state !== 'published')?.id ?? '';
    expect((await app.viewer.get(`/api/plans/${dropped}/holds`).expect(200)).body).toEqual({ items: [] });
    await app.viewer.get(`/api/plans/${randomUUID()}/holds`).expect(404);
    expect(before.filter(({ what }) => !what.includes('came due since'))).toEqual([]);
  });

  it('an emergency is placed on the first working day, whatever it moves', async () => {
    const published = await app.planOf(first.id);
    const later = someItem(published, ({ date, jobId }) => date > '2027-01-15' && jobId === null);
    const plan = await app.propose({ urgent: [{ unit: later.unit, axles: later.axles }] });
    const item = plan.items.find((one) => app.keyOf(one) === app.keyOf(later));
    const days = plan.depots.find(({ depot }) => depot === later.depot)?.days;
    expect(item).toMatchObject({ date: days?.[0]?.date, locked: true, moved: later.date });
  });

  it('a vehicle that comes in for other work is done with it where that pays, and it is said', async () => {
    const published = await app.planOf(first.id);
    const item = someItem(published, ({ date, jobId, outside }) => date > '2027-01-15' && jobId === null && !outside);
    const day = otherDay(published, item);
    const id = randomUUID();
    await app.coordinator
      .post('/api/absences')
      .send({ id, kind: 'vehicle', of: item.unit, from: day, to: day, reason: 'inspection', comesIn: true })
      .expect(201);
    const tried = (
      await app.coordinator.post('/api/plans/try').send({
        planId: (await app.propose({ depots: [item.depot] })).id,
        unit: item.unit,
        axles: item.axles,
        date: day,
      })
    ).body as PlanTried;
    expect(tried.shares.visits).toBeLessThanOrEqual(0);
    await app.coordinator.delete(`/api/absences/${id}`).expect(200);
  });

  it('a depot without people says what is missing, and the others are planned all the same', async () => {
    const { depots } = await shop();
    const own = depots.find(({ depot }) => depot === 'Northfold');
    if (!own) throw new Error('no Northfold');
    const { depot: _d, timeZone: _z, by: _b, on: _o, ...week } = own;
    await app.coordinator
      .put('/api/shop/Northfold')
      .send({ ...week, people: [] })
      .expect(200);
    const plan = await app.propose();
    expect(plan.depots.find(({ depot }) => depot === 'Northfold')).toMatchObject({ state: 'failed' });
    expect(plan.depots.find(({ depot }) => depot === 'Northfold')?.failure).toContain(
      'nobody is said to work at Northfold',
    );
    expect(plan.depots.filter(({ state }) => state === 'done')).toHaveLength(2);
    expect((await app.publish(plan)).status).toBe(409);
    const stale = await app.coordinator.put('/api/shop/Northfold').send(week);
    expect(stale.status).toBe(409);
    await app.coordinator
      .put('/api/shop/Northfold')
      .send({ ...week, revision: week.revision + 1 })
      .expect(200);
  });
});

describe('a depot is solved once', () => {
  it('by one of two who take it on; what a lost one brings late is not taken', async () => {
    const id = await app.ask({ depots: ['Northfold'], seconds: 1 });
    const [row] = await app.sql<{ depot_id: string }>('select depot_id from plan_depot where plan_id = ?', [id]);
    const at = { planId: id, depotId: row?.depot_id ?? '' };
    const never = new AbortController().signal;
    // The first is taken for dead while it works: its heartbeat is set back as it begins.
    const lost = solveDepot(app.fork, app.pool, at, TODAY, never);
    await app.sql(`update plan_depot set heartbeat_at = now() - interval '1 minute' where plan_id = ?`, [id]);
    const other = solveDepot(app.fork, app.pool, at, TODAY, never);
    await Promise.all([lost, other]);
    const plan = await app.planOf(id);
    expect(plan).toMatchObject({ state: 'proposed' });
    const keys = plan.items.flatMap(({ unit, axles }) => axles.map((axle) => `${unit}/${axle}`));
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('and stopping it keeps what there is', async () => {
    const id = await app.ask({ depots: ['Northfold'] });
    await app.coordinator.post(`/api/plans/${id}/cancel`).send({ id: randomUUID() }).expect(201);
    await app.solve(id);
    expect(await app.planOf(id)).toMatchObject({ state: 'failed', items: [] });
  });
});
