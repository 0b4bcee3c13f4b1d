import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { DraftPreview, DraftRows } from '@mile-mark/contract/imports';
import { computePool } from '../../compute.ts';
import { createTestApp, fillSmallFleet, TODAY, type TestApp } from '../../testing/app.ts';
import { takeInDraft } from './commands/takeIn.ts';
import { createDesk, type Desk } from './desk.ts';
import { previewDraft } from './draftQueries.ts';

/** Files that wait: kept with what was said of them, looked at a page at a time, taken in once or not at all. */

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
let technician: Awaited<ReturnType<TestApp['as']>>;
let said: { technicianId: string; gaugeId: string };
let day = 0;

beforeAll(async () => {
  test = await createTestApp();
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
  const { gaugeId } = await fillSmallFleet(test);
  said = { technicianId: test.idOf('technician'), gaugeId };
});
afterAll(async () => test.close());
beforeEach(() => {
  day += 1;
});

/** Rows of one day of P1, as many as wanted: the same wheel again and again, so that all but the first are twins. */
const sheet = (rows = 2) =>
  [
    'date,unit,odometer mi,wheel,inner mm,outer mm',
    ...Array.from({ length: rows }, (_, index) => {
      const wheel = ['LF', 'RF', 'LR', 'RR'][index % 4];
      return `2025-09-${String(day).padStart(2, '0')},P1,${27_000 + day * 70},${wheel},9.${index % 10},9.${index % 10}`;
    }),
  ].join('\n');
const send = (content: string | Buffer, fileName = 'night shift.csv', id: string = randomUUID(), who = coordinator) =>
  who
    .post('/api/imports/drafts')
    .query({ id, fileName })
    .set('content-type', 'application/octet-stream')
    .send(Buffer.from(content as string));
const drop = async (content: string): Promise<string> => {
  const { body } = await send(content).expect(201);
  return (body as { id: string }).id;
};
const path = (id: string, rest = '') => `/api/imports/drafts/${id}${rest}`;
const look = async (id: string): Promise<DraftPreview> => (await coordinator.get(path(id)).expect(200)).body;
const answer = (id: string, body: object) => coordinator.post(path(id, '/answers')).send(body);
const take = (id: string, revision: number, importId: string = randomUUID(), who = coordinator) =>
  who.post(path(id, '/import')).send({ id: importId, revision });
const waiting = async (): Promise<{ id: string; by: string }[]> =>
  (await technician.get('/api/imports/drafts').expect(200)).body.items;
const readingsOfDay = async () => {
  const rows = await test.orm.em
    .fork()
    .execute<{ n: number }[]>(
      `select count(*)::int as n from reading where measured_on = '2025-09-${String(day).padStart(2, '0')}'`,
    );
  return rows[0]?.n;
};

