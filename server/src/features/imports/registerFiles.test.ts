import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Model } from '@mile-mark/contract/register';
import type { ImportPreview, ImportResult, Understanding } from '@mile-mark/contract/imports';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';

/** Lists with slips in them, a row a slip: each refused or questioned at its column, with a true reason. */

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
let stated: Partial<Understanding>;

beforeAll(async () => {
  test = await createTestApp();
  const { gaugeId } = await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
  stated = { technicianId: test.idOf('technician'), gaugeId };
});
afterAll(async () => test.close());

const look = async (text: string, understanding: Partial<Understanding> = {}) =>
  (await coordinator.post('/api/imports').send({ dryRun: true, fileName: 'x.csv', text, understanding }).expect(200))
    .body as ImportPreview;
const refusals = ({ rows, header }: ImportPreview) =>
  rows.flatMap(({ reasons }) =>
    reasons.map(({ column, message }) => ({ at: column === null ? null : header[column], message })),
  );

const MODELS =
  'model,class,tare_kg,gvwr_kg,axle,brake,pad_new_mm,backing_plate_mm,pad_maker_min_mm,rotor_new_mm,rotor_discard_mm,rotor_machine_to_mm,pistons_mm,brake_share\n';
const model = (change: (cells: string[]) => void) => {
  const cells = [
    'Lister Box',
    'van',
    '2200',
    '3500',
    '1',
    'hydraulic sliding',
    '12',
    '6',
    '2',
    '28',
    '26',
    '26.4',
    '2x48',
    '0.68',
  ];
  change(cells);
  return `${MODELS}${cells.join(',')}\n`;
};

