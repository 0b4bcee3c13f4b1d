import { describe, expect, it } from '@jest/globals';
import { ASSUMPTION_IN_WORDS, classInWords, distanceInWords, strainInWords, wideningInWords } from './index.ts';

const row = {
  class: 'heavy',
  distance: 'far',
  looks: 90,
  axles: 40,
  within80: 0.655,
  within90: 0.8,
  spread: 1.4,
} as const;
const strain = {
  assumption: 'technician',
  group: 'Ann',
  looks: 40,
  mean: -0.62,
  meanSd: 0.1,
  spread: 1.1,
  strained: true,
} as const;

describe('what was made of intervals that did not hold, in words', () => {
  it('names class, distance, share and factor', () => {
    const words = wideningInWords({ ...row, factor: 1.36 });
    for (const part of ['heavy trucks', 'farther ahead', '66 %', '80 %', '1.36 times']) expect(words).toContain(part);
    expect(wideningInWords({ ...row, distance: 'near', factor: 1.1 })).toContain('up to 8,000 mi');
  });

  it('is nothing where they are as computed', () => {
    expect(wideningInWords({ ...row, factor: 1 })).toBeUndefined();
  });

  it('takes a class it does not know as it is', () => {
    expect([classInWords('van'), classInWords('tractor'), distanceInWords('far')]).toEqual([
      'vans',
      'tractor',
      'farther ahead',
    ]);
  });
});

describe('what is taken for granted, in words', () => {
  it('has a sentence for each', () => {
    const words = Object.values(ASSUMPTION_IN_WORDS);
    expect(new Set(words).size).toBe(words.length);
  });

  it('says which way a group is off, how wide, or that it goes on', () => {
    expect(strainInWords(strain)).toBe('Ann: readings come out 0.62 standard deviations thinner than forecast.');
    expect(strainInWords({ ...strain, mean: 0.3 })).toContain('thicker');
    expect(strainInWords({ ...strain, assumption: 'width', group: 'van', spread: 1.5 })).toBe(
      'vans: errors are 1.50 times as wide as was said.',
    );
    expect(strainInWords({ ...strain, assumption: 'run', mean: 0.4 })).toContain('correlation 0.40');
  });
});
