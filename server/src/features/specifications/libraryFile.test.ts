import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type supertest from 'supertest';
import {
  LibraryEntry,
  LibraryFile,
  type LibraryImported,
  type LibraryModel,
  librarySchema,
  type Specification,
} from '@mile-mark/contract/specifications';
import { seededRandom } from '@mile-mark/core';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { libraryFromCsv, libraryToCsv } from './libraryCsv.ts';

type Client = ReturnType<typeof supertest.agent>;
const HEADER =
  'model,axle,joint,position,thread,head_kind,head_size,count,torque_unit,torque_least,torque_nominal,torque_most,torque_passes,angle_deg,stated_too,preparation,one_time_use,note,pad_min_mm,document,page,revision,date';
const WHEEL =
  'Fenby Hauler,1,Wheel nut,,M14x1.5,hex,21 mm,6,lbf·ft,,130,,65,,176 N·m,clean and dry,no,,,Manual,4,A,2024-05-01';
const BRACKET =
  'Fenby Hauler,1,Bracket bolt,,M14x1.5,hex,21 mm,2,N·m,162,170,178,,,,medium thread locker,yes,"Paint, after",,Manual,12,A,2024-05-01';
const SHEET = 'Fenby Hauler,1,,,,,,,,,,,,,,,,,2.5,Manual,13,A,2024-05-01';
const csv = (...lines: string[]) => [HEADER, ...lines].join('\n');

describe('a library of CSV', () => {
  it('is written and read again without loss', () => {
    const { lines, faults } = libraryFromCsv(csv(WHEEL, BRACKET, SHEET));
    expect(faults).toEqual([]);
    expect(lines.flatMap(({ problems }) => problems)).toEqual([]);
    const entries = lines.flatMap(({ entry }) => entry ?? []);
    expect(entries[0]?.values).toMatchObject({
      about: 'joint',
      fastener: { thread: 'M14x1.5', headSize: '21 mm', count: 6 },
      torque: { unit: 'lbf·ft', nominal: 130, passes: [65], statedToo: { unit: 'N·m', value: 176 }, least: null },
      oneTimeUse: false,
      preparation: 'clean and dry',
    });
    expect(entries[2]).toMatchObject({ joint: null, values: { about: 'axle', padMinMm: 2.5, rotorDiscardMm: null } });
    const again = libraryFromCsv(libraryToCsv(entries)).lines.flatMap(({ entry }) => entry ?? []);
    expect(again).toEqual(entries);
  });

  it('keeps any library whole, through quotes, commas, line breaks and formulas', () => {
    const random = seededRandom(91);
    const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)] as T;
    const maybe = <T>(value: T) => (random() < 0.5 ? null : value);
    const figure = () => Math.round(1 + 300 * random() * 100) / 100;
    const text = () =>
      pick(['plain', 'with "quotes"', 'comma, and; more', 'two\nlines', '=1+1', '-dash', '@at', 'ümläut', '½ in']);
    const entries = Array.from({ length: 300 }, () =>
      LibraryEntry.parse({
        model: pick(['Fenby Hauler', '+Plus model', 'Model, the second']),
        axle: 1 + Math.floor(3 * random()),
        joint: pick(['Wheel nut', 'Bracket bolt']),
        position: pick(['', 'upper', '-lower']),
        values: {
          about: 'joint',
          absent: random() < 0.1,
          fastener: {
            thread: maybe('M14x1.5'),
            strength: maybe(pick(['8.8', 'grade 8'])),
            headKind: maybe('hex'),
            headSize: maybe('13/16 in'),
            count: maybe(6),
            counterHold: maybe('17 mm'),
          },
          torque: maybe({
            unit: pick(['N·m', 'lbf·ft', 'lbf·in']),
            least: maybe(figure()),
            nominal: figure(),
            most: maybe(figure()),
            passes: random() < 0.5 ? [] : [figure(), figure()],
            angleDeg: maybe(90),
            statedToo: maybe({ unit: 'N·m', value: figure() }),
          }),
          preparation: maybe('oiled'),
          oneTimeUse: maybe(random() < 0.5),
          pattern: maybe('star'),
          recheckMiles: maybe(60),
          note: maybe(text()),
        },
        source: { document: text(), page: text(), revision: text(), date: '2024-02-29' },
      }),
    );
    const read = libraryFromCsv(libraryToCsv(entries));
    expect(read.faults).toEqual([]);
    expect(read.lines.flatMap(({ problems }) => problems)).toEqual([]);
    expect(read.lines.map(({ entry }) => entry)).toEqual(entries);
  });

  it('takes the unit of a header, and refuses a unit column that contradicts it', () => {
    const header = 'model,axle,joint,torque_unit,torque_nominal [N·m],document,page,revision,date';
    const line = (unit: string) => `Fenby Hauler,1,Wheel nut,${unit},176,Manual,4,A,2024-05-01`;
    const { lines } = libraryFromCsv([header, line(''), line('Nm'), line('lbf ft')].join('\n'));
    expect(lines[0]?.entry?.values).toMatchObject({ torque: { unit: 'N·m', nominal: 176 } });
    expect(lines[1]?.problems).toEqual([]);
    expect(lines[2]?.entry).toBeUndefined();
    expect(lines[2]?.problems[0]).toMatchObject({ field: 'torque_nominal' });
    expect(lines[2]?.problems[0]?.message).toContain('says N·m, torque_unit says lbf·ft');
  });

  it.each([
    [WHEEL.replace('lbf·ft', ''), 'torque_nominal', 'no unit'],
    [WHEEL.replace('130', '-130'), 'torque_nominal', 'below zero'],
    [WHEEL.replace('lbf·ft', 'psi'), 'torque_unit', 'not a unit'],
    [WHEEL.replace(',no,', ',maybe,'), 'one_time_use', 'neither yes nor no'],
    [WHEEL.replace(',6,', ',six,'), 'count', 'not a number'],
    [WHEEL.replace('2024-05-01', '1.5.2024'), 'source.date', '2026-02-20'],
    [WHEEL.replace('Manual', ''), 'source.document', 'needed'],
    [`${WHEEL},surplus`, 'line', 'as many as the header'],
  ])('refuses %s at %s', (line, field, words) => {
    const [read] = libraryFromCsv(csv(line)).lines;
    expect(read?.entry).toBeUndefined();
    const own = read?.problems.find((problem) => problem.field === field);
    expect(own?.message).toContain(words);
  });

  it('names columns that are missing or not known', () => {
    expect(libraryFromCsv('model,axle,joint,colour\nA,1,B,red').faults.map(({ field }) => field)).toEqual([
      'document',
      'page',
      'revision',
      'date',
      'colour',
    ]);
  });
});

