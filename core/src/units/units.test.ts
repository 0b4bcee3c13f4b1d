import { describe, expect, it } from '@jest/globals';
import Qty from 'js-quantities';
import fc from 'fast-check';
import {
  figureOf,
  dateOfDay,
  dayNumber,
  dependsOnOrder,
  KG_PER_POUND,
  lbfFtToNm,
  METRES_PER_MILE,
  metresToMiles,
  milesToMetres,
  MM_PER_32ND,
  MM_PER_INCH,
  MPS_PER_MPH,
  NM_PER_LBF_FT,
  nmToLbfFt,
  parseDate,
  parseDistance,
  parseNumber,
  parseThickness,
  STANDARD_GRAVITY,
  thicknessIn,
} from './index.ts';

const mm = (typed: string, unit: 'mm' | 'in' | '1/32 in' = 'mm', mark?: '.' | ',') => {
  const parsed = parseThickness(typed, { unit, mark });
  return parsed.ok ? parsed.value.mm : parsed.failure.code;
};
const miles = (typed: string, unit: 'mi' | 'km' = 'mi', mark?: '.' | ',') => {
  const parsed = parseDistance(typed, { unit, mark });
  return parsed.ok ? metresToMiles(parsed.value.metres) : parsed.failure.code;
};

describe('factors', () => {
  // NIST SP 811 (2008), Appendix B.8: mile 1.609344 E+03 m, inch 2.54 E+00 cm, pound 4.5359237 E-01 kg,
  // foot pound-force 1.355818 E+00 J, standard gravity 9.80665 m/s². (From memory.)
  it('are those of NIST SP 811', () => {
    expect(METRES_PER_MILE).toBe(1609.344);
    expect(MM_PER_INCH).toBe(25.4);
    expect(MM_PER_32ND).toBe(0.79375);
    expect(KG_PER_POUND).toBe(0.45359237);
    expect(STANDARD_GRAVITY).toBe(9.80665);
    expect(NM_PER_LBF_FT).toBeCloseTo(1.355817948331, 12);
    expect(MPS_PER_MPH).toBeCloseTo(0.44704, 12);
  });

  // A general unit library: js-quantities.
  it.each([
    ['mi', 'm', METRES_PER_MILE],
    ['in', 'mm', MM_PER_INCH],
    ['lbs', 'kg', KG_PER_POUND],
    ['mph', 'm/s', MPS_PER_MPH],
  ])('agree with js-quantities: 1 %s in %s', (from, to, factor) => {
    expect(Qty(1, from).to(to).scalar / factor).toBeCloseTo(1, 9);
  });

  it('turn torque both ways', () => {
    expect(nmToLbfFt(lbfFtToNm(155))).toBeCloseTo(155, 12);
    // js-quantities keeps six digits of the pound-force.
    expect(lbfFtToNm(130) / Qty('130 ft').mul('1 lbf').to('N*m').scalar).toBeCloseTo(1, 6);
  });

  it('make 65,000 km 40,389 miles', () => {
    expect(Math.round(metresToMiles(65_000_000))).toBe(40_389);
    expect(milesToMetres(1)).toBe(METRES_PER_MILE);
  });
});

describe('thickness as typed', () => {
  it.each([
    ['8.5', 8.5],
    ['8,5', 8.5],
    [' 8.5mm ', 8.5],
    ['8.5 mm', 8.5],
    ['11/32', 11 * 0.79375],
    ['11/32 in', 11 * 0.79375],
    ['11/32"', 11 * 0.79375],
    ['1 1/16"', 17 * 1.5875],
    ['0.33"', 0.33 * 25.4],
    ['11 32nds', 11 * 0.79375],
    ['0', 0],
  ])('%s is %s mm', (typed, expected) => {
    expect(mm(typed)).toBeCloseTo(expected, 10);
  });

  it('reads whole figures in the unit of the person', () => {
    expect(mm('11', '1/32 in')).toBeCloseTo(8.73125, 10);
    expect(mm('0.33', 'in')).toBeCloseTo(8.382, 10);
  });

  it.each([
    ['', 'empty'],
    ['n/a', 'not_a_number'],
    ['-1', 'negative'],
    ['−1', 'negative'],
    ['-5/32', 'negative'],
    ['11/23', 'fraction_denominator'],
    ['11/32 mm', 'unit_contradicts'],
    ['8.5 cm', 'unit_unknown'],
    ['8,500', 'ambiguous'],
    ['8..5', 'not_a_number'],
    ['=HYPERLINK("x")', 'not_a_number'],
  ])('refuses “%s” as %s', (typed, code) => {
    expect(mm(typed)).toBe(code);
  });

  it('settles 8,500 where the sheet’s decimal mark is known', () => {
    expect(mm('8,500', 'mm', ',')).toBe(8.5);
  });

  it('tells a fraction that no gauge shows by what stands over and under its line', () => {
    expect(parseThickness('11/23', { unit: '1/32 in' })).toEqual({
      ok: false,
      failure: { quantity: 'thickness', code: 'fraction_denominator', typed: '11/23', over: '11', under: '23' },
    });
  });

  it('reads the figure of a field: nothing where it is blank, no number where it could be two', () => {
    expect(figureOf('  ')).toBeUndefined();
    expect(figureOf('8,5')).toBe(8.5);
    expect(figureOf('1,200')).toBeNaN();
    expect(figureOf('1,200', { thousandsLikely: true })).toBe(1200);
    expect(figureOf('1,200', { mark: ',' })).toBe(1.2);
    expect(figureOf('1.200', { thousandsLikely: true })).toBeNaN();
    expect(figureOf('thick')).toBeNaN();
  });

  it('gives back any thickness it prints, in any unit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 960 }),
        fc.constantFrom('mm' as const, 'in' as const, '1/32 in' as const),
        (steps, unit) => {
          const thickness = steps / 32;
          const figure = thicknessIn(thickness, unit).toFixed(9);
          expect(mm(figure, unit)).toBeCloseTo(thickness, 6);
        },
      ),
    );
  });
});

