import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import type { BayAnswer } from '@mile-mark/contract/inspections';
import { randomUUID } from 'node:crypto';
import { addUpChanges } from '../../platform/answers/answers.ts';
import { smallFleetApp, type SmallFleetApp, TODAY } from '../../testing/app.ts';
import { bayOf } from './queries/bay.ts';

/** What changed in the bay since a device asked last: with what it has, the same as the whole. */

let app: SmallFleetApp;
beforeAll(async () => {
  app = await smallFleetApp();
});
afterAll(async () => app.test.close());
const fork = () => app.test.orm.em.fork();

type Agent = Awaited<ReturnType<SmallFleetApp['test']['as']>>;
let technician: Agent;
/** What the device has. */
let device: BayAnswer;
const ask = async (since?: string): Promise<BayAnswer> => {
  const query = since === undefined ? {} : { since };
  return (await technician.get('/api/bay').query(query).expect(200)).body as BayAnswer;
};
beforeEach(async () => {
  technician = await app.test.as('technician');
  device = await ask();
});

/** Asks for what changed, puts it to what the device has, and holds that against the whole. */
async function changed(): Promise<string[] | 'all'> {
  const answer = await ask(device.cursor);
  const known = new Map([...device.vehicles, ...answer.vehicles].map((one) => [one.unit, one]));
  const vehicles = answer.whole ? answer.vehicles : answer.fleet.flatMap(({ unit }) => known.get(unit) ?? []);
  const whole = await ask();
  expect(vehicles).toEqual(whole.vehicles);
  expect({ ...answer, vehicles: [], at: '', whole: true }).toEqual({
    ...whole,
    vehicles: [],
    at: '',
    cursor: answer.cursor,
  });
  device = { ...answer, vehicles };
  return answer.whole ? 'all' : answer.vehicles.map(({ unit }) => unit);
}

const look = async (unit: string, odometer: string) =>
  technician
    .post('/api/readings')
    .send({
      inspection: { id: randomUUID(), unit, gaugeId: app.gaugeId, date: TODAY, odometer, acknowledged: true },
      readings: [
        {
          id: randomUUID(),
          axle: 1,
          side: 'left',
          pad: 'outer',
          thickness: '7.4',
          thicknessUnit: 'mm',
          answer: 'measured_twice',
        },
      ],
    })
    .expect(201);

describe('the bay since a cursor', () => {
  it('is no vehicle where nothing changed, and the one that was measured after it was', async () => {
    expect(device.whole).toBe(true);
    expect(device.vehicles.map(({ unit }) => ({ unit }))).toEqual(device.fleet);
    expect(await changed()).toEqual([]);
    await look('P1', '41000');
    expect(await changed()).toEqual(['P1']);
    expect(await changed()).toEqual([]);
  });

  it('is all of them where something changed that all share', async () => {
    await fork().execute('update gauge set name = name');
    expect(await changed()).toBe('all');
    expect(await changed()).toEqual([]);
  });

  it('tells what began before the cursor and ended after it', async () => {
    await fork().transactional(async (slow) => {
      await slow.execute(`update vehicle set input_rev = input_rev + 1 where unit = 'P2'`);
      await fork().execute(`update vehicle set input_rev = input_rev + 1 where unit = 'P1'`);
      expect(await changed()).toEqual(['P1']);
    });
    expect(await changed()).toEqual(['P2']);
  });

  it('is not lost where changes are added up: what was told once may be told again', async () => {
    const [{ id } = { id: '' }] = await fork().execute<{ id: string }[]>(`select id from vehicle where unit = 'P1'`);
    const many = async () => {
      await fork().execute('insert into record_change (about) select ?::uuid from generate_series(1, 600)', [id]);
      await addUpChanges(fork());
    };
    // What all share was changed often before: it is one change now.
    await many();
    expect(await changed()).toBe('all');
    await many();
    expect(await changed()).toEqual(['P1']);
    await look('P2', '52000');
    await many();
    expect(await changed()).toEqual(['P1', 'P2']);
  });

  it('has a vehicle no more that left, and a new one', async () => {
    await fork().execute(`update vehicle set left_on = ?, left_how = 'sold' where unit = 'P2'`, [TODAY]);
    const gone = await changed();
    expect(gone).toEqual([]);
    expect(device.fleet.map(({ unit }) => unit)).not.toContain('P2');
    await fork().execute(`update vehicle set left_on = null, left_how = null where unit = 'P2'`);
    expect(await changed()).toEqual(['P2']);
  });

  it('is the whole where another build asks: it may tell the same record otherwise', async () => {
    const actor = { id: randomUUID(), name: 'Tobi Varga', role: 'technician' as const };
    const of = async (build: string) => (await bayOf(fork(), actor, TODAY, { since: device.cursor, build })).whole;
    expect([await of('test'), await of('another')]).toEqual([false, true]);
  });

  it('is the whole where the cursor is of another run or database, or none at all', async () => {
    const [form, rest = ''] = device.cursor.split('~');
    const [oid, started, snapshot] = rest.split('.');
    const of = (cursor: string) => `${form}~${cursor}`;
    expect((await ask(of(`${oid}.${started}.${snapshot}`))).whole).toBe(false);
    const strange = [
      of(`${oid}.${Number(started) - 1}.${snapshot}`),
      of(`${Number(oid) + 1}.${started}.${snapshot}`),
      rest,
      `another${device.cursor}`,
      of(`${oid}.${started}.9:3:`),
      of(`${oid}.${started}.3:9:12`),
      of(`${oid}.${started}.3:9:5,4`),
      of(`${oid}.${started}.0:0:`),
      of(`${oid}.${started}.99999999999999999999:99999999999999999999:`),
      of(`${oid}.${started}`),
      'x',
      '',
      "1.1.1:1:'; drop table vehicle",
    ];
    for (const since of strange) expect([since, (await ask(since)).whole]).toEqual([since, true]);
    expect((await technician.get('/api/bay').query({ since: 'x'.repeat(1001) })).status).toBe(422);
  });
});
