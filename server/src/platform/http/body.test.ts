import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { hasMoreValues } from './body.ts';

/** Values of something, gone through as it is: itself, and of each list or object one for it and one for each comma. */
function valuesOf(of: unknown): number {
  const inside = (one: unknown): number => {
    if (typeof one !== 'object' || one === null) return 0;
    const own = Object.values(one);
    return 1 + Math.max(0, own.length - 1) + own.reduce((sum: number, value) => sum + inside(value), 0);
  };
  return 1 + inside(of);
}

describe('how many values JSON has', () => {
  it('is told without reading them, whatever stands in its texts', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 5 }), fc.nat(3), (value, spaces) => {
        const json = Buffer.from(JSON.stringify(value, null, spaces));
        const values = valuesOf(value);
        expect(hasMoreValues(json, values)).toBe(false);
        if (values > 1) expect(hasMoreValues(json, values - 1)).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  it.each([
    ['quotes and backslashes in texts', JSON.stringify({ a: '"\\",[{', b: ['\\\\"', ','] }), 5],
    ['a text that never ends', '{"a', 2],
    ['a text that ends in a backslash', '["\\', 2],
  ])('is told of %s', (_what, json, values) => {
    expect(hasMoreValues(Buffer.from(json), values)).toBe(false);
    expect(hasMoreValues(Buffer.from(json), values - 1)).toBe(true);
  });
});
