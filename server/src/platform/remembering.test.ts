import { describe, expect, it } from '@jest/globals';
import { remembering } from './remembering.ts';

describe('a function that remembers', () => {
  it('is asked once for each text, and answers the same when it forgot', () => {
    let asked = 0;
    const lengthOf = remembering((text) => {
      asked += 1;
      return text.length;
    });
    expect([lengthOf('one'), lengthOf('three'), lengthOf('one'), lengthOf('')]).toEqual([3, 5, 3, 0]);
    expect(asked).toBe(3);
    for (let i = 0; i < 6000; i += 1) lengthOf(`text ${i}`);
    asked = 0;
    expect(lengthOf('one')).toBe(3);
    expect(asked).toBe(1);
  });
});
