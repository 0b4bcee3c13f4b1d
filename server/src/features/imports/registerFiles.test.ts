import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
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

  it('on record with other figures are refused, not changed', async () => {
    const text = model((cells) =>
      cells.splice(0, 7, 'Fenby Hauler', 'pickup', '2350', '3400', '1', 'hydraulic sliding', '12'),
    );
    expect(refusals(await look(text))[0]?.message).toContain('on record with other figures');
  });

  it('on record are told their rotor’s diameter once, and never another', async () => {
    const told = (mm: string) => {
      const [head = '', row = ''] = model((cells) =>
        cells.splice(
          0,
          14,
          ...'Fenby Hauler,pickup,2350,3400,1,hydraulic sliding,11,5.8,2,32,30,30.4,2x51,0.7'.split(','),
        ),
      ).split('\n');
      return `${head},rotor_diameter_mm\n${row},${mm}\n`;
    };
    expect(refusals(await look(told('33')))[0]).toMatchObject({ at: 'rotor_diameter_mm' });
    expect(await look(told('330'))).toMatchObject({ records: 1, counts: { already: 0 } });
    const { understanding } = await look(told('330'));
    await coordinator
      .post('/api/imports')
      .send({ dryRun: false, fileName: 'd.csv', text: told('330'), understanding })
      .expect(200);
    expect(await look(told('330'))).toMatchObject({ records: 0, counts: { already: 1 } });
    expect(refusals(await look(told('340')))[0]?.message).toContain('on record with other figures');
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
