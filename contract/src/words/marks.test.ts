import { describe, expect, it } from '@jest/globals';
import { seededRandom, dayNumber, dateOfDay, METRES_PER_MILE } from '@mile-mark/core';
import type { MileMark } from '../forecasts/index.ts';
import {
  awayInWords,
  chanceInWords,
  fineSpreadInWords,
  leftInWords,
  milesInWords,
  milesSpreadInWords,
  nextThing,
  rateInWords,
  ruledByInWords,
  thicknessInWords,
  thicknessSpreadInWords,
} from './index.ts';

const TODAY = '2026-11-20';
const later = (days: number) => dateOfDay(dayNumber(TODAY) + days);

function mark(markDate: string, more: Partial<MileMark> = {}): MileMark {
  return {
    ...{ unit: 'V1', axle: 1, depot: 'Northfold', class: 'van', model: 'Ostrey Carrier 35' },
    ...{ thinnestMm: 6, newMm: 12, serviceLimitMm: 3, odometerNowMi: 50_000, milesPerDay: 70 },
    ...{ markOdometerMi: 60_000, markDate, ruledBy: 'risk', nextInspectionDue: markDate },
    ...{ medianOdometerMi: 65_000, medianDate: '2027-06-01', probabilityBelowNow: 0.001 },
    interval80: { fromMi: 61_000, toMi: 70_000, fromDate: '2027-05-20', toDate: '2027-06-20' },
    worth: { laterMi: 0, width80Mi: 4000, width80AfterMi: 3000 },
    evidence: { readings: 12, technicians: 3, lastDate: '2026-11-01', earlierReadings: 4 },
    ...more,
  };
}

describe('the one thing to do next', () => {
  const what = (markDate: string, more: Partial<MileMark> = {}) => nextThing(mark(markDate, more), TODAY, 0.05).what;
  const wide = { fromMi: 0, toMi: 0, fromDate: '2027-02-01', toDate: '2027-06-01' };
  const none = { readings: 0, technicians: 0, lastDate: null, earlierReadings: 0 };
  it.each([
    ['a pad likelier below the limit than not', what('2026-10-01', { probabilityBelowNow: 0.6 }), 'Do it now.'],
    ['a mark just passed', what('2026-11-15', { probabilityBelowNow: 0.08 }), 'Measure, and book it this week.'],
    ['an axle never measured', what('2027-06-01', { evidence: none }), 'Measure it.'],
    ['a mark within four weeks', what('2026-12-10'), 'Book it.'],
    [
      'an old reading',
      what('2027-06-01', { evidence: { ...none, readings: 4, lastDate: '2026-03-01' } }),
      'Measure it again.',
    ],
    [
      'a near mark with a wide interval',
      what('2027-01-20', { interval80: { fromMi: 0, toMi: 0, fromDate: '2027-02-01', toDate: '2027-06-01' } }),
      'Measure it at the next stop.',
    ],
    ['a mark far ahead', what('2027-09-01'), 'Nothing yet.'],
    ['a mark in four weeks to the day', what(later(28)), 'Book it.'],
    ['a mark a day after', what(later(29)), 'Nothing yet.'],
    ['a wide interval at three months', what(later(92), { interval80: wide }), 'Measure it at the next stop.'],
    ['a wide interval a day after', what(later(93), { interval80: wide }), 'Nothing yet.'],
  ])('for %s', (_name, got, expected) => expect(got).toBe(expected));

  it.each([
    [{ probabilityBelowNow: 0.08 }, 0.05, 'the chance of a pad below the limit is 8.0 %, over the 5 % you allow.'],
    [
      { probabilityBelowNow: 0.004, ruledBy: 'cost' as const },
      0.05,
      'waiting costs more than it saves. The chance of a pad below the limit is 0.4 %.',
    ],
    [{ probabilityBelowNow: 0.004 }, 0.05, 'the chance of a pad below the limit is 0.4 %, where you allow 5 %.'],
    [{ probabilityBelowNow: 0.0502 }, 0.05, '5.02 %, over the 5 % you allow.'],
    [{ probabilityBelowNow: 0.03 }, 0.025, '3.0 %, over the 2.5 % you allow.'],
  ])('names the cause that ruled: %j', (more, risk, words) => {
    expect(nextThing(mark('2026-11-15', more), TODAY, risk).because).toContain(words);
  });
});

/** Marks as no fleet of ours has them: any date, any chance, any evidence. */
function* anyMarks(count: number): Generator<{ one: MileMark; risk: number }> {
  const random = seededRandom(20_261_128);
  const pick = (from: number, to: number) => from + (to - from) * random();
  for (let i = 0; i < count; i += 1) {
    const readings = random() < 0.3 ? 0 : Math.floor(pick(1, 60));
    const days = Math.round(random() < 0.4 ? pick(-40, 40) : pick(-400, 1500));
    const from = days + Math.round(pick(-30, 30));
    const one = mark(later(days), {
      probabilityBelowNow: random() < 0.5 ? random() ** 4 : pick(0.015, 0.1),
      ruledBy: random() < 0.4 ? 'cost' : 'risk',
      odometerNowMi: 50_000,
      markOdometerMi: 50_000 + (random() < 0.2 ? Math.round(pick(-2, 2)) : Math.round(days * pick(0, 200))),
      interval80: { fromMi: 0, toMi: 0, fromDate: later(from), toDate: later(from + Math.round(pick(0, 400))) },
      evidence: {
        readings,
        technicians: Math.min(readings, 3),
        lastDate: readings === 0 ? null : later(-Math.round(pick(0, 600))),
        earlierReadings: Math.floor(pick(0, 3)),
      },
    });
    yield { one, risk: [0.01, 0.025, 0.05, 0.1][Math.floor(pick(0, 4))] as number };
  }
}

