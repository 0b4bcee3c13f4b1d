import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { StudyDetail } from '@mile-mark/contract/gauges';
import { smallFleetApp, type SmallFleetApp } from '../../testing/app.ts';
import { appraiserKey } from './appraiserKey.ts';
import { studyEvidenceOf } from './queries/studyEvidence.ts';

let { test, gaugeId, coordinator, technician } = {} as SmallFleetApp;
beforeAll(async () => {
  ({ test, gaugeId, coordinator, technician } = await smallFleetApp());
});
afterAll(async () => test.close());

/** Every part by everybody, as often as asked; the value is the part's, and a little more each trial. */
function lines(parts: readonly string[], people: readonly string[], trials: number): string[][] {
  return parts.flatMap((part, p) =>
    people.flatMap((who) =>
      Array.from({ length: trials }, (_, t) => [part, who, `${t + 1}`, (5 + p + 0.1 * t).toFixed(1)]),
    ),
  );
}
const HEADER = ['part', 'technician', 'trial', 'value'];
const csvOf = (rows: readonly (readonly string[])[], header: readonly string[] = HEADER, separator = ',') =>
  [header, ...rows].map((cells) => cells.join(separator)).join('\n');
const SMALL = lines(['1', '2'], ['Ann', 'Bo'], 2);
/** The same file with a cell of its first line written otherwise. */
const with_ = (column: number, text: string) =>
  csvOf(SMALL.map((cells, row) => (row === 0 ? cells.map((cell, k) => (k === column ? text : cell)) : cells)));

const importing = (csv: string, more: object = {}) =>
  coordinator
    .post('/api/studies/imports')
    .send({ id: randomUUID(), name: `file ${randomUUID()}`, csv, referenced: true, ...more });
const detail = async (id: string) => (await coordinator.get(`/api/studies/${id}`).expect(200)).body as StudyDetail;
const wordsOf = async (csv: string) => {
  const { status, body } = await importing(csv);
  expect(status).toBe(422);
  const errors = body.errors as { field: string; message: string }[];
  expect(new Set(errors.map(({ field }) => field))).toEqual(new Set(['csv']));
  return errors.map(({ message }) => message);
};

describe('the file of a study', () => {
  it.each([
    ['other words for its columns', ['Sample', 'OPERATOR', 'Replicate', 'Thickness']],
    ['columns in another order', ['piece', 'person', 'repeat', 'mm']],
  ])('is understood: %s', async (_name, header) => {
    const { body } = await importing(csvOf(SMALL, header)).expect(201);
    expect(await detail(body.id as string)).toMatchObject({
      runs: 8,
      measured: 8,
      parts: 2,
      technicians: 2,
      repeats: 2,
    });
  });

  it('holds figures to the edge of what a pad can be, and of what is measured ten times', async () => {
    for (const value of ['60', '-60', '–60', '0']) await importing(with_(3, value)).expect(201);
    expect(await wordsOf(with_(3, '60.1'))).toEqual([
      expect.stringMatching(/^Line 2: “60\.1” is not a value; .*up to 60/),
    ]);
    expect(await wordsOf(with_(3, '-60.1'))).toEqual([expect.stringMatching(/^Line 2: “-60\.1”/)]);
    await importing(csvOf(lines(['1', '2'], ['Ann', 'Bo'], 10))).expect(201);
    for (const trial of ['11', '0', '1.5', ''])
      expect(await wordsOf(with_(2, trial))).toEqual([expect.stringContaining(`Line 2: “${trial}” is not a trial`)]);
  });

  it('names the line on which a part or somebody is missing', async () => {
    expect(await wordsOf(with_(0, ''))).toEqual(['Line 2: part and technician are both needed.']);
    expect(await wordsOf(with_(1, ' '))).toEqual(['Line 2: part and technician are both needed.']);
  });

  it('tells of five gaps, and no more at a time', async () => {
    const gaps = csvOf(lines(['1', '2', '3', '4'], ['Ann', 'Bo'], 3).filter((_, k) => k >= 18 || k % 3 !== 1));
    const told = await wordsOf(gaps);
    expect(told).toHaveLength(5);
    expect(new Set(told).size).toBe(5);
    for (const words of told) expect(words).toMatch(/^Part \d by (Ann|Bo), trial 2 is missing/);
  });

  it('is told from a text that is none, and from one that is too long', async () => {
    expect(await wordsOf(`${csvOf(SMALL)}\n"1,Ann`)).toEqual([expect.stringMatching(/can’t be read as CSV/)]);
    const long = csvOf(Array.from({ length: 5001 }, (_, k) => [`${k}`, 'Ann', '1', '5']));
    expect(await wordsOf(long)).toEqual([expect.stringMatching(/^5001 lines; up to 5,000/)]);
    const most = csvOf(Array.from({ length: 5000 }, (_, k) => [`${k}`, 'Ann', '1', '5']));
    expect((await wordsOf(most)).join(' ')).toMatch(/At least 2 technicians/);
  });

  it('states a new thickness over the limit, three millimetres where it states none', async () => {
    const refused = async (more: object) => (await importing(csvOf(SMALL), more).expect(422)).body.errors[0];
    expect(await refused({ newMm: 3 })).toMatchObject({
      field: 'newMm',
      message: expect.stringContaining('limit of 3 mm'),
    });
    expect(await refused({ newMm: 5, limitMm: 5 })).toMatchObject({ field: 'newMm' });
    const { body } = await importing(csvOf(SMALL), { newMm: 3.1 }).expect(201);
    expect(await detail(body.id as string)).toMatchObject({ newMm: 3.1, limitMm: 3 });
  });

  it('knows people of the record by name, however it is written; of strangers it teaches nothing', async () => {
    const known = lines(['1', '2'], ['the TECHNICIAN', 'The coordinator'], 2);
    const strange = lines(['1', '2'], ['The technician', 'Nobody known'], 2);
    const own = await importing(csvOf(known), { gaugeId });
    const other = await importing(csvOf(strange), { gaugeId });
    expect([own.status, other.status]).toEqual([201, 201]);
    const em = test.orm.em.fork();
    const rows = await em.execute<{ id: string; technicians: { id: string | null }[] }[]>(
      'select id, technicians from gauge_study where id in (?, ?)',
      [own.body.id, other.body.id],
    );
    const idsOf = (id: unknown) => rows.find((row) => row.id === id)?.technicians.map((one) => one.id);
    expect(idsOf(own.body.id)).toEqual([test.idOf('technician'), test.idOf('coordinator')]);
    expect(idsOf(other.body.id)).toEqual([test.idOf('technician'), null]);
    const present = () => ({ biasMm: 0, biasSdMm: 0.3, repeatabilityMm: 0.3 });
    const gauged = await em.execute<{ n: number }[]>(
      'select count(*)::int as n from gauge_study where gauge_id is not null',
    );
    const evidence = await studyEvidenceOf(em, present);
    // Each study with a gauge of which everybody is known, once.
    expect(gauged[0]?.n).toBe(2);
    expect(evidence.map(({ appraisers }) => appraisers)).toEqual([
      [appraiserKey(test.idOf('technician'), gaugeId), appraiserKey(test.idOf('coordinator'), gaugeId)],
    ]);
  });
});

