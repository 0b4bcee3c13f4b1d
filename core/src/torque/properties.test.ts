import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { torqueToNm, type TorqueUnit } from '../units/index.ts';
import {
  adapterSetting,
  calibratedRange,
  differingFigures,
  fitTorque,
  isReached,
  judgeHead,
  judgeJoint,
  multiplierSetting,
  parseHead,
  parseThread,
  tighteningTorque,
  usualHeads,
  usualTorque,
  type Bench,
  type HeadKind,
  type Strength,
  type TorqueAdapter,
  type TorqueFit,
  type TorqueMultiplier,
  type TorqueWrench,
} from './index.ts';

const TODAY = '2026-11-20';
const unit = fc.constantFrom<TorqueUnit>('N·m', 'lbf·ft', 'lbf·in');
const due = fc.constantFrom('2027-01-01', TODAY, '2026-11-19', '2020-01-01', null);
const torque = fc.double({ min: 2, max: 1500, noNaN: true });

const wrench: fc.Arbitrary<TorqueWrench> = fc
  .record({
    unit,
    most: fc.integer({ min: 20, max: 1000 }),
    from: fc.double({ min: 0.05, max: 0.6, noNaN: true }),
    steps: fc.integer({ min: 20, max: 400 }),
    lengthMm: fc.option(fc.integer({ min: 150, max: 1200 }), { nil: null }),
    calibrationDue: due,
  })
  .map(({ from, steps, most, ...rest }, index = 0) => ({
    ...rest,
    id: `w${index}${most}`,
    name: 'Wrench',
    most,
    least: most * from,
    graduation: most / steps,
  }));
const adapter: fc.Arbitrary<TorqueAdapter> = fc.record({
  id: fc.constant('a'),
  name: fc.constant('Adapter'),
  extensionMm: fc.integer({ min: 10, max: 200 }),
  mostNm: fc.integer({ min: 50, max: 1500 }),
  endSize: fc.constant(null),
});
const multiplier: fc.Arbitrary<TorqueMultiplier> = fc.record({
  id: fc.constant('m'),
  name: fc.constant('Multiplier'),
  ratio: fc.double({ min: 1.5, max: 25, noNaN: true }),
  mostNm: fc.integer({ min: 200, max: 3000 }),
  calibrationDue: due,
});
const bench: fc.Arbitrary<Bench> = fc.record({
  wrenches: fc.array(wrench, { maxLength: 5 }),
  adapters: fc.array(adapter, { maxLength: 2 }),
  multipliers: fc.array(multiplier, { maxLength: 2 }),
});
const at = (nm: number) => ({ nm, leastNm: null, mostNm: null });

/** The torque that a fit brings to the fastener, by the balance of moments and the ratio. */
function reachedNm(fit: Extract<TorqueFit, { wrench: TorqueWrench }>): number {
  const shown = torqueToNm(fit.setting.value, fit.setting.unit);
  if (fit.kind === 'adapter') {
    const arm = fit.wrench.lengthMm ?? NaN;
    return (shown * (arm + fit.adapter.extensionMm)) / arm;
  }
  return fit.kind === 'multiplier' ? shown * fit.multiplier.ratio : shown;
}

describe('any bench', () => {
  it('answers only with tools in calibration, within their range, on their scale, and at the torque', () => {
    fc.assert(
      fc.property(torque, bench, (nm, own) => {
        const fit = fitTorque(at(nm), own, TODAY);
        if (!('wrench' in fit)) return;
        const { least, most } = calibratedRange(fit.wrench);
        expect(fit.wrench.calibrationDue === null || fit.wrench.calibrationDue < TODAY).toBe(false);
        expect(fit.setting.value).toBeLessThanOrEqual(most * (1 + 1e-9));
        expect(fit.setting.value).toBeGreaterThanOrEqual(least * (1 - 1e-9) - fit.wrench.graduation / 2);
        const marks = fit.setting.value / fit.wrench.graduation;
        expect(Math.abs(marks - Math.round(marks))).toBeLessThan(1e-2);
        expect(Math.abs(reachedNm(fit) / nm - 1)).toBeLessThanOrEqual(0.0401);
        if (fit.kind === 'multiplier') expect(fit.multiplier.mostNm).toBeGreaterThanOrEqual(nm);
        if (fit.kind === 'adapter') expect(fit.adapter.mostNm).toBeGreaterThanOrEqual(nm);
      }),
    );
  });

  it('reaches no less with another adapter on it, and no less with another wrench unless that stands in for a multiplier', () => {
    fc.assert(
      fc.property(torque, bench, wrench, adapter, (nm, own, more, arm) => {
        const before = fitTorque(at(nm), own, TODAY);
        if (!isReached(before)) return;
        expect(isReached(fitTorque(at(nm), { ...own, adapters: [...own.adapters, arm] }, TODAY))).toBe(true);
        if (before.kind !== 'multiplier')
          expect(isReached(fitTorque(at(nm), { ...own, wrenches: [...own.wrenches, more] }, TODAY))).toBe(true);
      }),
    );
  });

  it('tells the truth of what it needs: with it the torque is reached', () => {
    fc.assert(
      fc.property(torque, bench, (nm, own) => {
        const fit = fitTorque(at(nm), own, TODAY);
        if (fit.kind !== 'none') return;
        const needed: TorqueWrench = {
          id: 'needed',
          name: 'Needed',
          unit: 'N·m',
          least: nm / 3,
          most: nm * 1.5,
          graduation: nm / 200,
          lengthMm: null,
          calibrationDue: '2027-01-01',
        };
        expect(fitTorque(at(nm), { ...own, wrenches: [...own.wrenches, needed] }, TODAY).kind).toBe('wrench');
        const { ratio, endsNm } = fit.need;
        if (ratio !== null) {
          expect(endsNm).toBeLessThan(nm);
          // The least ratio brings the setting to where the largest wrench ends, not beyond.
          expect(multiplierSetting(nm, ratio)).toBeCloseTo(endsNm ?? NaN, 6);
        }
      }),
    );
  });

  it('that has a tool out of calibration reaches it once that is calibrated', () => {
    fc.assert(
      fc.property(torque, bench, (nm, own) => {
        const fit = fitTorque(at(nm), own, TODAY);
        if (fit.kind !== 'overdue') return;
        const calibrated = <T extends { calibrationDue: string | null }>(tools: readonly T[]) =>
          tools.map((tool) => ({ ...tool, calibrationDue: '2027-01-01' }));
        const after = { ...own, wrenches: calibrated(own.wrenches), multipliers: calibrated(own.multipliers) };
        expect(isReached(fitTorque(at(nm), after, TODAY))).toBe(true);
      }),
    );
  });
});