describe('taking a library in', () => {
  let test: TestApp;
  let coordinator: Client;
  let technician: Client;
  let model: LibraryModel;
  const take = async (text: string, rest: object = {}, client = coordinator) =>
    client.post('/api/library/imports').send({ fileName: 'library.csv', format: 'csv', text, dryRun: false, ...rest });
  const rowsOf = async (text: string, rest: object = {}) => {
    const answer = await take(text, rest);
    expect(answer.status).toBe(200);
    return answer.body as LibraryImported;
  };
  const specifications = async () =>
    ((await coordinator.get(`/api/models/${model.id}/specifications`).expect(200)).body as { items: Specification[] })
      .items;

  beforeAll(async () => {
    test = await createTestApp();
    await fillSmallFleet(test);
    coordinator = await test.as('coordinator');
    technician = await test.as('technician');
    model = ((await coordinator.get('/api/library')).body as { items: LibraryModel[] }).items[0] as LibraryModel;
  });
  afterAll(async () => test.close());
  beforeEach(async () => {
    for (const { open } of await specifications())
      if (open)
        await coordinator
          .post(`/api/specification-revisions/${open.id}/withdrawal`)
          .send({ reason: 'next test' })
          .expect(201);
  });

  it('is looked at first, and then waits for a second person', async () => {
    const looked = await rowsOf(csv(WHEEL, BRACKET, SHEET), { dryRun: true });
    expect(looked).toMatchObject({
      taken: 0,
      rows: [{ line: 2, outcome: 'new' }, { outcome: 'new' }, { outcome: 'new' }],
    });
    expect(looked.rows[0]?.differences).toContainEqual({ field: 'Torque', from: '', to: '65, then 130 lbf·ft' });
    expect(await specifications()).toEqual([]);

    expect((await rowsOf(csv(WHEEL, BRACKET, SHEET))).taken).toBe(3);
    const [first] = await specifications();
    expect(first).toMatchObject({ released: null, open: { importedFrom: 'library.csv', state: 'open' } });
    expect((await rowsOf(csv(WHEEL))).rows).toMatchObject([{ outcome: 'waiting' }]);
  });

  it('shows what differs from what counts here, and what is the same', async () => {
    await rowsOf(csv(WHEEL));
    const own = (await specifications()).find(({ joint }) => joint?.name === 'Wheel nut');
    const torque = { unit: 'lbf·ft', nominal: 130, passes: [65], statedToo: { unit: 'N·m', value: 176 } };
    const released = await technician
      .post(`/api/specification-revisions/${own?.open?.id}/releases`)
      .send({ id: randomUUID(), typed: { about: 'joint', torque } })
      .expect(200);
    expect(released.body).toMatchObject({ released: true });
    expect((await rowsOf(csv(WHEEL))).rows).toMatchObject([{ outcome: 'same', differences: [] }]);
    const changed = WHEEL.replace(',130,', ',135,').replace('176', '183').replace(',A,', ',B,');
    expect((await rowsOf(csv(changed), { dryRun: true })).rows).toMatchObject([
      {
        outcome: 'changed',
        differences: [
          { field: 'Torque', from: '65, then 130 lbf·ft', to: '65, then 135 lbf·ft' },
          { field: 'Stated too', from: '176 N·m', to: '183 N·m' },
          { field: 'Revision', from: 'A', to: 'B' },
        ],
      },
    ]);
  });

  it('of another shop is read as JSON, all of it or what is right in it', async () => {
    await rowsOf(csv(BRACKET));
    const { body } = await coordinator.get('/api/library.json').expect(200);
    const file = LibraryFile.parse(body);
    expect(file.specifications.map(({ joint }) => joint)).toEqual(['Wheel nut']);
    const there = {
      ...file,
      specifications: [...file.specifications, { ...file.specifications[0], axle: 2 }, { model: 'Fenby Hauler' }],
    };
    const looked = await rowsOf(JSON.stringify(there), { format: 'json', dryRun: true });
    expect(looked.rows.map(({ outcome }) => outcome)).toEqual(['same', 'new', 'refused']);
    expect((await coordinator.get('/api/library.csv').expect(200)).text).toContain('Wheel nut');
    expect((await take('{"format":"other"}', { format: 'json' })).status).toBe(422);
    expect((await take('{', { format: 'json' })).status).toBe(422);
  });

  it('refuses what is not known here, one joint twice, and asks about what is odd', async () => {
    const rows = (
      await rowsOf(
        csv(
          WHEEL.replace('Fenby Hauler', 'Unknown Van'),
          WHEEL.replace('Wheel nut', 'Flux bolt'),
          WHEEL.replace(',1,', ',2,'),
          WHEEL.replace(',1,', ',2,'),
          BRACKET.replace('162,170,178', ',900,'),
          BRACKET.replace(',1,', ',2,').replace('21 mm', '13 mm'),
        ),
      )
    ).rows;
    expect(rows.map(({ outcome, problems }) => `${outcome} ${problems[0]?.field ?? ''}`)).toEqual([
      'refused model',
      'refused joint',
      'new ',
      'refused joint',
      'questioned values.nominal',
      'refused values.headSize',
    ]);
    const confirmed = await rowsOf(csv(BRACKET.replace('162,170,178', ',900,')), { confirmed: [2] });
    expect(confirmed).toMatchObject({ taken: 1, rows: [{ outcome: 'new' }] });
  });

  it('taken by two people at once comes in once', async () => {
    const answers = await Promise.all([take(csv(BRACKET)), take(csv(BRACKET), {}, technician)]);
    const taken = answers.map(({ body }) => (body as LibraryImported).taken);
    expect(taken.sort()).toEqual([0, 1]);
  });
});

describe('the published schema', () => {
  it('is that of the files', () => {
    const published = JSON.parse(
      readFileSync(new URL('../../../../docs/specification-library.schema.json', import.meta.url), 'utf8'),
    ) as unknown;
    expect(published).toEqual(JSON.parse(JSON.stringify(librarySchema())));
  });
});
