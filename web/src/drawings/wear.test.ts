import { describe, expect, it } from '@jest/globals';
import { shareLeft, wearLook } from './wear.ts';

describe('wear as it is drawn', () => {
  it('is the share between limit and new, held between none and all', () => {
    expect(shareLeft(7, 3, 11)).toBe(0.5);
    expect(shareLeft(2, 3, 11)).toBe(0);
    expect(shareLeft(11.3, 3, 11)).toBe(1);
  });

  it('has a word with every colour', () => {
    const looks = [0.9, 0.3, 0.05].map(wearLook);
    expect(new Set(looks.map(({ colour }) => colour)).size).toBe(3);
    expect(looks.map(({ word }) => word)).toEqual(['plenty left', 'wearing down', 'near the limit']);
    expect(wearLook(shareLeft(2.9, 3, 11)).word).toBe('at or below the limit');
  });
});