describe('models', () => {
  it('are taken as they stand, rotor and pistons left out where blank', async () => {
    const { records, understanding } = await look(model((cells) => cells.fill('', 9, 13)));
    expect(understanding.kind).toBe('models');
    expect(records).toBe(1);
  });

  it.each([
    ['class', 1, 'lorry', /pickup, van or heavy truck/],
    ['tare_kg', 2, '-5', /300 to 60,000/],
    ['gvwr_kg', 3, '2000', /more than tare/],
    ['axle', 4, '1.5', /whole number/],
    ['axle', 4, '9', /1 to 6/],
    ['pad_new_mm', 6, '120', /3 to 40/],
    ['pad_maker_min_mm', 8, '12', /less than new/],
    ['brake_share', 13, '70', /0\.01 to 1/],
    ['model', 0, '', /blank/],
  ])('with a wrong %s (%s) are refused there', async (at, index, value, message) => {
    const found = refusals(await look(model((cells) => (cells[Number(index)] = String(value)))));
    expect(found.some((one) => one.at === at && message.test(one.message))).toBe(true);
  });

  const FENBY = 'Fenby Hauler,pickup,2350,3400,1,hydraulic sliding,11,5.8,2,32,30,30.4,2x51,0.7'.split(',');
  const fenby = (change: (cells: string[]) => void, diameter?: string) => {
    const own = [...FENBY];
    change(own);
    const [head = '', row = ''] = model((cells) => cells.splice(0, 14, ...own)).split('\n');
    return diameter === undefined ? `${head}\n${row}\n` : `${head},rotor_diameter_mm\n${row},${diameter}\n`;
  };
  const axleOnRecord = async () =>
    ((await coordinator.get('/api/models')).body as { items: Model[] }).items.find(
      ({ name }) => name === 'Fenby Hauler',
    );

  it('on record with other figures are asked about, each from and to, and changed where the row is taken', async () => {
    const text = fenby((cells) => cells.splice(3, 4, '3500', '1', 'hydraulic sliding', '12'));
    const asked = await look(text);
    expect(asked.rows[0]).toMatchObject({ outcome: 'questioned', taken: false, takeable: true });
    expect(refusals(asked)[0]).toMatchObject({ at: 'gvwr_kg' });
    expect(refusals(asked)[0]?.message).toContain('GVWR 3400 kg, here 3500 kg; new pad 11 mm, here 12 mm.');
    const take = (file: string) =>
      coordinator
        .post('/api/imports')
        .send({ fileName: 'm.csv', text: file, choices: { 2: 'take' } })
        .expect(200);
    expect((await take(text)).body).toMatchObject({ records: 1 });
    expect(await axleOnRecord()).toMatchObject({ gvwrKg: 3500, axles: [{ padNewMm: 12 }, { padNewMm: 10 }] });
    await take(fenby(() => undefined));
    expect(await axleOnRecord()).toMatchObject({ gvwrKg: 3400, axles: [{ padNewMm: 11 }, { padNewMm: 10 }] });
    expect((await look(fenby(() => undefined))).counts).toMatchObject({ already: 1 });
  });

  it.each([
    ['rotor_discard_mm', 10, '29', 'rotor discard 30 mm, here 29 mm'],
    ['pistons_mm', 12, '2x48', 'pistons 2x51, here 2x48'],
    ['brake', 5, 'hydraulic fixed', 'brake hydraulic sliding, here hydraulic fixed'],
    ['brake_share', 13, '0.6', 'brake share 0.7, here 0.6'],
  ])('on record with another %s say so', async (at, index, value, message) => {
    const asked = refusals(await look(fenby((cells) => (cells[index] = value))));
    expect(asked[0]).toMatchObject({ at });
    expect(asked[0]?.message).toContain(message);
  });

  it('on record of the same build in other words say nothing', async () =>
    expect((await look(fenby((cells) => (cells[5] = 'hydraulic  Sliding caliper')))).counts).toMatchObject({
      already: 1,
    }));

  it('on record with a blank say nothing of it', async () =>
    expect((await look(fenby((cells) => (cells[10] = '')))).counts).toMatchObject({ already: 1 }));

  it('built otherwise are another model', async () => {
    expect(refusals(await look(fenby((cells) => (cells[1] = 'van'))))[0]).toMatchObject({ at: 'class' });
    expect(refusals(await look(fenby((cells) => (cells[5] = 'air disc'))))[0]).toMatchObject({ at: 'brake' });
  });

  it('on record are told their rotor’s diameter, and asked about another', async () => {
    const told = (mm: string) => fenby(() => undefined, mm);
    expect(refusals(await look(told('33')))[0]).toMatchObject({ at: 'rotor_diameter_mm' });
    expect(await look(told('330'))).toMatchObject({ records: 1, counts: { accepted: 1 } });
    await coordinator
      .post('/api/imports')
      .send({ fileName: 'd.csv', text: told('330') })
      .expect(200);
    expect(await look(told('330'))).toMatchObject({ records: 0, counts: { already: 1 } });
    expect(refusals(await look(told('340')))[0]?.message).toContain('rotor diameter 330 mm, here 340 mm');
  });

  it('with an axle twice in a file are refused the second time', async () => {
    const once = model(() => undefined);
    expect(refusals(await look(once + once.slice(MODELS.length)))[0]?.message).toContain('stands in line 2 already');
  });
});

const DUTIES =
  'duty,stops_per_mile,mph_before_stop,payload_share,descent_m_per_mile,retarder_share,towed_kg,miles_per_day\n';

describe('duties', () => {
  it.each([
    ['stops_per_mile', 'a,-1,35,0.3,1,0,0,70', /0 to 100/],
    ['mph_before_stop', 'a,1,350,0.3,1,0,0,70', /0 to 100/],
    ['payload_share', 'a,1,35,30,1,0,0,70', /0 to 1\.5/],
    ['retarder_share', 'a,1,35,0.3,1,40,0,70', /0 to 1/],
    ['miles_per_day', 'a,1,35,0.3,1,0,0,often', /not a number/],
    ['miles_per_day', 'a,1,35,0.3,1,0,0,1600', /0 to 1,?500/],
    ['duty', 'herd rounds,9,35,0.35,12,0.15,900,70', /other figures/],
  ])('with a wrong %s are refused there', async (at, row, message) => {
    const found = refusals(await look(`${DUTIES}${row}\n`));
    expect(found[0]).toMatchObject({ at });
    expect(found[0]?.message).toMatch(message);
  });
});