describe('a planned study', () => {
  const plan = (more: object = {}) => ({
    id: randomUUID(),
    name: `plan ${randomUUID()}`,
    gaugeId,
    parts: ['Pad 1', 'Pad 2', 'Pad 3'],
    technicianIds: [test.idOf('technician'), test.idOf('coordinator')],
    repeats: 2,
    seed: 7,
    newMm: 12,
    limitMm: 3,
    ...more,
  });
  const order = (study: StudyDetail) => study.plan.map(({ part, technician: who, trial }) => `${part}/${who}/${trial}`);
  const planned = async (more: object = {}) => {
    const study = plan(more);
    await coordinator.post('/api/studies').send(study).expect(201);
    return detail(study.id);
  };

  it('is measured in an order of its seed: the same again, and another of another', async () => {
    const [first, again, other] = [await planned(), await planned(), await planned({ seed: 8 })];
    expect(order(again)).toEqual(order(first));
    expect(order(other)).not.toEqual(order(first));
    expect([...order(other)].sort()).toEqual([...order(first)].sort());
    expect(new Set(order(first)).size).toBe(12);
  });

  it('takes its last run and no other after it, in the unit of its gauge, and writes down who measured', async () => {
    const thirtySeconds = randomUUID();
    await coordinator
      .post('/api/gauges')
      .send({ id: thirtySeconds, name: 'Step gauge', kind: 'step gauge', resolutionMm: 0.79375, unit: '1/32 in' })
      .expect(201);
    const study = await planned({ gaugeId: thirtySeconds });
    const id = (await coordinator.get('/api/studies').expect(200)).body.items.find(
      (one: { name: string }) => one.name === study.name,
    ).id as string;
    const enter = (run: number, value: string) =>
      technician.post(`/api/studies/${id}/values`).send({ id: randomUUID(), run, value });
    await enter(study.runs, '12').expect(201);
    expect((await enter(study.runs + 1, '12').expect(422)).body.errors[0]).toMatchObject({
      field: 'run',
      message: 'This study has 12 runs.',
    });
    const last = (await detail(id)).plan.at(-1);
    // 12/32 in, by the definition of the inch.
    expect(last?.valueMm).toBeCloseTo((12 / 32) * 25.4, 9);
    expect(last).toMatchObject({ measured: true, typed: '12' });
    expect((await detail(id)).plan.filter(({ measured }) => measured)).toHaveLength(1);
    const trail = await test.orm.em
      .fork()
      .execute('select person_id, detail from audit where subject = ? and action = ?', [
        `study/${id}`,
        'measured a run of a study',
      ]);
    expect(trail).toEqual([{ person_id: test.idOf('technician'), detail: { run: 12 } }]);
  });

  it('is planned with people who measure, and on the day it is', async () => {
    const refused = await coordinator
      .post('/api/studies')
      .send(plan({ technicianIds: [test.idOf('technician'), test.idOf('viewer')] }));
    expect(refused.status).toBe(422);
    expect(refused.body.errors).toEqual([
      { field: 'technicianIds', message: expect.stringContaining('does not measure') },
    ]);
    expect((await planned()).createdAt).toBe('2026-11-20');
  });
});