describe('a file that waits', () => {
  it('is kept once under its id, seen by whoever may import, and looked at the same by another process', async () => {
    const id = randomUUID();
    for (const _ of [1, 2]) await send(sheet(), 'night shift.csv', id).expect(201);
    await send(sheet(3), 'night shift.csv', id).expect(409);
    expect((await waiting()).filter((one) => one.id === id)).toEqual([
      expect.objectContaining({ fileName: 'night shift.csv', kind: 'readings', by: 'The coordinator' }),
    ]);
    const mended = (sheet().split('\n')[1] ?? '').replace('9.0', '8.8').split(',');
    await answer(id, { revision: 1, understanding: said, edits: { '2': mended } }).expect(200);
    const shown = await look(id);
    expect(shown).toMatchObject({ revision: 2, needs: [], mended: [2], records: 4 });
    // As after the server was started anew: nothing of it lies in memory.
    const anew = await previewDraft(test.orm.em.fork(), createDesk(computePool(0)), id, TODAY);
    expect({ ...anew, look: '' }).toEqual({ ...shown, look: '' });
    expect(anew.rows.find(({ line }) => line === 2)?.cells[4]).toBe('8.8');
  });

  it('gathers answers: what is said of one thing leaves the others, and who saw an older state is told', async () => {
    const id = await drop(sheet());
    const { revision } = (await answer(id, { revision: 1, understanding: { gaugeNames: { A: said.gaugeId } } })).body;
    await answer(id, { revision, understanding: { gaugeNames: { B: said.gaugeId }, pad: 'inner' } }).expect(200);
    expect((await answer(id, { revision, choices: { '2': 'leave' } })).status).toBe(409);
    await answer(id, { revision: 3, choices: { '2': 'leave' } }).expect(200);
    await answer(id, { revision: 4, choices: { '3': 'take' }, understanding: said }).expect(200);
    const { understanding, rows, records } = await look(id);
    expect(understanding).toMatchObject({ pad: 'inner', gaugeNames: { A: said.gaugeId, B: said.gaugeId } });
    expect(rows.map(({ taken }) => taken)).toEqual([false, true]);
    expect(records).toBe(2);
    const mended = (sheet().split('\n')[1] ?? '').replace('9.0', '8.7').split(',');
    await answer(id, { revision: 5, edits: { '2': mended } }).expect(200);
    expect((await look(id)).rows.map(({ cells }) => cells[4]).sort()).toEqual(['8.7', '9.1']);
  });

  it('is looked at anew once the record it is held against has changed', async () => {
    const id = await drop(sheet(1).replaceAll('P1', 'P77'));
    await answer(id, { revision: 1, understanding: said }).expect(200);
    expect((await look(id)).rows[0]?.reasons[0]?.message).toContain('no vehicle P77');
    const row = 'P77,Fenby Hauler,Hill depot,herd rounds,2025-08-04,26031';
    const text = `unit,model,depot,duty,duty_from,odometer_mi_at_start\n${row}\n`;
    await coordinator.post('/api/imports').send({ fileName: 'v.csv', text }).expect(200);
    expect((await look(id)).rows[0]?.reasons).toEqual([]);
  });

  it('shows a long file as it is read while its doubts are still looked for, and never as the whole of it', async () => {
    const id = await drop(sheet(8).replace('9.1,9.1', '14.9,14.9'));
    await answer(id, { revision: 1, understanding: said }).expect(200);
    const desk = createDesk(computePool(0), { judgedSoonMs: 0 });
    const glance = () => previewDraft(test.orm.em.fork(), desk, id, TODAY);
    const first = await glance();
    expect(first.judging).not.toBeNull();
    expect(first).toMatchObject({ records: 16, counts: { accepted: 8, questioned: 0 } });
    let last = first;
    while (last.judging) last = await glance();
    expect(last.look).not.toBe(first.look);
    expect(last.counts).toMatchObject({ accepted: 7, questioned: 1 });
    expect({ ...(await look(id)), look: '' }).toEqual({ ...last, look: '' });
  });

  it('is whole in the end although people write all the time; taken in as the record stands then', async () => {
    const id = await drop(sheet(8));
    await answer(id, { revision: 1, understanding: said }).expect(200);
    const desk = createDesk(computePool(0), { judgedSoonMs: 0 });
    const looks = new Set<string>();
    for (let turn = 0; ; turn += 1) {
      const { judging, look: one } = await previewDraft(test.orm.em.fork(), desk, id, TODAY);
      looks.add(one);
      if (!judging) break;
      expect(turn).toBeLessThan(200);
      // Somebody else does something between any two askings.
      await test.orm.em.fork().execute(`insert into audit (action, at, detail, person_id, subject)
        select 'a test', clock_timestamp(), '{}', id, 'test' from person where email = 'viewer@dairy.example'`);
    }
    expect(looks.size).toBeLessThanOrEqual(2);
  });

  it('whoever still waits for a look that an answer overtakes is shown what was answered', async () => {
    const id = await drop(sheet(2000));
    await answer(id, { revision: 1, understanding: said }).expect(200);
    const desk = createDesk(computePool(0));
    const glance = () => previewDraft(test.orm.em.fork(), desk, id, TODAY);
    const waits = glance();
    await new Promise((resolve) => setTimeout(resolve, 20));
    await answer(id, { revision: 2, choices: { '2': 'leave' }, understanding: { pad: 'inner' } }).expect(200);
    const [overtaken, after] = await Promise.all([waits, glance()]);
    expect(after).toMatchObject({ revision: 3, understanding: { pad: 'inner' } });
    expect([2, 3]).toContain(overtaken.revision);
    expect(overtaken.judging).toBeNull();
  });

  it('refuses what can’t be read, is empty or too large, and keeps nothing of it', async () => {
    const before = (await waiting()).length;
    expect((await send('%PDF-1.7 …')).body.errors[0]).toMatchObject({ field: 'file' });
    expect((await send('')).status).toBe(422);
    expect((await send(Buffer.alloc(31 * 1024 * 1024, 'x'))).body).toMatchObject({ status: 413 });
    const many = `${sheet(0)}\n${'2025-09-01,P1,1,LF,9,9\n'.repeat(100_001)}`;
    expect((await send(many)).body.errors[0].message).toContain('up to 100,000');
    expect((await coordinator.post('/api/imports/drafts').query({ id: randomUUID(), fileName: 'a' })).status).toBe(422);
    expect(await waiting()).toHaveLength(before);
  });

  it.each([
    ['part,appraiser,trial,value\n1,A,1,0.29\n', 'file.study'],
    ['Trial;Technician;Part;Value\n1;A;1;0,29\n', 'file.study'],
    ['model,axle,joint,torque_nominal,document\nFenby Hauler,1,Wheel nut,176,Manual\n', 'file.library'],
    ['{\n  "format": "mile-mark-specifications",\n  "version": 1, "specifications": [] }', 'file.library'],
  ])('that goes in elsewhere is told its place: %j', async (text, field) => {
    const { body } = await send(text).expect(422);
    expect(body.errors).toMatchObject([{ field, message: expect.stringContaining('goes in under') }]);
  });

  it('is put away with what was said of it', async () => {
    const id = await drop(sheet());
    await coordinator.delete(path(id)).expect(204);
    for (const gone of [coordinator.get(path(id)), coordinator.delete(path(id)), take(id, 1)])
      expect((await gone).status).toBe(404);
    expect((await waiting()).some((one) => one.id === id)).toBe(false);
  });
});

