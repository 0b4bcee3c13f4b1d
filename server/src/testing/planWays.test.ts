import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { Shop } from '@mile-mark/contract/plan';
import { fieldsOf } from './partsApp.ts';
import { createPlanApp, type PlanApp } from './planApp.ts';

let app: PlanApp;
beforeAll(async () => {
  app = await createPlanApp({ ways: true });
}, 240_000);
afterAll(async () => app.test.close());

const shop = async () => (await app.coordinator.get('/api/shop').expect(200)).body as Shop;
const stateWays = async (travel: unknown) => {
  const { by: _by, on: _on, ...now } = (await shop()).terms;
  return app.coordinator.put('/api/plan-terms').send({ ...now, travel });
};

describe('ways between depots', () => {
  it.each([
    ['a depot that is not', [{ between: ['Nowhere', 'Northfold'], hours: 1, costMinor: 1 }], 'travel.0.between.0'],
    ['one depot twice', [{ between: ['Northfold', 'Northfold'], hours: 1, costMinor: 1 }], 'travel.0.between'],
    ['hours below nought', [{ between: ['Creamery yard', 'Northfold'], hours: -1, costMinor: 1 }], 'travel.0.hours'],
    [
      'the same two twice',
      [
        { between: ['Creamery yard', 'Northfold'], hours: 1, costMinor: 1 },
        { between: ['Northfold', 'Creamery yard'], hours: 2, costMinor: 1 },
      ],
      'travel',
    ],
  ])('are refused with %s', async (_what, travel, field) => {
    const answer = await stateWays(travel);
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('go along with a depot that is called otherwise', async () => {
    const [depot] = await app.sql<{ id: string }>(`select id from depot where name = 'Northfold'`);
    await app.sql(`update depot set name = 'Northfold yard' where id = ?`, [depot?.id]);
    const names = (await shop()).terms.travel.flatMap(({ between }) => between);
    expect(names).toContain('Northfold yard');
    expect(names).not.toContain('Northfold');
    await app.sql(`update depot set name = 'Northfold' where id = ?`, [depot?.id]);
  });
});
