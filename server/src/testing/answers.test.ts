import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import { callersOf, type Endpoint, ENDPOINTS, type Role } from '@mile-mark/contract';
import { computePool } from '../compute.ts';
import { fillDemo } from '../demo/fill.ts';
import { refreshFleet } from '../features/forecasts/jobs/refresh.ts';
import { planParts } from '../features/parts/index.ts';
import { solveDepot } from '../features/plan/jobs/solve.ts';
import { localComputer, createTestApp, fillSmallFleet, type TestApp, TODAY } from './app.ts';

/**
 * What the API describes is what it answers: every route that reads, for every role that may call it, gives exactly
 * the fields of its schema: none is missing, none is more (a hash of a password would be one). Walked with nothing on
 * record, with a fleet nobody measured yet, and with the demo's whole history.
 */
const READING = Object.entries<Endpoint>(ENDPOINTS).filter(
  ([, { method, contentType, response, path }]) =>
    method === 'get' && contentType === undefined && 'parse' in response && path !== '/api/openapi.json',
);
/** The table of what `{id}` or `{unit}` stands for, by the part of the path before it. */
const TABLES: Record<string, string> = {
  vehicles: 'vehicle',
  models: 'model',
  depots: 'depot',
  imports: 'import_batch',
  studies: 'gauge_study',
  specifications: 'specification',
  jobs: 'job',
  plans: 'plan',
};
/** What a route needs to be told besides its path: a duty, a part and a depot that are on record at that stage. */
const asked = async (name: string, test: TestApp): Promise<Record<string, string>> => {
  if (name === 'demand') return { part: 'PD-OC3-1', depot: 'Northfold' };
  if (name === 'axleKits') return { unit: 'T01' };
  if (name === 'modelKits') return { model: 'Ostrey Carrier 35' };
  if (name === 'dayBoard') return { depot: 'Northfold' };
  if (name !== 'dutyPreview') return {};
  const [duty] = await test.orm.em.fork().execute<{ name: string }[]>('select name from duty order by name limit 1');
  return { duty: duty?.name ?? '', from: TODAY };
};
const OF_SOMETHING = ['demand', 'axleKits', 'modelKits', 'dayBoard'];
const named = (path: string) => /\/(\w+)\/\{/.exec(path)?.[1];
const MOST_IDS = 5;

/** A complete study of two parts, two people, two trials. */
const STUDY = [
  'part,technician,trial,value',
  ...['a', 'b'].flatMap((part, i) =>
    ['Ash', 'Birch'].flatMap((technician, j) =>
      [1, 2].map((trial) => `${part},${technician},${trial},${8 + i + j / 10 + trial / 20}`),
    ),
  ),
].join('\n');

interface Stage {
  /** What there is to be named in a path. */
  there: readonly string[];
  fill: (test: TestApp) => Promise<void>;
}

const STAGES: Record<string, Stage> = {
  'nothing on record': { there: [], fill: async () => undefined },
  'a fleet nobody measured yet': {
    there: ['vehicles', 'models', 'depots', 'imports'],
    fill: async (test) => {
      await fillSmallFleet(test);
    },
  },
  'a fleet with its history': {
    there: Object.keys(TABLES),
    fill: async (test) => {
      await fillSmallFleet(test);
      await fillDemo(test.orm.em.fork(), 20);
      await (
        await test.as('coordinator')
      )
        .post('/api/studies/imports')
        .send({ id: randomUUID(), name: 'Two pads', csv: STUDY, referenced: false })
        .expect(201);
      await refreshFleet(test.orm.em.fork(), localComputer(), TODAY);
      await planParts(test.orm.em.fork(), computePool(0), TODAY);
      const planId = randomUUID();
      const coordinator = await test.as('coordinator');
      await coordinator.post('/api/plans').send({ id: planId, seconds: 1 }).expect(201);
      const fork = () => test.orm.em.fork();
      for (const { depot_id: depotId } of await fork().execute<{ depot_id: string }[]>(
        'select depot_id from plan_depot',
      ))
        await solveDepot(fork, computePool(0), { planId, depotId }, TODAY, new AbortController().signal);
      for (const [kind, of] of [
        ['depot', 'Northfold'],
        ['vehicle', 'V05'],
      ])
        await coordinator.post('/api/calendar-links').send({ id: randomUUID(), kind, of }).expect(201);
    },
  },
};

describe.each(Object.entries(STAGES))('with %s', (_stage, { there, fill }) => {
  let test: TestApp;
  const clients = new Map<Role, ReturnType<typeof supertest.agent>>();
  beforeAll(async () => {
    test = await createTestApp();
    await fill(test);
    for (const role of ['coordinator', 'technician', 'parts keeper', 'viewer'] as const)
      clients.set(role, await test.as(role));
  }, 120_000);
  afterAll(async () => test.close());

  const pathsOf = async (path: string): Promise<string[]> => {
    const table = TABLES[named(path) ?? ''];
    if (!table) return [path];
    const column = path.includes('{unit}') ? 'unit' : 'id';
    const rows = await test.orm.em
      .fork()
      .execute<{ value: string }[]>(
        `select ${column} as value from ${table} order by md5(${column}::text) limit ${MOST_IDS}`,
      );
    return rows.map(({ value }) => path.replace(`{${column}}`, value));
  };
  // Of a part, a unit or a model that nobody has on record nothing is told.
  const walked = READING.filter(
    ([name, { path }]) =>
      (there.includes(named(path) ?? '') || !path.includes('{')) &&
      (!OF_SOMETHING.includes(name) || there.includes('jobs')),
  );

  it.each(walked)('%s answers as it is described', async (name, endpoint) => {
    const query = await asked(name, test);
    const roles = callersOf(endpoint) ?? ['viewer'];
    const paths = await pathsOf(endpoint.path);
    expect(paths.length).toBeGreaterThan(0);
    for (const path of paths)
      for (const role of roles) {
        const answer = await clients.get(role)?.get(path).query(query);
        expect([path, role, answer?.status]).toEqual([path, role, endpoint.status]);
        const read = endpoint.response.safeParse(answer?.body);
        expect([path, role, read.error?.issues ?? []]).toEqual([path, role, []]);
        expect(read.data).toEqual(answer?.body);
      }
  });
});