describe('no sentence contradicts its figures, over marks of every kind', () => {
  it('what is next and why', () => {
    const told = new Set<string>();
    for (const { one, risk } of anyMarks(4000)) {
      const { what, because, verb } = nextThing(one, TODAY, risk);
      told.add(what);
      const over = /([\d.]+) %, over the ([\d.]+) % you allow/.exec(because);
      if (over) expect(Number(over[1])).toBeGreaterThan(Number(over[2]));
      const under = /is (under )?([\d.]+) %, where you allow ([\d.]+) %/.exec(because);
      if (under) expect(Number(under[2])).toBeLessThanOrEqual(Number(under[3]));
      if (because.includes('waiting costs')) expect(one.ruledBy).toBe('cost');
      if (because.includes('more likely than not')) expect(one.probabilityBelowNow).toBeGreaterThan(0.5);
      if (because.includes('Nothing was ever measured'))
        expect(one.evidence.readings + one.evidence.earlierReadings).toBe(0);
      // A date that is over is never said to lie ahead, nor the other way round.
      const days = dayNumber(one.markDate) - dayNumber(TODAY);
      if (/mark is (in|today)/.test(because)) expect(days).toBeGreaterThanOrEqual(0);
      if (because.includes('mark passed')) expect(days).toBeLessThan(0);
      if (verb === 'nothing') expect(days).toBeGreaterThan(28);
    }
    expect(told.size).toBe(7);
  });

  it('what is left, in miles and in kilometres', () => {
    for (const { one } of anyMarks(4000))
      for (const unit of ['mi', 'km'] as const) {
        const words = leftInWords(one, TODAY, unit);
        expect(words).not.toMatch(/[-−]|\bNaN\b|^passed by 0 /);
        const left = one.markOdometerMi - one.odometerNowMi;
        const told = Number(/([\d,]+) (?:mi|km)/.exec(words)?.[1]?.replaceAll(',', '') ?? 0);
        const shown = Math.max(0, Math.abs(left) * (unit === 'mi' ? 1 : METRES_PER_MILE / 1000));
        if (words.endsWith('left')) {
          expect(left).toBeGreaterThan(0);
          expect(Math.abs(told - shown)).toBeLessThanOrEqual(0.5);
        } else if (left < 0 && told > 0) expect(Math.abs(told - shown)).toBeLessThanOrEqual(0.5);
        expect(words.includes(' ago')).toBe(one.markDate < TODAY);
      }
  });

  it('by what it is ruled', () => {
    for (const { one, risk } of anyMarks(200))
      expect(ruledByInWords(one, risk).includes('%')).toBe(one.ruledBy === 'risk');
  });
});

describe('figures in the reader’s units', () => {
  // NIST SP 811, appendix B.9: 1 mi = 1.609344 km, 1 in = 25.4 mm; both exact.
  it.each([
    [milesInWords(100, 'km'), '161 km'],
    [milesInWords(-0.3, 'mi'), '0 mi'],
    [milesInWords(-80, 'mi'), '−80 mi'],
    [milesSpreadInWords(135, 18, 'km'), '217 ± 29 km'],
    [milesSpreadInWords(135, 18, 'mi'), '135 ± 18 mi'],
    [thicknessSpreadInWords(8.5, 0.31, 'mm'), '8.5 ± 0.3 mm'],
    [thicknessSpreadInWords(8.5, 0.31, 'in'), '0.335 ± 0.012 in'],
    [thicknessSpreadInWords(8.73125, 0.31, '1/32 in'), '11/32 in ± 0.4/32'],
    [rateInWords(0.24, { distanceUnit: 'mi', thicknessUnit: 'mm' }), '0.24 mm per 1,000 mi'],
    [rateInWords(0.24, { distanceUnit: 'km', thicknessUnit: 'mm' }), '0.15 mm per 1,000 km'],
    [rateInWords(0.254, { distanceUnit: 'mi', thicknessUnit: 'in' }), '0.0100 in per 1,000 mi'],
    [rateInWords(0.79375, { distanceUnit: 'mi', thicknessUnit: '1/32 in' }), '1.00/32 in per 1,000 mi'],
    [fineSpreadInWords(0.12, 0.05, 'mm'), '0.12 ± 0.05 mm'],
    [fineSpreadInWords(0.254, 0.0254, '1/32 in'), '0.0100 ± 0.0010 in'],
  ])('%s', (got, expected) => expect(got).toBe(expected));

  it('no figure is in a unit that the reader does not read', () => {
    const random = seededRandom(7);
    for (let i = 0; i < 500; i += 1) {
      const [value, half] = [random() * 30, random() * 2];
      const km = { distanceUnit: 'km', thicknessUnit: 'in' } as const;
      const texts = [
        milesSpreadInWords(value * 10, half * 10, 'km'),
        rateInWords(value / 30, km),
        thicknessSpreadInWords(value, half, 'in'),
      ];
      for (const text of texts) expect(text).not.toMatch(/\bmi\b|\bmm\b/);
      expect(thicknessInWords(value, '1/32 in')).toMatch(/^\d+\/32 in$/);
    }
  });

  it.each([
    [0, 'under 0.1 %'],
    [0.0999, '10.0 %'],
    [0.614, '61 %'],
    [0.9999, 'over 99.9 %'],
  ])('a chance of %s is %s', (chance, words) => expect(chanceInWords(chance)).toBe(words));

  it.each([
    [0, 'today'],
    [-1, '1 day ago'],
    [27, 'in 27 days'],
    [28, 'in 4 weeks'],
    [-200, '7 months ago'],
  ])('%s days are %s', (days, words) => expect(awayInWords(days)).toBe(words));
});
