import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportDetail, ImportPreview, ImportResult, Understanding } from '@mile-mark/contract/imports';
import { decode, defuse, guessDelimiter, readCsv, writeCsv } from '../../platform/documents/csv.ts';
import { createTestApp, fillSmallFleet, PAPERS, type TestApp } from '../../testing/app.ts';

const bytes = (text: string, encoding: BufferEncoding = 'utf8') => Buffer.from(text, encoding);

describe('reading CSV', () => {
  it('finds the delimiter, also where cells hold commas', () => {
    expect(guessDelimiter('a;b;c\n1,5;2,5;3\n')).toBe(';');
    expect(guessDelimiter('a,b\n"1,000",2\n"2,000",3')).toBe(',');
    expect(guessDelimiter('a\tb\n1\t2')).toBe('\t');
  });

  it('reads Latin-1 bytes as such and says so, UTF-8 with or without a mark as UTF-8', () => {
    expect(decode(bytes('Größe', 'latin1'))).toEqual({ text: 'Größe', encoding: 'windows-1252' });
    expect(readCsv(bytes('a,b\nGröße,1\n', 'latin1')).notes[0]).toContain('Latin-1');
    expect(readCsv(bytes('\ufeffa,b\nGröße,1\n')).header).toEqual(['a', 'b']);
  });

  it('tells the line of each record, past quoted line breaks', () => {
    const { records } = readCsv(bytes('a,b\n"x\ny",1\nz,2\n'));
    expect(records.map(({ line }) => line)).toEqual([2, 4]);
  });

  it('loses no line to a wrong quote: that line has a fault, the others are read', () => {
    const { records } = readCsv(bytes('a,b\n1,2\n"3,4\n5,6\n'));
    expect(records).toHaveLength(3);
    expect(records[1]?.fault).toContain('quotation mark');
    expect(records[2]?.cells).toEqual(['5', '6']);
  });

  it('faults a row with more cells than the header, fills one with fewer', () => {
    const { records } = readCsv(bytes('a,b\n1,2,3\n4\n'));
    expect(records[0]?.fault).toContain('3 cells');
    expect(records[1]?.cells).toEqual(['4', '']);
  });

  it('reads UTF-16 with and without its mark, lines ended by CR, and a line that tells the delimiter', () => {
    const text = 'a;b\rGröße;1\r';
    for (const marked of [`\ufeff${text}`, text])
      expect(readCsv(Buffer.from(marked, 'utf16le')).records[0]).toEqual({ line: 2, cells: ['Größe', '1'] });
    expect(readCsv(Buffer.from(`\ufeff${text}`, 'utf16le').swap16()).encoding).toBe('utf-16be');
    expect(readCsv(bytes('sep=|\na,b|c\n1|2\n'))).toMatchObject({
      delimiter: '|',
      header: ['a,b', 'c'],
      records: [{ line: 3, cells: ['1', '2'] }],
    });
  });

  it('refuses an empty file and one that is not text', () => {
    expect(() => readCsv(bytes(''))).toThrow(/empty/);
    expect(() => readCsv(Buffer.from([0x61, 0, 0x62]))).toThrow(/not a text file/);
  });
});

describe('writing CSV', () => {
  it.each([
    ['=HYPERLINK("x")', `'=HYPERLINK("x")`],
    ['+1+1', `'+1+1`],
    ['@SUM(A1)', `'@SUM(A1)`],
    ['-2.5', '-2.5'],
    ['plain', 'plain'],
    [-3, -3],
  ])('defuses %s', (cell, expected) => expect(defuse(cell)).toBe(expected));

  it('can be read back', () => {
    const rows = [
      ['a "quoted", cell', '2'],
      ['line\nbreak', ''],
    ];
    expect(readCsv(bytes(writeCsv(['x', 'y'], rows, ';'))).records.map(({ cells }) => cells)).toEqual(rows);
  });
});

