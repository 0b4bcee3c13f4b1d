import { describe, expect, it } from '@jest/globals';
import type { Understanding } from '@mile-mark/contract/imports';
import { dayNumber } from '@mile-mark/core';
import { PAPERS } from '../../../testing/app.ts';
import { guessKind } from './fields.ts';
import { headingOf } from './heading.ts';
import { placeOf } from './places.ts';
import { readSheet } from './sheet.ts';
import { filledTwice, mapColumns, understand as understandSheet } from './understand.ts';
import { dateOrderOf, distanceUnitOf, thicknessUnitOf } from './values.ts';

const TODAY = '2026-11-20';
const cells = (...texts: string[]) => texts.map((text, index) => ({ line: index + 2, text }));
const GROUND = { today: TODAY, mostMm: 21, recordOf: () => undefined };

async function understand(text: string | Buffer, stated: Partial<Understanding> = {}) {
  const sheet = await readSheet(Buffer.from(text as string), stated);
  const mapped = mapColumns(sheet, headingOf(sheet.rows, stated), stated);
  return { ...understandSheet(mapped, stated, {}, GROUND), mapped };
}

describe('understanding a sheet', () => {
  it('of decimal commas, day first, kilometres and wheel names', async () => {
    const { understanding: sheet, questions } = await understand(
      'Date;Unit;Odometer km;Wheel;Inner mm;Outer mm;Note\n18.08.2025;P1;43 464;LF;10,2;9,9;\n19.08.2025;P1;43 500;R2;9,2;8,9;\n',
    );
    expect(questions).toEqual([]);
    expect(sheet).toMatchObject({
      ...{
        kind: 'readings',
        decimalMark: ',',
        dateOrder: 'DMY',
        distanceUnit: 'km',
        thicknessUnit: 'mm',
        headerLine: 1,
      },
    });
    const fields = ['date', 'unit', 'odometer', 'wheel', 'inner', 'outer', 'note'];
    expect(sheet.columns.map(({ field }) => field)).toEqual(fields);
    expect(sheet.wheelNames).toEqual({
      LF: { axle: 1, side: 'left', pad: null },
      R2: { axle: 2, side: 'right', pad: null },
    });
  });

  it('of month first, thousands commas and 32nds', async () => {
    const { understanding: sheet } = await understand(
      'Date,Unit,Miles,Axle,Left inner,Left outer,Right inner,Right outer\n12/21/2025,P1,"34,168",1,12/32,12/32,12/32,11/32\n',
    );
    expect(sheet).toMatchObject({ dateOrder: 'MDY', distanceUnit: 'mi', thicknessUnit: '1/32 in' });
    expect(sheet.columns.map(({ field }) => field)).toEqual([
      ...['date', 'unit', 'odometer', 'axle', 'left_inner', 'left_outer', 'right_inner', 'right_outer'],
    ]);
  });

  it('tells the kinds of the lists apart', async () => {
    for (const [kind, text] of Object.entries(PAPERS))
      expect(guessKind(headingOf((await readSheet(Buffer.from(text))).rows).header)).toBe(kind);
    expect(guessKind(['something', 'else'])).toBeUndefined();
  });

  it('looks at the values of a column that a person mapped as at one the header named', async () => {
    const columns = ['date', 'unit', 'odometer', 'axle', 'left_inner'].map((field) => ({ header: '', field }));
    const { understanding } = await understand(
      'wann,was,wie weit,wo,wie dick\n31/04/2026,P1,40000,1,9.5\n30/04/2026,P1,40000,1,9.5\n',
      {
        columns,
      },
    );
    expect(understanding.dateOrder).toBe('DMY');
  });

  it('asks for the unit of the rows that a column of units leaves blank', async () => {
    const sheet = (unit: string) =>
      understand(
        `date,unit,miles,axle,left inner,unit of thickness\n2026-01-02,P1,5,1,9,mm\n2026-01-02,P1,5,2,9,${unit}\n`,
      );
    expect((await sheet('32nds')).questions).toEqual([]);
    expect((await sheet('')).questions.map(({ kind }) => kind)).toEqual(['thicknessUnit']);
  });

  it('lets no column be read by nobody', async () => {
    const columns = ['date', 'unit', 'odometer', 'odometer', 'note', 'note'].map((field) => ({ header: '', field }));
    const { mapped } = await understand('a,b,c,d,e,f\n2026-01-02,P1,1,2,x,y\n', { columns });
    expect(filledTwice(mapped).map(({ name }) => name)).toEqual(['odometer']);
  });

  it.each([
    ['title lines', 'Checks of spring\n\nNorth,2026\nDate,Unit,Miles,Axle,Inner\n2026-01-02,P1,5,1,9\n', 4, 2],
    ['no header', '2026-01-02,P1,41200,1,left,inner,9.5\n', 0, 0],
    ['words nobody knows', 'wann,wer,was\n1,2,3\n', 1, 0],
    ['a header only', 'Date,Unit,Miles,Axle,Inner\n', 1, 0],
  ])('finds the header past %s', async (_, text, headerLine, above) => {
    const heading = headingOf((await readSheet(Buffer.from(text))).rows);
    expect(heading.headerLine).toBe(headerLine);
    expect(heading.leftOut).toHaveLength(above);
  });

  it('takes the line a person says for the header, and every line as a row where there is none', async () => {
    const { rows } = await readSheet(Buffer.from('Date,Unit\nx,y\n2026-01-02,P1\n'));
    expect(headingOf(rows, { headerLine: 2 })).toMatchObject({ header: ['x', 'y'], records: [{ line: 3 }] });
    expect(headingOf(rows, { headerLine: 0 }).records).toHaveLength(3);
  });
});