describe('rows', () => {
  it('come a page at a time, each once, those to look at first', async () => {
    const id = await drop(sheet(450));
    await answer(id, { revision: 1, understanding: said, edits: { '451': ['2025-09-01', 'P99'] } }).expect(200);
    const shown = await look(id);
    const seen = [...shown.rows];
    let next: number | null = seen.length;
    while (next !== null) {
      const query = { look: shown.look, shown: 'all', from: next };
      const { body } = await coordinator.get(path(id, '/rows')).query(query).expect(200);
      seen.push(...(body as DraftRows).rows);
      ({ next } = body as DraftRows);
    }
    expect(seen.map(({ line }) => line).sort((a, b) => a - b)).toEqual(Array.from({ length: 450 }, (_, i) => i + 2));
    expect(seen[0]).toMatchObject({ line: 451, outcome: 'refused' });
    const ranks = seen.map(({ outcome }) => ['refused', 'questioned', 'accepted', 'already'].indexOf(outcome));
    expect(ranks).toEqual([...ranks].sort());
    const refused = await coordinator.get(path(id, '/rows')).query({ look: shown.look, shown: 'refused', from: 0 });
    expect(refused.body).toMatchObject({ rows: [{ line: 451 }], next: null });
  });

  it('of a look that was made anew are asked for again', async () => {
    const id = await drop(sheet());
    const { look: old } = await look(id);
    await answer(id, { revision: 1, understanding: said }).expect(200);
    await look(id);
    expect((await coordinator.get(path(id, '/rows')).query({ look: old, shown: 'all', from: 0 })).status).toBe(409);
  });
});

describe('taken in', () => {
  const ready = async (rows = 4) => {
    const id = await drop(sheet(rows));
    await answer(id, { revision: 1, understanding: said }).expect(200);
    return id;
  };

  it('it waits no more, answers a second asking as the first, and nothing is written twice', async () => {
    const id = await ready();
    const importId = randomUUID();
    const first = await take(id, 2, importId).expect(200);
    expect(first.body).toMatchObject({ id: importId, kind: 'readings', records: 8, open: 0 });
    expect((await take(id, 2, importId).expect(200)).body).toEqual(first.body);
    expect((await take(id, 2)).status).toBe(404);
    expect(await readingsOfDay()).toBe(8);
    expect((await waiting()).some((one) => one.id === id)).toBe(false);
  });

  it('by two people at once, it is in once', async () => {
    const id = await ready();
    const both = await Promise.all([take(id, 2), take(id, 2, randomUUID(), technician)]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 404]);
    expect(await readingsOfDay()).toBe(8);
  });

  it('as it was seen: another answer meanwhile is told, and what is still asked is', async () => {
    const id = await ready();
    await answer(id, { revision: 2, choices: { '2': 'leave' } }).expect(200);
    expect((await take(id, 2)).status).toBe(409);
    const unsaid = await drop(sheet());
    expect((await take(unsaid, 1)).body.errors[0].field).toContain('understanding.');
    expect(await readingsOfDay()).toBe(0);
  });

  it('only by who may: a list of the register is the coordinator’s', async () => {
    const list =
      'unit,model,depot,duty,duty_from,odometer_mi_at_start\nP78,Fenby Hauler,Hill depot,herd rounds,2025-08-04,1';
    const id = await drop(list);
    expect((await take(id, 1, randomUUID(), technician)).status).toBe(403);
    expect((await waiting()).some((one) => one.id === id)).toBe(true);
    await take(id, 1).expect(200);
  });

  it('and stopped, it waits as before and nothing of it is written', async () => {
    const id = await ready(40);
    const desk = createDesk(computePool(0));
    const seen: unknown[] = [];
    const stopping: Desk = {
      ...desk,
      lookAt: async (...asked) => {
        const made = await desk.lookAt(...asked);
        seen.push(desk.progressOf(id));
        expect(desk.stop(id)).toBe(true);
        return made;
      },
    };
    const caller = {
      em: test.orm.em.fork(),
      actor: { id: test.idOf('coordinator'), name: 'The coordinator', role: 'coordinator' as const },
      today: TODAY,
      events: test.events,
    };
    const taking = takeInDraft.run(caller, { id: randomUUID(), draftId: id, revision: 2, desk: stopping });
    await expect(taking).rejects.toThrow('nothing of it was written');
    expect(seen).toEqual([{ step: 'judging', done: 1, of: 1 }]);
    expect(desk.progressOf(id)).toBeNull();
    expect(desk.stop(id)).toBe(false);
    expect(await readingsOfDay()).toBe(0);
    // Of forty rows every second is the same as one before it.
    await take(id, 2).expect(200);
    expect(await readingsOfDay()).toBe(40);
  });
});

