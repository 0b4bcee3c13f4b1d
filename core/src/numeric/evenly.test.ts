import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { evenly } from './index.ts';

describe('items evenly taken from a list', () => {
  it('are all of them where they are no more than asked for', () => {
    expect(evenly(['a', 'b', 'c'], 3)).toEqual(['a', 'b', 'c']);
    expect(evenly(['a', 'b', 'c'], 80)).toEqual(['a', 'b', 'c']);
    expect(evenly([], 5)).toEqual([]);
  });

  it('are as many as asked for, each once, in order, and no two neighbours further apart than others by more than one', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 400 }), (length, most) => {
        const items = Array.from({ length }, (_, k) => k);
        const taken = evenly(items, most);
        expect(taken).toHaveLength(Math.min(length, most));
        const gaps = taken.slice(1).map((item, k) => item - (taken[k] as number));
        if (gaps.length > 0) {
          expect(Math.min(...gaps)).toBeGreaterThanOrEqual(1);
          expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1);
        }
      }),
    );
  });
});