describe('the order of dates', () => {
  it.each([
    [['13/02/2026', '01/02/2026'], 'DMY'],
    [['02/13/2026', '01/02/2026'], 'MDY'],
    [['2026-02-13'], 'YMD'],
    // 12 November is today or before; 11 December is not yet.
    [['12/11/2026'], 'DMY'],
    [['26/04/03', '26/11/18'], 'YMD'],
    [['3.4.26'], 'DMY'],
    [['4/4/2026'], 'MDY'],
  ])('of %s is told', (texts, order) => {
    const finding = dateOrderOf(cells(...texts), TODAY);
    expect(finding).toMatchObject({ decided: true });
    if (order !== 'MDY' || texts.length > 1) expect(finding.value).toBe(order);
  });

  it.each([
    [['3/4/26', '5/6/26']],
    [['03-04-2026']],
    [['3/4/2012', '5/6/2012']],
    [['13/02/2026', '02/13/2026', '01/02/2026']],
  ])('of %s is asked, with each reading of it', (texts) => {
    const { decided, options } = dateOrderOf(cells(...texts), TODAY);
    expect(decided).toBe(false);
    expect(options.map(({ value }) => value)).toEqual(['MDY', 'DMY']);
    expect(new Set(options.map(({ example }) => example)).size).toBe(2);
  });

  it('may be told by days to come only where days may come', () => {
    expect(dateOrderOf(cells('12/11/2026'), TODAY, true).decided).toBe(false);
  });
});

describe('units', () => {
  it.each([
    [['8.6', '9.1'], 'mm'],
    [['.34', '.31'], 'in'],
    [['28', '27', '26'], undefined],
    [['9', '10', '11'], undefined],
    [['8.6', '11/32'], undefined],
  ])('of thicknesses %s are %s', (texts, unit) => {
    const finding = thicknessUnitOf(cells(...texts), undefined, { mostMm: 30 });
    expect(finding.decided ? finding.value : undefined).toBe(unit);
  });

  it('of figures over the thickest pad are what they can be', () => {
    expect(thicknessUnitOf(cells('26', '24'), undefined, { mostMm: 21 })).toMatchObject({
      decided: true,
      value: '1/32 in',
    });
    expect(thicknessUnitOf(cells('26', '24'), 'mm', { mostMm: 21 })).toMatchObject({ decided: false });
  });

  it('of odometers are told by the header, by the records of the vehicles, or asked', () => {
    const at = (...figures: [date: string, text: string][]) =>
      figures.map(([date, text], index) => ({ line: index + 2, text, unit: 'P1', date }));
    const record = { points: [{ day: dayNumber('2026-01-01'), miles: 40_000 }], milesPerDay: 100 };
    const unit = (cells: ReturnType<typeof at>, told?: 'mi' | 'km') => {
      const { decided, value } = distanceUnitOf(cells, told, () => record);
      return decided ? value : 'asked';
    };
    expect(unit(at(['2026-03-01', '46000']))).toBe('mi');
    expect(unit(at(['2026-03-01', '74,030']))).toBe('km');
    // 270 miles a day as miles, 10 as kilometres: the vehicle is known to do neither.
    expect(unit(at(['2026-03-01', '66000'], ['2026-05-01', '67000']))).toBe('asked');
    expect(unit(at(['2026-03-01', '74030']), 'mi')).toBe('asked');
    expect(unit(at(['2026-03-01', '74030']), 'km')).toBe('km');
    expect(distanceUnitOf(at(['2026-03-01', '46000']), undefined, () => undefined).decided).toBe(false);
    expect(distanceUnitOf(at(['2026-03-01', '46000']), 'km', () => undefined)).toMatchObject({
      decided: true,
      value: 'km',
    });
  });
});

describe('names of places', () => {
  it.each([
    ['LF', 1, 'left'],
    ['FL', 1, 'left'],
    ['rr', 'rear', 'right'],
    ['RL', 'rear', 'left'],
    ['FR', 1, 'right'],
    ['FR left', 1, 'left'],
    ['RR left', 'rear', 'left'],
    ['Left front', 1, 'left'],
    ['front-left wheel', 1, 'left'],
    ['Rad vorne links', 1, 'left'],
    ['Hinterrad rechts', 'rear', 'right'],
    ['L1', 1, 'left'],
    ['2R', 2, 'right'],
    ['A3L', 3, 'left'],
    ['Axle 2, right', 2, 'right'],
    ['axle2 l', 2, 'left'],
    ['VL', 1, 'left'],
    ['HR', 'rear', 'right'],
  ] as const)('%s is axle %s, %s', (name, axle, side) => expect(placeOf(name)).toEqual({ axle, side, pad: null }));

  it.each(['NSF', 'off side rear', 'left', 'front', 'L7', 'LFF', 'left front tyre', 'L R', '', 'drive left'])(
    '“%s” is not understood',
    (name) => expect(placeOf(name)).toBeUndefined(),
  );

  it('tell a pad where “in” stands beside “out”, inches or nothing else', () => {
    expect(placeOf('LF in', true)?.pad).toBe('inner');
    expect(placeOf('LF in')?.pad).toBeNull();
    expect(placeOf('L1 outer mm')?.pad).toBe('outer');
    expect(placeOf('LFi')?.pad).toBe('inner');
  });
});
