import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { brokenInWords, CONSTRAINTS_IN_WORDS, lookInWords, movedInWords, remedyInWords, visitInWords } from './plan.ts';

const said = {
  axles: [{ axle: 2, earlyDays: 12.4, chance: 0.03, lateDays: 0 }],
  better: undefined,
  outside: false,
  locked: false,
  sharesTrip: false,
  lent: undefined,
  currency: 'USD',
};

describe('why a visit is on its day', () => {
  it('names what is given up and risked of each axle', () => {
    expect(visitInWords(said)).toEqual([
      'Axle 2: 12 days of its pads given up; the chance of being below the limit by then is 3.0 %.',
    ]);
    // Never nought, and never certain: a forecast is neither.
    const saidOf = (chance: number) =>
      visitInWords({ ...said, axles: [{ axle: 1, earlyDays: 0, chance, lateDays: 0 }] })[0];
    expect(saidOf(0)).toMatch(/is under 0\.1 %\.$/);
    expect(saidOf(1)).toMatch(/is over 99\.9 %\.$/);
    expect(visitInWords({ ...said, axles: [{ axle: 1, earlyDays: 0, chance: 0.5, lateDays: 3 }] })[0]).toContain(
      '3 days past its risk target',
    );
  });

  it('says what a better day would have cost less, but never of what is locked', () => {
    const better = { date: '2026-12-04', more: 35.5, shut: false };
    expect(visitInWords({ ...said, better })[1]).toMatch(/^4 Dec 2026 would cost 35\.50 USD less by itself/);
    expect(visitInWords({ ...said, better: { ...better, shut: true } })[1]).toMatch(/has not the hours for it then/);
    expect(visitInWords({ ...said, better, locked: true })).not.toContainEqual(
      expect.stringContaining('less by itself'),
    );
  });

  it('says whose vehicle it is that another depot does, and what its way costs', () => {
    const lent = { from: 'Northfold', cost: 48.5, hours: 1.25 };
    expect(visitInWords({ ...said, lent })[1]).toMatch(/^A vehicle of Northfold: 48\.50 USD and 1\.3 h for the way/);
    expect(visitInWords(said)).toHaveLength(1);
  });

  it('says one trip exactly where several axles come together', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4 }), (count) => {
        const axles = Array.from({ length: count }, (_, i) => ({ axle: i + 1, earlyDays: i, chance: 0, lateDays: 0 }));
        const lines = visitInWords({ ...said, axles });
        expect(lines).toHaveLength(count + Number(count > 1));
        expect(lines.some((line) => line.includes('one trip instead of'))).toBe(count > 1);
      }),
    );
  });
});

it('a move names what staying would break, or what it would cost; never a saving as a cost', () => {
  const moved = { from: '2026-12-04', breaks: [], staying: 80, currency: 'USD' };
  expect(movedInWords(moved)).toBe('Before on 4 Dec 2026; staying there would cost 80.00 USD more.');
  expect(movedInWords({ ...moved, breaks: ['T06 is away on 4 Dec 2026.'] })).toMatch(/can’t stay: T06 is away/);
  expect(movedInWords({ ...moved, staying: -5 })).not.toMatch(/cost/);
});

it('a look is said by what it gains, and that a mark has passed', () => {
  expect(lookInWords({ days: 12.6, passed: false })).toBe('A look would put the mark about 13 days later in the mean.');
  expect(lookInWords({ days: 7, passed: true })).toMatch(/^Its mark has passed\./);
});

it('everything that binds has words and a remedy, each its own', () => {
  const codes = Object.keys(CONSTRAINTS_IN_WORDS) as (keyof typeof CONSTRAINTS_IN_WORDS)[];
  expect(new Set(codes.map((code) => remedyInWords(code, 'T06'))).size).toBe(codes.length);
  expect(new Set(Object.values(CONSTRAINTS_IN_WORDS)).size).toBe(codes.length);
});

it('everything that a move breaks is said with its unit or its day', () => {
  for (const code of ['kit', 'closed', 'lock', 'off the road', 'hours', 'beyond', 'bay'])
    expect(brokenInWords(code, 'T06', '2026-12-04')).toMatch(/T06|4 Dec 2026/);
});