describe('odometers as typed', () => {
  it.each([
    ['41200', 'mi', 41_200],
    ['41,200 mi', 'km', 41_200],
    ['41,200', 'mi', 41_200],
    ['1,041,200', 'mi', 1_041_200],
    ['65 000 km', 'mi', 65_000 / 1.609344],
    ['65\u00a0000', 'km', 65_000 / 1.609344],
    ['52475', 'km', 52_475 / 1.609344],
  ] as const)('%s in %s is %s mi', (typed, unit, expected) => {
    expect(miles(typed, unit)).toBeCloseTo(expected, 6);
  });

  it.each([
    ['', 'empty'],
    ['-5', 'negative'],
    ['41.200', 'ambiguous'],
    ['12 furlongs', 'unit_unknown'],
    ['9999999999', 'out_of_range'],
    ['about 40', 'not_a_number'],
  ])('refuses “%s” as %s', (typed, code) => {
    expect(miles(typed)).toBe(code);
  });
});

describe('numbers', () => {
  it.each([
    ['1.234,5', 1234.5],
    ['1,234.5', 1234.5],
    ['12 345', 12_345],
    [',5', 0.5],
    ['0.125', 0.125],
  ])('%s is %s', (typed, expected) => {
    expect(parseNumber(typed)).toEqual({ ok: true, value: expected });
  });
});

describe('dates', () => {
  it.each([
    ['2026-02-20', 'MDY', '2026-02-20'],
    ['18.08.2025', 'DMY', '2025-08-18'],
    ['12/01/2025', 'MDY', '2025-12-01'],
    ['29/02/2024', 'DMY', '2024-02-29'],
    ['3 Apr 2026', 'MDY', '2026-04-03'],
    ['Apr 3, 2026', 'DMY', '2026-04-03'],
    ['3-Apr-26', 'MDY', '2026-04-03'],
    ['Fri, 3 April 2026', 'YMD', '2026-04-03'],
    ['03. März 2026', 'MDY', '2026-03-03'],
    ['2026 déc. 1', 'MDY', '2026-12-01'],
    ['2026-04-03T23:20:00.000Z', 'DMY', '2026-04-03'],
    ['3/4/26 14:20', 'DMY', '2026-04-03'],
    ['3/4/2026 2:20 PM', 'MDY', '2026-03-04'],
    ['20260403', 'MDY', '2026-04-03'],
    // Day 1 of 2008 is 39448 in spreadsheets (ECMA-376, part 1, 18.17.4.1; from memory).
    ['39448', 'MDY', '2008-01-01'],
    ['39448.75', 'MDY', '2008-01-01'],
  ] as const)('%s read %s is %s', (typed, order, expected) => {
    expect(parseDate(typed, order)).toEqual({ ok: true, value: expected });
  });

  it.each([
    ['18.13.2025', 'DMY'],
    ['02/30/2026', 'MDY'],
    ['29.02.2025', 'DMY'],
    ['yesterday', 'YMD'],
    ['3 Foo 2026', 'DMY'],
    ['31 Apr 2026', 'DMY'],
    ['3 Apr May 2026', 'DMY'],
    ['03.04-2026', 'DMY'],
    ['20261304', 'YMD'],
    ['4608', 'YMD'],
    ['', 'YMD'],
  ] as const)('refuses %s', (typed, order) => {
    expect(parseDate(typed, order).ok).toBe(false);
  });

  it('tells which dates hang on the order of their numbers', () => {
    expect(['3/4/26', '03.04.2026', '1-2-2026 07:45'].map(dependsOnOrder)).toEqual([true, true, true]);
    expect(['2026-04-03', '3 Apr 2026', '46115', '20260403', ''].some(dependsOnOrder)).toBe(false);
  });

  it('reads back every day it can be told by a spreadsheet’s number or a month’s name', () => {
    const month = new Intl.DateTimeFormat('en-GB', {
      day: 'numeric',
      month: 'short',
      year: 'numeric',
      timeZone: 'UTC',
    });
    fc.assert(
      fc.property(fc.integer({ min: 7400, max: 40_000 }), (day) => {
        const date = dateOfDay(day);
        expect(parseDate(String(day + 25_569), 'DMY')).toEqual({ ok: true, value: date });
        expect(parseDate(month.format(new Date(day * 86_400_000)), 'MDY')).toEqual({ ok: true, value: date });
      }),
    );
  });

  it('counts days across a leap day and back', () => {
    expect(dayNumber('2024-03-01') - dayNumber('2024-02-28')).toBe(2);
    expect(dateOfDay(dayNumber('2026-11-20'))).toBe('2026-11-20');
  });
});