describe('imports', () => {
  let test: TestApp;
  let coordinator: Awaited<ReturnType<TestApp['as']>>;
  let stated: Partial<Understanding>;

  beforeAll(async () => {
    test = await createTestApp();
    const { gaugeId } = await fillSmallFleet(test);
    coordinator = await test.as('coordinator');
    stated = { technicianId: test.idOf('technician'), gaugeId, thicknessUnit: 'mm' };
  });
  afterAll(async () => test.close());

  const HEADER = 'date,unit,odometer,axle,side,pad,thickness\n';
  const preview = async (text: string, more: object = {}) =>
    (
      await coordinator
        .post('/api/imports')
        .send({ dryRun: true, fileName: 's.csv', text: HEADER + text, understanding: stated, ...more })
        .expect(200)
    ).body as ImportPreview;
  const commit = async (text: string, more: object = {}) =>
    (
      await coordinator
        .post('/api/imports')
        .send({ fileName: 's.csv', text: HEADER + text, understanding: stated, ...more })
        .expect(200)
    ).body as ImportResult;

  it('say what is still to be said, and are not taken before', async () => {
    const asked = await preview('2026-01-05,P1,35000,1,left,inner,9\n', { understanding: {} });
    expect(asked.needs.map(({ kind }) => kind)).toEqual(['technician', 'gauge', 'thicknessUnit']);
    const answer = await coordinator
      .post('/api/imports')
      .send({ fileName: 's.csv', text: `${HEADER}2026-01-05,P1,35000,1,left,inner,9\n` });
    expect(answer.status).toBe(422);
    expect(answer.body.errors[0].field).toBe('understanding.technician');
  });

  it('ask which column is what where the header does not tell', async () => {
    const { body } = await coordinator
      .post('/api/imports')
      .send({ dryRun: true, fileName: 's.csv', text: 'wann,wer,was\n1,2,3\n' });
    expect((body as ImportPreview).needs.filter(({ kind }) => kind === 'column').map(({ name }) => name)).toEqual([
      'date',
      'unit',
      'odometer',
      'wheel',
      'thickness',
    ]);
  });

  it.each([
    ['2026-13-05,P1,35000,1,left,inner,9', 0, /not a day/],
    ['2026-12-05,P1,35000,1,left,inner,9', 0, /future/],
    ['2026-01-05,V99,35000,1,left,inner,9', 1, /V99/],
    ['2026-01-05,P9,35000,1,left,inner,9', 1, /there are P1, P2, …/],
    ['2026-11-21,P1,35000,1,left,inner,9', 0, /future/],
    ['2026-01-05,P1,35000,1,left,inner,22', 6, /up to 21\.8 mm/],
    ['2026-01-05,P1,minus,1,left,inner,9', 2, /not an odometer/],
    ['2026-01-05,P1,35000,3,left,inner,9', 3, /no axle 3/],
    ['2026-01-05,P1,35000,1,middle,inner,9', 4, /left or right/],
    ['2026-01-05,P1,35000,1,left,inner,-1', 6, /below zero/],
    ['2026-01-05,P1,35000,1,left,inner,85', 6, /8\.5/],
    ['2026-01-05,P1,35000,1,left,inner,11/23', 6, /23 under the line/],
    ['2026-01-05,P1,35000,1,left,inner,"=HYPERLINK(""x"")"', 6, /not a thickness/],
  ])('refuse %s at its column', async (row, column, message) => {
    const { rows, records } = await preview(`${row}\n`);
    expect(rows[0]).toMatchObject({ outcome: 'refused', taken: false, line: 2 });
    expect(rows[0]?.reasons.some((reason) => reason.column === column && message.test(reason.message))).toBe(true);
    expect(records).toBe(0);
  });

  it('propose the figure that a missing decimal mark or another fraction would make', async () => {
    const { rows } = await preview('2026-01-05,P1,35000,1,left,inner,85\n2026-01-05,P1,35000,1,left,outer,11/23\n');
    expect(rows.map(({ reasons }) => reasons[0]?.suggestion)).toEqual(['8.5', '11/32']);
  });

  it('refuse a row that is broken as CSV, and say how', async () => {
    const { rows, records } = await preview('2026-01-05,P1,35000,1,left,inner,9,surplus\n');
    expect(rows[0]).toMatchObject({ outcome: 'refused', taken: false });
    expect(rows[0]?.reasons[0]).toMatchObject({ column: null, outcome: 'refused' });
    expect(rows[0]?.reasons[0]?.message).toContain('8 cells');
    expect(records).toBe(0);
  });

  it('refuse a row with a cell longer than anybody writes, and take a cell as long as is accepted', async () => {
    const noted = (length: number) => `2026-01-05,P1,35000,1,left,inner,9,${'x'.repeat(length)}\n`;
    const text = `${HEADER.trim()},note\n${noted(5000)}${noted(5001)}`;
    const { rows } = await preview('', { text });
    expect(rows.map(({ taken }) => taken)).toEqual([true, false]);
    expect(rows[1]?.reasons[0]?.message).toMatch(/5,001 characters; up to 5,000 are accepted/);
    expect(rows[1]?.cells.at(-1)?.length).toBeLessThan(100);
  });

  it('do not refuse what was measured today, nor a thickness that pad, plate and a slip may make', async () => {
    const { rows } = await preview('2026-11-20,P1,52000,1,left,inner,5\n2026-01-05,P1,35000,1,left,outer,21.5\n');
    expect(rows.flatMap(({ reasons }) => reasons.map(({ outcome }) => outcome))).not.toContain('refused');
  });

  it('take the good part of a row whose other cell is refused', async () => {
    const text =
      'Date,Unit,Miles,Axle,Left inner,Left outer,Right inner,Right outer\n01/05/2026,P2,"56,000",2,9.1,11/23,9.2,9.0\n';
    const { body } = await coordinator
      .post('/api/imports')
      .send({ dryRun: true, fileName: 'w.csv', text, understanding: { ...stated, thicknessUnit: 'mm' } });
    expect(body as ImportPreview).toMatchObject({ records: 3, rows: [{ outcome: 'refused', taken: true }] });
  });

  it('read a unit typed otherwise and say so', async () => {
    const { rows } = await preview('2026-01-05, p1,35000,1,left,inner,9\n');
    expect(rows[0]).toMatchObject({ outcome: 'accepted', notes: ['“ p1” was read as P1.'] });
  });

  it('put in each reading once: the same row twice is questioned, the same file twice is already in', async () => {
    const text = '2026-01-05,P1,35000,1,left,inner,9\n2026-01-05,P1,35000,1,left,inner,9\n';
    const first = await commit(text);
    expect(first).toMatchObject({ records: 1, open: 1, counts: { accepted: 1, questioned: 1 } });
    const second = await commit(text);
    expect(second).toMatchObject({ records: 0, counts: { accepted: 0 } });
  });

  it('answer a file sent again as they answered the first time, and refuse another under its id', async () => {
    const text = HEADER + '2026-01-06,P1,35040,1,left,inner,9\n';
    const request = { id: randomUUID(), fileName: 's.csv', text, understanding: stated };
    const { body: first } = await coordinator.post('/api/imports').send(request).expect(200);
    expect(first).toMatchObject({ id: request.id, records: 1 });
    expect((await coordinator.post('/api/imports').send(request).expect(200)).body).toEqual(first);
    await coordinator
      .post('/api/imports')
      .send({ ...request, fileName: 't.csv' })
      .expect(409);
  });

  it('of one file by two people at once put in each reading once', async () => {
    const text = ['left', 'right'].map((side) => `2026-01-12,P1,35500,2,${side},inner,8.8\n`).join('');
    const results = await Promise.all([commit(text), commit(text)]);
    expect(results.map(({ records }) => records).sort()).toEqual([0, 2]);
  });

  it('question kilometres among miles, do not take them as typed, and take them mended', async () => {
    const text =
      '2026-03-02,P1,38000,1,left,inner,8.8\n2026-03-02,P1,38000,1,left,outer,8.8\n2026-03-02,P1,61155,1,right,inner,8.7\n';
    const { rows } = await preview(text);
    const row = rows.find(({ line }) => line === 4);
    expect(row).toMatchObject({ outcome: 'questioned', taken: false, takeable: false });
    expect(row?.reasons[0]?.suggestion).toBe('38000');
    expect((await preview(text, { choices: { 4: 'take' } })).records).toBe(2);
    const mended = await preview(text, { edits: { 4: ['2026-03-02', 'P1', '38000', '1', 'right', 'inner', '8.7'] } });
    expect(mended.records).toBe(3);
    const { id } = await commit(text);
    const refused = await coordinator.post(`/api/imports/${id}/rows/4`).send({ action: 'take' }).expect(200);
    expect(refused.body.done).toBe(false);
    const taken = await coordinator
      .post(`/api/imports/${id}/rows/4`)
      .send({ action: 'take', cells: ['2026-03-02', 'P1', '38000', '1', 'right', 'inner', '8.7'] });
    expect(taken.body.done).toBe(true);
    expect((await coordinator.post(`/api/imports/${id}/rows/4`).send({ action: 'dismiss' })).status).toBe(409);
    const detail = (await coordinator.get(`/api/imports/${id}`)).body as ImportDetail;
    expect(detail.rows).toEqual([]);
  });

  it('question the backing plate but take it as typed', async () => {
    const text = '2026-03-16,P1,39000,1,left,inner,8.7\n2026-03-16,P1,39000,1,left,outer,14.4\n';
    const { rows, records } = await preview(text);
    expect(records).toBe(2);
    expect(rows[1]).toMatchObject({ outcome: 'questioned', taken: true });
    expect(rows[1]?.reasons[0]?.message).toContain('Was the backing plate included?');
  });

  it('keep rows not taken for download, with formulas defused', async () => {
    const { id } = await commit('2026-04-06,P1,39900,1,left,inner,"=cmd()"\n');
    const answer = await coordinator.get(`/api/imports/${id}/open.csv`).expect(200);
    expect(answer.text).toContain(`'=cmd()`);
    expect(answer.text).toContain('why not taken');
  });

  it('remember how a sheet is read, not who measured it', async () => {
    await commit('2026-05-04,P1,41500,1,left,inner,8.2\n', { understanding: { ...stated, distanceUnit: 'mi' } });
    const { remembered, understanding } = await preview('2026-05-05,P1,41600,1,left,inner,8.2\n', {
      understanding: {},
    });
    expect(remembered).toBe(true);
    expect(understanding).toMatchObject({ technicianId: null, gaugeId: null, thicknessUnit: 'mm' });
    const { technicianId = null } = stated;
    const his = await preview('2026-05-05,P1,41600,1,left,inner,8.2\n', { understanding: { technicianId } });
    expect(his).toMatchObject({ needs: [], understanding: stated });
  });

  it('take in nothing where the gauge stated is not on record', async () => {
    const before = await test.orm.em.fork().execute<{ count: number }[]>('select count(*)::int as count from reading');
    const text = '2026-06-01,P1,43000,1,left,inner,8.1\n';
    const answer = await coordinator.post('/api/imports').send({
      id: randomUUID(),
      fileName: 's.csv',
      text: HEADER + text,
      understanding: { ...stated, gaugeId: randomUUID() },
    });
    expect(answer.status).toBe(422);
    const after = await test.orm.em.fork().execute<{ count: number }[]>('select count(*)::int as count from reading');
    expect(after).toEqual(before);
  });

  it('of vehicles close the duty before and enter depots they name', async () => {
    const text = `unit,model,depot,duty,duty_from,odometer\nP3,Fenby Hauler,Far depot,herd rounds,2026-01-01,100\nP3,Fenby Hauler,Far depot,street delivery,2026-03-01,\nP4,Nothing Such,Far depot,herd rounds,2026-01-01,100\n`;
    const understanding = { distanceUnit: 'mi' };
    const { body } = await coordinator
      .post('/api/imports')
      .send({ fileName: 'v.csv', text, understanding })
      .expect(200);
    expect(body).toMatchObject({ records: 2, open: 1 });
    const detail = (await coordinator.get('/api/vehicles/P3')).body;
    expect(detail.depot).toBe('Far depot');
    expect(detail.dutyPeriods).toMatchObject([
      { from: '2026-01-01', to: '2026-03-01' },
      { from: '2026-03-01', to: null },
    ]);
    expect(
      (await coordinator.post('/api/imports').send({ fileName: 'v.csv', text, understanding })).body,
    ).toMatchObject({
      records: 0,
      counts: { already: 2 },
    });
  });

  it('of the register are the coordinator’s', async () => {
    const technician = await test.as('technician');
    const answer = await technician
      .post('/api/imports')
      .send({ fileName: 'd.csv', text: PAPERS.duties.replace('herd rounds', 'other rounds') });
    expect(answer.status).toBe(403);
  });

  it('refuse what is not base64 text or over 10 MB by name', async () => {
    const big = await coordinator.post('/api/imports').send({ fileName: 'a.csv', text: 'x'.repeat(17 * 1024 * 1024) });
    expect(big.body).toMatchObject({ status: 413, errors: [{ field: 'file' }] });
    const none = await coordinator.post('/api/imports').send({ fileName: 'a.csv' });
    expect(none.body.errors[0].field).toBe('contentBase64');
  });
});
