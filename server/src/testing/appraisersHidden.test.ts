import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { callersOf, type Endpoint, ENDPOINTS, type Role } from '@mile-mark/contract';
import type { ForecastInput, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { StudyDetail } from '@mile-mark/contract/gauges';
import { refreshVehicles } from '../features/forecasts/jobs/refresh.ts';
import { createTestApp, localComputer, type TestApp, TODAY } from './app.ts';

/**
 * How somebody reads is nobody's but their own and the coordinator's. Every bias on record is made a figure that nothing
 * else is; then every route that reads is called by every role, and its answer searched for them.
 */

/** A bias, a drift, and both added up; what is against others; what a study's readings are. */
const FIGURES = { bias: 0.0733146, drift: 0.0411277, against: 0.0955713, study: 48.661 };
const SEEN = /0\.073314|0\.041127|0\.114442|0\.095571|(?<!\d)48\.661\b/;
const UNIT = 'V05';

let test: TestApp;
let studyId: string;
const agents = new Map<Role, Awaited<ReturnType<TestApp['as']>>>();
beforeAll(async () => {
  test = await createTestApp({ demo: { vehicles: 20, marks: 'learnt' } });
  for (const role of ['coordinator', 'technician', 'parts keeper', 'viewer'] as const)
    agents.set(role, await test.as(role));
  const em = test.orm.em.fork();
  studyId = randomUUID();
  const rows = ['a', 'b'].flatMap((part, i) =>
    ['Ash', 'Birch'].flatMap((technician, j) =>
      [1, 2].map(
        (trial) => `${part},${technician},${trial},${technician === 'Ash' ? FIGURES.study : 8 + i + j + trial / 9}`,
      ),
    ),
  );
  const csv = ['part,technician,trial,value', ...rows].join('\n');
  const study = { id: studyId, name: 'Two pads', csv, referenced: false };
  await agents.get('coordinator')?.post('/api/studies/imports').send(study).expect(201);
  await em.execute('update appraiser set bias_mm = ?, against_mm = ?', [FIGURES.bias, FIGURES.against]);
  await em.execute('update appraiser_share set bias_mm = ?', [FIGURES.bias]);
  await em.execute('update appraiser_drift set bias_mm = ?', [FIGURES.drift]);
  const [vehicle] = await em.execute<{ id: string }[]>('select id from vehicle where unit = ?', [UNIT]);
  await refreshVehicles(test.orm.em.fork(), localComputer(), [vehicle?.id ?? ''], TODAY);
}, 120_000);
afterAll(async () => test.close());

const READING = Object.entries<Endpoint>(ENDPOINTS).filter(
  ([name, endpoint]) => endpoint.method === 'get' && callersOf(endpoint) && name !== 'archive',
);
const ASKED: Record<string, Record<string, string>> = {
  demand: { part: 'PD-OC3-1', depot: 'Northfold' },
  axleKits: { unit: UNIT },
  modelKits: { model: 'Ostrey Carrier 35' },
  dayBoard: { depot: 'Northfold' },
  dutyPreview: { duty: 'herd rounds', from: TODAY },
};
const ID_OF: Record<string, string> = {
  models: 'model',
  depots: 'depot',
  specifications: 'specification',
  jobs: 'job',
};

async function answerTo(role: Role, name: string, { path }: Endpoint): Promise<string> {
  const table = ID_OF[/\/(\w+)\/\{id\}/.exec(path)?.[1] ?? ''];
  const [row] = table
    ? await test.orm.em.fork().execute<{ id: string }[]>(`select id from ${table} order by id limit 1`)
    : [];
  const id = path.includes('/studies/') ? studyId : (row?.id ?? randomUUID());
  const address = path.replace('{unit}', UNIT).replace('{id}', id);
  const answer = await agents
    .get(role)
    ?.get(address)
    .query(ASKED[name] ?? {});
  return answer?.text ?? '';
}

describe('how others read', () => {
  it.each(READING)('is not in what %s answers to anybody but the coordinator', async (name, endpoint) => {
    for (const role of callersOf(endpoint) ?? []) {
      if (role === 'coordinator') continue;
      const text = await answerTo(role, name, endpoint);
      expect([role, SEEN.exec(text)?.[0], /"biasMm":-?(?!0[,}])\d/.exec(text)?.[0]]).toEqual([
        role,
        undefined,
        undefined,
      ]);
    }
  });

  it('is seen by the coordinator where it belongs, so that it would be found', async () => {
    for (const name of ['vehicle', 'forecastInput', 'appraisers', 'study', 'bay'] as const)
      expect([name, SEEN.test(await answerTo('coordinator', name, ENDPOINTS[name]))]).toEqual([name, true]);
  });

  it('leaves the rest: what a reading weighs, what the duty was, that a run is measured', async () => {
    const viewer = agents.get('viewer');
    const vehicle = (await viewer?.get(`/api/vehicles/${UNIT}`).expect(200))?.body as VehicleDetail;
    const carried = vehicle.readings.flatMap((one) => one.carried ?? []);
    expect(carried.length).toBeGreaterThan(0);
    // What a reading of today is carried to is the reading less the bias.
    expect(carried.every((one) => one.biasMm === null && one.wearMm === null && one.carriedMm === null)).toBe(true);
    expect(carried.every(({ sdMm }) => sdMm > 0)).toBe(true);
    expect(vehicle.readings.every(({ expectedMm }) => expectedMm === null)).toBe(true);
    const found = (await viewer?.get(`/api/vehicles/${UNIT}/forecast-input`).expect(200))?.body as ForecastInput;
    expect(found).toMatchObject({ whole: false, input: { readings: [], appraisers: {} } });
    expect((found.input as { duty: unknown[] }).duty.length).toBeGreaterThan(0);
    const study = (await agents.get('technician')?.get(`/api/studies/${studyId}`).expect(200))?.body as StudyDetail;
    expect(study.plan.every(({ measured, valueMm, typed }) => measured && valueMm === null && typed === null)).toBe(
      true,
    );
    expect(study.figures?.test.byTechnician).toEqual([]);
  });
});
