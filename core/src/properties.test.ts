import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import {
  classPrior,
  consistentOdometers,
  DEFAULT_DUTY_SETTINGS,
  DEFAULT_NOISE,
  doubtOdometer,
  exposureBetween,
  forecastVehicle,
  judgeReading,
  parseDate,
  parseDistance,
  parseThickness,
  serviceLimit,
  severity,
  SHIPPED_LIMITS,
  UNKNOWN_APPRAISER,
  workPerMile,
  type Duty,
  type VehicleInput,
} from './index.ts';

/** What must hold for any input, looked for by random cases. */

/** Every number in a value, however deep it stands. */
const figuresOf = (value: unknown): number[] =>
  typeof value === 'number'
    ? [value]
    : typeof value === 'object' && value !== null
      ? Object.values(value).flatMap(figuresOf)
      : [];

const duty = fc.record<Duty>({
  stopsPerMile: fc.double({ min: 0, max: 8, noNaN: true }),
  mphBeforeStop: fc.double({ min: 5, max: 60, noNaN: true }),
  payloadShare: fc.double({ min: 0, max: 1, noNaN: true }),
  descentMPerMile: fc.double({ min: 0, max: 60, noNaN: true }),
  retarderShare: fc.double({ min: 0, max: 0.6, noNaN: true }),
  towedKg: fc.double({ min: 0, max: 2000, noNaN: true }),
});
const masses = { tareKg: 2200, gvwrKg: 3500 };
const van = DEFAULT_DUTY_SETTINGS.van;

describe('parsing', () => {
  it('never throws and never gives a thickness or distance below zero, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('mm' as const, 'in' as const, '1/32 in' as const), (typed, unit) => {
        const thickness = parseThickness(typed, { unit });
        if (thickness.ok) expect(thickness.value.mm).toBeGreaterThanOrEqual(0);
        else expect(thickness.failure).toMatchObject({ typed });
        const distance = parseDistance(typed, { unit: 'km' });
        if (distance.ok) expect(distance.value.metres).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it('reads back any date it would write, in each order', () => {
    const day = fc.date({ min: new Date('1990-01-01'), max: new Date('2199-12-31'), noInvalidDate: true });
    fc.assert(
      fc.property(day, (date) => {
        const iso = date.toISOString().slice(0, 10);
        const [year, month, dayOfMonth] = iso.split('-');
        expect(parseDate(iso, 'DMY')).toEqual({ ok: true, value: iso });
        expect(parseDate(`${dayOfMonth}.${month}.${year}`, 'DMY')).toEqual({ ok: true, value: iso });
        expect(parseDate(`${month}/${dayOfMonth}/${year}`, 'MDY')).toEqual({ ok: true, value: iso });
      }),
    );
  });
});

describe('brake work', () => {
  it('grows with stops, speed, load and descent, and shrinks with the retarder', () => {
    fc.assert(
      fc.property(duty, fc.double({ min: 1.01, max: 2, noNaN: true }), (one, factor) => {
        const work = (more: Partial<Duty>) => workPerMile(masses, { ...one, ...more }, van).totalJ;
        const base = work({});
        const slack = 1e-6 * (base + 1);
        expect(work({ stopsPerMile: one.stopsPerMile * factor })).toBeGreaterThanOrEqual(base - slack);
        expect(work({ payloadShare: one.payloadShare * factor })).toBeGreaterThanOrEqual(base - slack);
        expect(work({ descentMPerMile: one.descentMPerMile * factor })).toBeGreaterThanOrEqual(base - slack);
        expect(work({ retarderShare: Math.min(1, one.retarderShare * factor) })).toBeLessThanOrEqual(base + slack);
      }),
    );
  });

  it('gives severities that turn over when duty and reference are swapped', () => {
    fc.assert(
      fc.property(duty, duty, (one, other) => {
        const forth = severity(masses, one, other, van);
        const back = severity(masses, other, one, van);
        if (forth > 0.02 && back > 0.02) expect(forth * back).toBeCloseTo(1, 6);
      }),
    );
  });
});

describe('duty-weighted miles', () => {
  it('add up over any cut of the way, and stay between the mildest and the hardest duty', () => {
    const spans = [
      { from: '2026-01-01', severity: 0.7 },
      { from: '2026-02-10', severity: 1.9 },
      { from: '2026-03-01', severity: 1.2 },
    ];
    const dayIn = (offset: number) => new Date(Date.UTC(2026, 0, 1 + offset)).toISOString().slice(0, 10);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 120 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 1, max: 60 }),
        (start, first, second) => {
          const at = (days: number) => ({ date: dayIn(start + days), miles: 100 * days });
          const whole = exposureBetween(spans, at(0), at(first + second)).weightedMiles;
          const parts =
            exposureBetween(spans, at(0), at(first)).weightedMiles +
            exposureBetween(spans, at(first), at(first + second)).weightedMiles;
          expect(parts).toBeCloseTo(whole, 6);
          expect(whole / (100 * (first + second))).toBeGreaterThanOrEqual(0.7 - 1e-9);
          expect(whole / (100 * (first + second))).toBeLessThanOrEqual(1.9 + 1e-9);
        },
      ),
    );
  });
});