const VEHICLES = 'unit,model,depot,duty,duty_from,odometer\n';

describe('vehicles', () => {
  it.each([
    ['unit', ',Fenby Hauler,Far depot,herd rounds,2026-01-01,100'],
    ['model', 'P7,,Far depot,herd rounds,2026-01-01,100'],
    ['depot', 'P7,Fenby Hauler,,herd rounds,2026-01-01,100'],
    ['duty', 'P7,Fenby Hauler,Far depot,,2026-01-01,100'],
    ['duty', 'P7,Fenby Hauler,Far depot,no such,2026-01-01,100'],
    ['duty_from', 'P7,Fenby Hauler,Far depot,herd rounds,,100'],
    ['odometer', 'P7,Fenby Hauler,Far depot,herd rounds,2026-01-01,many'],
  ])('with a wrong %s are refused there, and nothing else is said of them', async (at, row) => {
    const found = refusals(await look(`${VEHICLES}${row}\n`));
    expect(found.map((one) => one.at)).toEqual([at]);
  });
});

const SERVICES = 'date,unit,odometer_mi,axle,fitted,sides\n';

describe('services', () => {
  it.each([
    ['unit', '2026-01-05,V99,35000,1,pads,both sides', /V99/],
    ['axle', '2026-01-05,P1,35000,4,pads,both sides', /no axle 4/],
    ['fitted', '2026-01-05,P1,35000,1,calipers,both sides', /pads, rotors/],
    ['sides', '2026-01-05,P1,35000,1,pads,left', /both sides/],
    ['odometer_mi', '2026-01-05,P1,1000,1,pads,both sides', /doesn't fall/],
    ['date', '2027-01-05,P1,35000,1,pads,both sides', /future/],
  ])('with a wrong %s are stopped there', async (at, row, message) => {
    const preview = await look(`${SERVICES}${row}\n`);
    expect(preview.rows[0]?.taken).toBe(false);
    expect(refusals(preview).some((one) => one.at === at && message.test(one.message))).toBe(true);
  });

  it('twice in a file are questioned, and count once', async () => {
    const row = '2026-01-05,P1,35000,1,pads and discs,both sides\n';
    const { rows, records } = await look(SERVICES + row + row);
    expect(records).toBe(1);
    expect(rows[1]).toMatchObject({ outcome: 'questioned', taken: false });
  });
});

describe('how a sheet of readings is read can be changed', () => {
  const sheet = 'Date;Unit;Odometer;Wheel;Inner;Outer\n03.04.2026;P1;40 000;NSF;8,5;8,4\n';

  it('wheel names that are not known are refused until they are said', async () => {
    expect(refusals(await look(sheet, stated))[0]?.message).toContain('“NSF” is not a wheel name');
    const said = await look(sheet, { ...stated, wheelNames: { NSF: { axle: 1, side: 'left' } } });
    expect(said.counts).toMatchObject({ accepted: 1 });
    expect(said.records).toBe(2);
  });

  it('day and month swap when the order is changed', async () => {
    const wheelNames = { NSF: { axle: 1, side: 'left' as const } };
    const dayOf = async (dateOrder: 'DMY' | 'MDY') => {
      const id = randomUUID();
      await coordinator.post('/api/imports').send({
        id,
        fileName: 's.csv',
        text: sheet.replace('8,5', dateOrder === 'DMY' ? '8,5' : '8,3'),
        understanding: { ...stated, wheelNames, dateOrder, distanceUnit: 'mi' },
      });
      const [row] = await test.orm.em
        .fork()
        .execute<{ on: string }[]>('select measured_on::text as on from inspection where import_id = ?', [id]);
      return row?.on;
    };
    expect(await dayOf('MDY')).toBe('2026-03-04');
    expect(await dayOf('DMY')).toBe('2026-04-03');
  });

  it('a column can be told to be another, or not used', async () => {
    const text = 'wann,wer,stand,achse,seite,belag,dicke\n2026-05-04,P1,41000,1,left,inner,8.2\n';
    const fields = ['date', 'unit', 'odometer', 'axle', 'side', 'pad', 'thickness'];
    const columns =
      text
        .split('\n')[0]
        ?.split(',')
        .map((header, index) => ({ header, field: fields[index] ?? 'ignore' })) ?? [];
    expect(await look(text, { ...stated, kind: 'readings', columns })).toMatchObject({ needs: [], records: 1 });
    const without = columns.map((column) => (column.field === 'thickness' ? { ...column, field: 'ignore' } : column));
    expect((await look(text, { ...stated, kind: 'readings', columns: without })).needs[0]).toMatchObject({
      kind: 'column',
      name: 'thickness',
    });
  });
});

describe('a list of vehicles that says otherwise than the record', () => {
  const HEAD = 'unit,model,depot,duty,duty_from,odometer_mi_at_start\n';
  const row = (depot: string, duty: string, from: string, odometer: string) =>
    `Q1,Fenby Hauler,${depot},${duty},${from},${odometer}\n`;
  const takeIn = async (text: string, choices: Record<string, 'take' | 'leave'> = {}) =>
    (await coordinator.post('/api/imports').send({ fileName: 'v.csv', text, choices }).expect(200))
      .body as ImportResult;
  const depotOf = async () => ((await coordinator.get('/api/vehicles/Q1')).body as { depot: string }).depot;

  const twice =
    HEAD +
    row('Hill depot', 'herd rounds', '2026-02-01', '9000') +
    row('Low yard', 'street delivery', '2026-05-01', '');

  it('follows the depot of the latest row, in whatever order the rows stand', async () => {
    const [head = '', first = '', second = ''] = twice.split('\n');
    expect(await takeIn([head, second.replace(/,$/, ',15000'), first, ''].join('\n'))).toMatchObject({ records: 2 });
    expect(await depotOf()).toBe('Low yard');
  });

  it('adds nothing a second time, and asks nothing', async () => {
    const { counts, rows } = await look(twice);
    expect(rows.map(({ outcome }) => outcome)).toEqual(['already', 'already']);
    expect(counts).toMatchObject({ already: 2, questioned: 0 });
  });

  it('asks about another depot, from and to, and moves the vehicle where it is taken', async () => {
    const text = HEAD + row('Hill depot', 'street delivery', '2026-05-01', '');
    const { rows, records } = await look(text);
    expect(rows[0]).toMatchObject({ outcome: 'questioned', taken: false, takeable: true });
    expect(rows[0]?.reasons[0]?.message).toBe(
      'Q1 is on record at Low yard; the row says Hill depot. Taken, it moves there.',
    );
    expect(records).toBe(0);
    expect(await takeIn(text)).toMatchObject({ records: 0, open: 1 });
    expect(await depotOf()).toBe('Low yard');
    expect(await takeIn(text, { 2: 'take' })).toMatchObject({ records: 1 });
    expect(await depotOf()).toBe('Hill depot');
    const periods = (await coordinator.get('/api/vehicles/Q1')).body as { dutyPeriods: unknown[] };
    expect(periods.dutyPeriods).toHaveLength(2);
  });

  it('tells another odometer of a day on record and keeps the one there', async () => {
    const { rows } = await look(HEAD + row('Hill depot', 'herd rounds', '2026-02-01', '9800'));
    expect(rows[0]).toMatchObject({ outcome: 'questioned', taken: false, takeable: false });
    expect(rows[0]?.reasons[0]?.message).toContain('9,000 mi on that day; the row says 9,800 mi');
  });
});
