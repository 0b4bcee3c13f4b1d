import { describe, expect, it } from '@jest/globals';
import { bestRotorOption, rotorAlternatives, type RotorNow } from './rotorChoice.ts';

const rotor: RotorNow = {
  thicknessMm: 31,
  newMm: 32,
  discardMm: 30,
  machineToMm: 30.4,
  wearPerPadsMm: 0.4,
  cutMm: 0.4,
};
const fine = { glazed: false, bad: false, cracked: false };
const life = { miles: 40_000, years: 2 };
const prices = { scuff: 2000, machine: 9000, replace: 24_000, discountPerYear: 0.1 };
const of = (now: Partial<RotorNow>, faces = fine, own: typeof prices | null = prices) =>
  new Map(rotorAlternatives({ ...rotor, ...now }, faces, life, own ?? undefined).map((one) => [one.option, one]));

describe('rotors when pads are changed', () => {
  it('cost by the mile as by hand, the next rotor discounted', () => {
    const all = of({});
    // Keep: 31 − 2 × .4 = 30.2 ≥ 30 lasts two sets: nothing. Replace: 24,000 / 80,000 = .3 a mile, new ones last two sets.
    expect(all.get('keep')?.perMile).toBe(0);
    expect(all.get('replace')?.perMile).toBeCloseTo(0.3, 9);
    // Machine: ends at 30.6, 30.2 after one set, 29.8 after two: replaced at the next set, 24,000 / 1.1² = 19,834.71.
    expect(all.get('machine')?.perMile).toBeCloseTo((9000 + 19_834.71) / 80_000, 6);
  });

  it.each([
    ['keep', { thicknessMm: 29.9 }, fine, 'below discard'],
    ['keep', { thicknessMm: 30.3 }, fine, 'does not last the next pads'],
    ['keep', {}, { ...fine, glazed: true }, 'face fails'],
    ['scuff', {}, { ...fine, bad: true }, 'face fails'],
    ['machine', { thicknessMm: 30.7 }, fine, 'ends below machine-to'],
    ['machine', { thicknessMm: 30.8, wearPerPadsMm: 0.5 }, fine, 'does not last the next pads'],
    ['machine', { machineToMm: null }, fine, 'no machine-to'],
    ['machine', {}, { ...fine, cracked: true }, 'face fails'],
  ] as const)('%s is barred at %j', (option, now, faces, bar) => {
    expect(of(now, faces).get(option)?.bar).toBe(bar);
  });

  it('at the very limit pass: equality is not below', () => {
    expect(of({ thicknessMm: 30, wearPerPadsMm: 0 }).get('keep')?.bar).toBeUndefined();
    expect(of({ thicknessMm: 30.8, wearPerPadsMm: 0.4 }).get('machine')?.bar).toBeUndefined();
  });

  it('are replaced where nothing else can be done', () => {
    expect(bestRotorOption([...of({ thicknessMm: 29 }).values()]).option).toBe('replace');
  });

  it('without prices take the least off', () => {
    expect(bestRotorOption([...of({}, { ...fine, bad: true }, null).values()]).option).toBe('machine');
    expect(of({}, fine, null).get('machine')).not.toHaveProperty('perMile');
  });
});
