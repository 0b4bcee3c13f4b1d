import { describe, expect, it } from '@jest/globals';
import {
  changeInWords,
  limitInWords,
  paceInWords,
  suspicionInWords,
  suspicionOfChange,
  thicknessInWords,
} from './index.ts';

const times = (p50: number) => ({ p05: p50 - 0.4, p50, p95: p50 + 0.6 });
const change = (kind: 'apart' | 'wheel' | 'axle' | 'route', p50 = 2, more: 'inner' | 'outer' = 'inner') =>
  changeInWords({ kind, axle: 2, side: 'left', more, factor: times(p50), looks: 3 });

describe('a thickness in words', () => {
  it.each([
    [25.4, 'in', '1.000 in'],
    [25.4, '1/32 in', '32/32 in'],
    [-0.79375, '1/32 in', '−1/32 in'],
    [0, '1/32 in', '0/32 in'],
    [3.04, 'mm', '3.0 mm'],
  ] as const)('%s mm in %s is %s', (mm, unit, words) => expect(thicknessInWords(mm, unit)).toBe(words));
});

describe('a limit in words', () => {
  it('has as many places as limits are stated with', () => {
    expect(limitInWords(2.7549, 'mm')).toBe('2.75 mm');
    expect(limitInWords(3.175, 'in')).toBe('0.125 in');
  });
});

describe('a suspicion in words', () => {
  const suspicion = { kind: 'digits', probability: 0.9, expectedMm: 8.1, differenceMm: 10, insteadMm: 8.1 } as const;
  it('says which way it lies from what was expected', () => {
    expect(suspicionInWords(suspicion, 'mm')).toContain('Reads 10.0 mm thicker than expected (8.1 mm)');
    expect(suspicionInWords({ ...suspicion, differenceMm: -4 }, 'mm')).toContain('4.0 mm thinner than expected');
  });
  it('expects nothing below nought of a pad', () =>
    expect(suspicionInWords({ ...suspicion, expectedMm: -0.3 }, 'mm')).toContain('expected (0.0 mm)'));
});

describe('a change of wear in words', () => {
  it('names the pad, the usual cause and what to try', () => {
    expect(change('apart').seen).toContain('Axle 2, left: the inner pad wears 2.0 times (1.6 to 2.6)');
    expect(change('apart').cause).toContain('slide');
    expect(change('apart', 2, 'outer').seen).toContain('the outer pad');
    expect(change('apart', 2, 'outer').cause).toContain('pins or channels bind');
  });
  it('calls it a drag from 1.6 times on, and a difference of the sides below', () => {
    expect(change('wheel', 1.6).cause).toContain('drags');
    expect(change('wheel', 1.59).seen).toContain('left and right wear apart');
  });
  it('tells other pads from another route', () => {
    expect(change('axle').check).toContain('part number');
    expect(change('route').seen).toContain('All its pads');
  });
  it('that is not sure names its place, its chance and what would settle it', () => {
    expect(suspicionOfChange({ kind: 'apart', axle: 1, side: 'right', more: 'outer', probability: 0.634 })).toMatch(
      /^Not sure yet, 63 %: axle 1 right: the outer pad wears much faster.*one more look/,
    );
    expect(suspicionOfChange({ kind: 'axle', axle: 2, probability: 0.5 })).toContain('50 %: axle 2: the pads');
    expect(suspicionOfChange({ kind: 'apart', axle: 2, probability: 0.5 })).toContain('the one pad');
    expect(suspicionOfChange({ kind: 'route', probability: 0.5 })).toContain('50 %: all its pads');
  });
});

describe('a pace in words', () => {
  it('is in the reader’s distance: 1 mi is 1.609344 km (exact by definition)', () => {
    const doubt = { expectedMi: 10_000, milesPerDay: 500, usualPerDay: 100, days: 10 };
    expect(paceInWords(doubt, 'mi')).toContain('about 10,000 mi was expected. That would be 500 mi a day for 10 days');
    expect(paceInWords(doubt, 'km')).toContain('about 16,093 km was expected. That would be 805 km a day');
  });
});
