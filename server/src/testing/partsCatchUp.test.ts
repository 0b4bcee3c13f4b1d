import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { catchUpParts } from '../features/parts/index.ts';
import { createPartsApp, type PartsApp } from './partsApp.ts';

/** Parts are planned by themselves where forecasts were made since, and not over half of a fleet's. */

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

it('a plan is asked for once the whole fleet’s forecasts are made, and not while they are', async () => {
  const asked = async () => {
    const names: string[] = [];
    await catchUpParts(app.test.orm.em.fork(), async ({ name }) => names.push(name) > 0);
    return names;
  };
  expect(await asked()).toEqual(['plan-parts']);
  await app.sql(`insert into job_run (id, name, state) values (gen_random_uuid(), 'refresh-fleet', 'running')`);
  expect(await asked()).toEqual([]);
  await app.sql(`update job_run set state = 'lost', ended_at = now() where name = 'refresh-fleet'`);
  expect(await asked()).toEqual(['plan-parts']);
});