describe('limits', () => {
  it('are never below the maker’s, the law’s or the margin', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('hydraulic' as const, 'air' as const),
        fc.integer({ min: 1500, max: 40_000 }),
        fc.double({ min: 5, max: 25, noNaN: true }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        fc.double({ min: 0, max: 0.9, noNaN: true }),
        (brake, gvwrKg, padNewMm, padMakerMinMm, margin) => {
          const limit = serviceLimit({ brake, gvwrKg, padNewMm, padMakerMinMm }, SHIPPED_LIMITS, margin);
          expect(limit.limitMm).toBeGreaterThanOrEqual(Math.max(padMakerMinMm, margin * padNewMm));
          expect(limit.limitMm).toBeGreaterThanOrEqual(limit.legal?.leastMm ?? 0);
          expect(limit.limitMm).toBe(limit.candidates[0]?.leastMm);
        },
      ),
    );
  });
});

describe('judging', () => {
  it('gives probabilities that add up to one and a suspicion only over one half, for any figure', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.double({ min: 0.5, max: 20, noNaN: true }),
        fc.double({ min: 0.05, max: 4, noNaN: true }),
        (mm, meanMm, sdMm) => {
          const judged = judgeReading(
            { mm, unit: 'mm', resolutionMm: 0.1, repeatabilityMm: 0.3 },
            { meanMm, sdMm, newMm: 21, plateMm: 9, informed: true },
          );
          expect(judged.hypotheses.reduce((sum, { probability }) => sum + probability, 0)).toBeCloseTo(1, 9);
          if (judged.suspicion) expect(judged.suspicion.probability).toBeGreaterThan(0.5);
        },
      ),
    );
  });
});

describe('odometers', () => {
  it('that rise honestly are all consistent, and none of them is doubted among the others', () => {
    const drive = fc.array(
      fc.record({ days: fc.integer({ min: 1, max: 60 }), perDay: fc.integer({ min: 0, max: 500 }) }),
      { minLength: 1, maxLength: 12 },
    );
    fc.assert(
      fc.property(drive, (stretches) => {
        let [day, metres] = [0, 50_000_000];
        const entries = stretches.map(({ days, perDay }) => {
          day += days;
          metres += days * perDay * 1609;
          return { date: new Date(Date.UTC(2025, 0, 1 + day)).toISOString().slice(0, 10), metres, weight: 1 };
        });
        expect(consistentOdometers(entries)).toEqual(entries);
        for (const entry of entries)
          expect(
            doubtOdometer(
              entry,
              entries.filter((other) => other !== entry),
              'mi',
            ),
          ).toBeUndefined();
      }),
    );
  });
});

describe('forecasts', () => {
  const readingAt = fc.record({
    day: fc.integer({ min: 1, max: 300 }),
    mm: fc.double({ min: 0.5, max: 16, noNaN: true }),
    side: fc.constantFrom('left' as const, 'right' as const),
    pad: fc.constantFrom('inner' as const, 'outer' as const),
  });

  it('are finite and in order for any readings, also absurd ones', () => {
    fc.assert(
      fc.property(fc.array(readingAt, { maxLength: 12 }), (papers) => {
        const dated = (day: number) => new Date(Date.UTC(2026, 0, day)).toISOString().slice(0, 10);
        const input: VehicleInput = {
          axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior: classPrior('light') }],
          readings: papers.map(({ day, mm, side, pad }, index) => ({
            id: String(index),
            date: dated(day),
            miles: 10_000 + 60 * day,
            axle: 1,
            side,
            pad,
            mm,
            unit: 'mm' as const,
            resolutionMm: 0.1,
            technician: 'A',
          })),
          fittings: [{ date: dated(1), miles: 10_060, axle: 1 }],
          odometers: [{ date: dated(1), miles: 10_060 }],
          duty: [{ from: dated(1), severity: 1 }],
          appraisers: {},
          unknownAppraiser: UNKNOWN_APPRAISER,
          noise: DEFAULT_NOISE,
          today: dated(310),
        };
        const forecast = forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws: 128 });
        expect(figuresOf(forecast).filter((figure) => !Number.isFinite(figure))).toEqual([]);
        const [axle] = forecast.axles;
        const { p05, p10, p50, p90 } = axle?.miles ?? { p05: 0, p10: 0, p50: 0, p90: 0 };
        expect(p05 <= p10 && p10 <= p50 && p50 <= p90).toBe(true);
        expect(axle?.probabilityBelowNow).toBeGreaterThanOrEqual(0);
        expect(axle?.probabilityBelowNow).toBeLessThanOrEqual(1);
        for (const pad of axle?.pads ?? []) expect(pad.sdMm).toBeGreaterThan(0);
      }),
      { numRuns: 60 },
    );
  });
});