describe('figures that include the backing plate', () => {
  /** Four pads at about 9 mm, then a look of all four wheels with the 5.8 mm plates along, in the sheet's own writing. */
  const ofPlates = (unit: string, mm: number[], write: (mm: number) => string) => {
    const miles = unit === 'P2' ? 54_000 : 30_000;
    const before = `date,unit,odometer mi,lf in,lf out,rf in,rf out\n2025-10-01,${unit},${miles - 1900},9.1,9.2,9.0,9.1\n`;
    const rows = mm.map(
      (plus, index) =>
        `2025-11-0${index + 1},${unit},${miles + index * 60},${[9.0, 9.1, 8.9, 9.0].map((one) => write(one + plus)).join(',')}`,
    );
    return `${before}${rows.join('\n')}\n`;
  };

  it('are one question a row, answered for the row, for a wheel, or for the file; what was typed stays with the look', async () => {
    const id = await drop(ofPlates('P2', [5.8, 0, 5.8], (mm) => mm.toFixed(1)));
    await answer(id, { revision: 1, understanding: { ...said, thicknessUnit: 'mm', distanceUnit: 'mi' } }).expect(200);
    const first = await look(id);
    expect(first.plates).toEqual({
      rows: 2,
      wheels: [
        { wheel: 'axle 1, left', figures: 4 },
        { wheel: 'axle 1, right', figures: 4 },
      ],
    });
    const row = first.rows.find(({ line }) => line === 3);
    expect(row?.withoutPlate.map(({ column }) => column)).toEqual([3, 4, 5, 6]);
    expect(row?.withoutPlate.map(({ cell }) => Number(cell))).toEqual([9.0, 9.1, 8.9, 9.0]);
    expect(row?.reasons).toHaveLength(1);
    expect(row?.reasons[0]).toMatchObject({ column: 3, alsoColumns: [4, 5, 6] });
    expect(row?.reasons[0]?.message).toContain('Axle 1 left inner, left outer, right inner, and right outer each read');

    await answer(id, { revision: 2, withoutPlate: { look: first.look, wheel: 'axle 1, left' } }).expect(200);
    const second = await look(id);
    expect(second.mended.sort()).toEqual([3, 5]);
    expect(second.rows.find(({ line }) => line === 3)?.cells.slice(3)).toEqual(['9.0', '9.1', '14.7', '14.8']);
    await answer(id, { revision: 3, withoutPlate: { look: first.look, wheel: null } }).expect(409);
    await answer(id, { revision: 3, withoutPlate: { look: second.look, wheel: null } }).expect(200);
    const third = await look(id);
    expect(third).toMatchObject({ plates: { rows: 0, wheels: [] }, counts: { accepted: 4, questioned: 0 } });

    await take(id, 4).expect(200);
    const kept = await test.orm.em.fork().execute<{ note: string | null; thickness_um: number }[]>(
      `select i.note, r.thickness_um from inspection i join reading r on r.inspection_id = i.id
         where i.measured_on = '2025-11-01' and r.side = 'right' order by r.pad`,
    );
    expect(kept.map(({ thickness_um }) => thickness_um)).toEqual([8900, 9000]);
    expect(kept[0]?.note).toContain('8.9 was “14.7” in the sheet');
    expect(kept[0]?.note).toContain('9.0 was “14.8” in the sheet');
  });

  it.each([
    ['32nds', (mm: number) => `${Math.round(mm / 0.79375)}/32`, /^1[12]\/32$/],
    ['a decimal comma', (mm: number) => `"${mm.toFixed(1).replace('.', ',')}"`, /^(8,9|9,[01])$/],
    ['inches with their sign', (mm: number) => `${(mm / 25.4).toFixed(3)} in`, /^0\.3[56]\d in$/],
  ])('are offered without it in the sheet’s own writing: %s', async (_, write, like) => {
    const id = await drop(ofPlates('P1', [5.8], write));
    await answer(id, { revision: 1, understanding: { ...said, thicknessUnit: 'mm', distanceUnit: 'mi' } }).expect(200);
    const row = (await look(id)).rows.find(({ line }) => line === 3);
    expect(row?.withoutPlate).toHaveLength(4);
    for (const { cell } of row?.withoutPlate ?? []) expect(cell).toMatch(like);
  });
});
