import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Plan, PlanItem } from '@mile-mark/contract/plan';
import { createPlanApp, otherDay, someItem, type PlanApp } from './planApp.ts';

let app: PlanApp;
let first: Plan;
beforeAll(async () => {
  app = await createPlanApp();
  first = await app.propose();
}, 240_000);
afterAll(async () => app.test.close());

describe('a lock', () => {
  it('holds in the next proposal before anything is published, and stays off once it is taken off', async () => {
    const item = someItem(first, ({ date }) => date > '2027-01-15');
    const lock = async (plan: Plan, visit: PlanItem, locked: boolean) => {
      const body = { id: randomUUID(), revision: plan.revision, visitId: visit.id, locked };
      await app.coordinator.post(`/api/plans/${plan.id}/locks`).send(body).expect(201);
      return app.planOf(plan.id);
    };
    const same = (plan: Plan, visit: PlanItem) => plan.items.find((one) => app.keyOf(one) === app.keyOf(visit));
    first = await lock(first, item, true);
    const next = await app.propose({ depots: [item.depot] });
    expect(same(next, item)).toMatchObject({ locked: true, date: item.date });
    await app.coordinator.post(`/api/plans/${next.id}/cancel`).send({ id: randomUUID() }).expect(201);
    const held = same(first, item);
    if (!held) throw new Error('the visit is gone');
    first = await lock(first, held, false);
    // A change elsewhere does not lock again what was freed, a job's own lock included.
    const booked = first.items.find((one) => one.locked);
    if (!booked) throw new Error('nothing is locked');
    first = await lock(first, booked, true);
    first = await lock(first, same(first, booked) ?? booked, false);
    const other = someItem(first, (one) => one.depot === booked.depot && one.unit !== booked.unit);
    const move = { unit: other.unit, axles: other.axles, date: otherDay(first, other), lock: false };
    await app.coordinator
      .post(`/api/plans/${first.id}/moves`)
      .send({ id: randomUUID(), revision: first.revision, ...move })
      .expect(201);
    first = await app.planOf(first.id);
    expect(same(first, booked)?.locked).toBe(false);
    for (let i = 0; i < 3; i += 1) {
      await app.coordinator
        .post(`/api/plans/${first.id}/undo`)
        .send({ id: randomUUID(), revision: first.revision })
        .expect(201);
      first = await app.planOf(first.id);
    }
    expect(same(first, booked)?.locked).toBe(true);
  });
});

describe('calendars', () => {
  it('have what a person booked, before any plan is published and while one is only proposed', async () => {
    const made = await app.coordinator
      .post('/api/calendar-links')
      .send({ id: randomUUID(), kind: 'depot', of: 'Creamery yard' })
      .expect(201);
    const text = (await app.viewer.get((made.body as { path: string }).path).expect(200)).text;
    const booked = await app.sql<{ unit: string }>(
      `select v.unit from job j join vehicle v on v.id = j.vehicle_id join depot d on d.id = j.depot_id
       where d.name = 'Creamery yard' and j.state = 'booked'`,
    );
    expect(booked.length).toBeGreaterThan(0);
    for (const { unit } of booked) expect(text).toContain(`SUMMARY:${unit}: brakes`);
    expect(text.match(/^UID:/gm)?.length).toBe(new Set(text.match(/^UID:.*$/gm)).size);
  });
});

describe('a plan that was proposed days ago', () => {
  it('is published all the same: what was for a day that is past is nobody’s booking', async () => {
    const item = someItem(first, ({ date, jobId }) => date <= '2026-12-18' && jobId === null);
    await app.sql(`update plan_visit set day = '2026-11-19' where id = ?`, [item.id]);
    await app.publish(first).expect(201);
    const [job] = await app.sql(
      `select 1 from job j join vehicle v on v.id = j.vehicle_id where v.unit = ? and j.day = '2026-11-19'`,
      [item.unit],
    );
    expect(job).toBeUndefined();
  });
});