describe('any adapter', () => {
  it('asks for less the longer it is, and never for more than the torque while in line', () => {
    const length = fc.integer({ min: 150, max: 1200 });
    const arms = fc.tuple(fc.integer({ min: 1, max: 200 }), fc.integer({ min: 1, max: 200 }));
    fc.assert(
      fc.property(torque, length, arms, (nm, arm, [a, b]) => {
        const [short, long] = [Math.min(a, b), Math.max(a, b) + 1];
        expect(adapterSetting(nm, arm, long)).toBeLessThan(adapterSetting(nm, arm, short));
        expect(adapterSetting(nm, arm, short)).toBeLessThan(nm);
      }),
    );
  });
});

describe('any fastener on the lists', () => {
  const DIAMETERS = [5, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24];
  const STRENGTHS: Strength[] = ['8.8', '10.9', '12.9'];
  const KINDS: HeadKind[] = ['hex', 'hex key', 'six-lobe', 'six-lobe outside'];

  it.each(DIAMETERS)('M%d: its usual torques hold what each class takes, in order', (diameter) => {
    const thread = parseThread(`M${diameter}`);
    if (!thread) throw new Error('not read');
    const any = usualTorque(thread);
    const nominal = STRENGTHS.map((strength) => tighteningTorque(thread, strength, 0.12));
    expect([...nominal].sort((a, b) => a - b)).toEqual(nominal);
    for (const [index, strength] of STRENGTHS.entries()) {
      const nm = nominal[index] ?? NaN;
      const own = usualTorque(thread, { strength });
      expect(nm).toBeGreaterThan(own.leastNm);
      expect(nm).toBeLessThan(own.mostNm);
      expect(own.leastNm).toBeGreaterThanOrEqual(any.leastNm);
      expect(own.mostNm).toBeLessThanOrEqual(any.mostNm * (1 + 1e-12));
    }
    expect(usualTorque(thread, { hollow: true }).leastNm).toBeLessThan(any.leastNm);
  });

  it.each(DIAMETERS)('M%d: every head on its list can be made, and is not odd', (diameter) => {
    const thread = parseThread(`M${diameter}`);
    if (!thread) throw new Error('not read');
    for (const kind of KINDS)
      for (const size of usualHeads(thread, kind)) {
        const head = parseHead(kind, size);
        expect([size, head && judgeHead(thread, head)]).toEqual([size, undefined]);
      }
  });

  it('is read alike in inches and millimetres', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 40 }), (thirtySeconds) => {
        const inches = parseHead('hex', `${thirtySeconds}/32 in`);
        const metric = parseHead('hex', `${((thirtySeconds * 25.4) / 32).toFixed(4)} mm`);
        expect(inches?.acrossMm).toBeCloseTo(metric?.acrossMm ?? NaN, 3);
      }),
    );
  });
});

describe('any joint', () => {
  it('with figures that rise, a pair that converts and a usual torque is taken without a word', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('M8', 'M10', 'M12x1.5', 'M14x1.5', 'M16'),
        fc.double({ min: 0.02, max: 0.1, noNaN: true }),
        (thread, tolerance) => {
          const parsed = parseThread(thread);
          if (!parsed) throw new Error('not read');
          const nominal = tighteningTorque(parsed, '10.9', 0.12);
          const judged = judgeJoint({
            thread,
            strength: '10.9',
            headKind: 'hex',
            headSize: usualHeads(parsed, 'hex').at(-1) ?? null,
            hollow: false,
            torque: {
              unit: 'N·m',
              least: nominal * (1 - tolerance),
              nominal,
              most: nominal * (1 + tolerance),
              passes: [nominal / 3, nominal / 2],
              angleDeg: null,
              statedToo: { unit: 'lbf·ft', value: Math.round((nominal / 1.3558179483314) * 10) / 10 },
            },
          });
          expect(judged).toEqual([]);
        },
      ),
    );
  });

  it('typed by two people differs exactly where they differ', () => {
    const figures = fc.dictionary(
      fc.constantFrom('unit', 'least', 'nominal', 'most'),
      fc.option(fc.integer(), { nil: null }),
    );
    fc.assert(
      fc.property(figures, figures, (a, b) => {
        const fields = differingFigures(a, b);
        for (const field of ['unit', 'least', 'nominal', 'most'])
          expect(fields.includes(field)).toBe((a[field] ?? null) !== (b[field] ?? null));
        expect(differingFigures(a, a)).toEqual([]);
        expect(new Set(differingFigures(b, a))).toEqual(new Set(fields));
      }),
    );
  });
});
