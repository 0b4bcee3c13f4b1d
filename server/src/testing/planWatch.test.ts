import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Plan, PlanRow, Shop } from '@mile-mark/contract/plan';
import { watchPlan } from '../features/plan/jobs/watch.ts';
import { TODAY } from './app.ts';
import { createPlanApp, someItem, type PlanApp } from './planApp.ts';

let app: PlanApp;
let published: Plan;
const watch = () => watchPlan(app.fork(), TODAY);
const plans = async () => ((await app.coordinator.get('/api/plans').expect(200)).body as { items: PlanRow[] }).items;
const newest = async () => {
  const [row] = await plans();
  if (!row) throw new Error('there is no plan');
  return app.planOf(row.id);
};
const away = async (of: string, kind = 'person') => {
  const id = randomUUID();
  await app.coordinator
    .post('/api/absences')
    .send({ id, kind, of, from: TODAY, to: '2027-01-08', reason: 'found out since' })
    .expect(201);
  return async () => app.coordinator.delete(`/api/absences/${id}`).expect(200);
};
const mails = async () =>
  app.sql<{ subject: string; body: string }>(`select subject, body from mail where subject like 'A proposal%'`);
const drop = async ({ id, revision }: PlanRow) =>
  app.coordinator.post(`/api/plans/${id}/cancel`).send({ id: randomUUID(), revision }).expect(201);

beforeAll(async () => {
  app = await createPlanApp();
  expect(await watch()).toBe(false);
  await app.publish(await app.propose()).expect(201);
  await app.publish(await app.propose()).expect(201);
  published = await newest();
}, 240_000);
afterAll(async () => app.test.close());

describe('a published plan that no longer holds', () => {
  let back: () => Promise<unknown>;
  let made: Plan;

  it('is left alone while it holds', async () => {
    expect(await watch()).toBe(false);
    expect((await newest()).id).toBe(published.id);
  });

  it('has a proposal made, once, by one of two who look at the same moment', async () => {
    back = await away('Dag Pellworth');
    expect((await Promise.all([watch(), watch()])).sort()).toEqual([false, true]);
    made = await newest();
    expect(made).toMatchObject({ state: 'solving', byItself: true, askedBy: published.publishedBy });
    expect(made.because.length).toBeGreaterThan(0);
    expect(made.depots.map(({ depot }) => depot)).toEqual(published.depots.map(({ depot }) => depot));
    expect(await watch()).toBe(false);
  });

  it('is told of it once it is solved: what no longer holds, and that nothing moves without a person', async () => {
    await app.solve(made.id);
    await app.solve(made.id);
    made = await newest();
    expect(made.state).toBe('proposed');
    const told = await mails();
    expect(told).toHaveLength(1);
    for (const { what } of made.because) expect(told[0]?.body).toContain(what);
    expect(told[0]?.body).toContain('before you publish it');
    expect((await app.planOf(published.id)).state).toBe('published');
    // Another day, or an outside shop: of the depot that it is about, and of no other.
    const stands = new Set(
      published.items.map(({ unit, axles, date, outside }) => [unit, axles, date, outside].join()),
    );
    const other = made.items.filter(
      ({ unit, axles, date, outside }) => !stands.has([unit, axles, date, outside].join()),
    );
    expect([...new Set(other.map(({ depot }) => depot))]).toEqual(['Northfold']);
  });

  it('does not have the same made again, also where a person dropped it', async () => {
    expect(await watch()).toBe(false);
    await drop(made);
    expect(await watch()).toBe(false);
    expect((await plans()).filter(({ byItself }) => byItself)).toHaveLength(1);
  });

  it('has another made for what comes in besides, and it is dropped once all holds again', async () => {
    const more = await away('Creamery yard', 'depot');
    expect(await watch()).toBe(true);
    made = await newest();
    expect(made.because.map(({ depot }) => depot)).toContain('Creamery yard');
    await app.solve(made.id);
    await more();
    await back();
    expect(await watch()).toBe(false);
    expect((await app.planOf(made.id)).state).toBe('dropped');
  });

  it('has it made anew where the same comes once more', async () => {
    back = await away('Dag Pellworth');
    expect(await watch()).toBe(true);
    made = await newest();
    await app.solve(made.id);
  });

  it('has none made over what a person changed by hand, or proposed', async () => {
    made = await newest();
    const item = someItem(made);
    await app.coordinator
      .post(`/api/plans/${made.id}/locks`)
      .send({ id: randomUUID(), revision: made.revision, visitId: item.id, locked: true })
      .expect(201);
    const more = await away('Creamery yard', 'depot');
    expect(await watch()).toBe(false);
    expect((await app.planOf(made.id)).state).toBe('proposed');
    await drop(await app.planOf(made.id));
    const own = await app.propose({ depots: ['Northfold'] });
    expect(await watch()).toBe(false);
    await drop(own);
    expect(await watch()).toBe(true);
    await app.sql(`update plan set state = 'dropped' where state = 'solving'`);
    await more();
  });

  it('has none made where the shop does not want it', async () => {
    const { by: _by, on: _on, ...terms } = ((await app.coordinator.get('/api/shop').expect(200)).body as Shop).terms;
    await app.coordinator
      .put('/api/plan-terms')
      .send({ ...terms, proposesAnew: false })
      .expect(200);
    const more = await away('Saltmarsh depot', 'depot');
    expect(await watch()).toBe(false);
    await more();
    await back();
  });
});
