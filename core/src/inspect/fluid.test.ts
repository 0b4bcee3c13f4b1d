import { describe, expect, it } from '@jest/globals';
import { drawOff, fluidPerMm, fluidTaken, judgeFluid, parsePistons } from './fluid.ts';

describe('fluid', () => {
  it('of two 51 mm pistons is 4.086 mL a mm', () => {
    // By hand: 2 × π × 25.5² = 4,085.6 mm² = 4.0856 mL/mm.
    expect(fluidPerMm({ count: 2, diameterMm: 51 }, false)).toBeCloseTo(4.0856, 3);
  });

  it('of a fixed caliper counts the pistons of one side', () => {
    // Four 40 mm pistons, two a side: 2 × π × 20² = 2,513.3 mm².
    expect(fluidPerMm({ count: 4, diameterMm: 40 }, true)).toBeCloseTo(2.5133, 3);
  });

  it('adds up over calipers, pads and rotors', () => {
    // Front: two calipers × 4.0856 × (3 + 3 + 0.4) = 52.3 mL; rear: two × π·27²/1000 (2.2902) × 4 = 18.3 mL.
    const front = { pistons: { count: 2, diameterMm: 51 }, fixed: false, padsMm: 6, rotorMm: 0.4 };
    const rear = { pistons: { count: 1, diameterMm: 54 }, fixed: false, padsMm: 4, rotorMm: 0 };
    expect(fluidTaken([front, front, rear, rear])).toBeCloseTo(52.296 + 18.322, 2);
  });

  it.each([
    ['2x51', { count: 2, diameterMm: 51 }],
    ['1 x 54 mm', { count: 1, diameterMm: 54 }],
    ['4×40', { count: 4, diameterMm: 40 }],
    ['51', undefined],
    ['9x51', undefined],
    [null, undefined],
  ])('reads pistons from %j', (text, pistons) => {
    expect(parsePistons(text)).toEqual(pistons);
  });
});

describe('the level in the reservoir', () => {
  const reservoir = (level: number) => ({ betweenMarksMl: 100, level });

  it.each([
    // 60 mL missing where wear explains 58; the two may be off by √(10² + 14.5²) = 17.6 mL.
    [0.4, 58, 'as worn'],
    // 60 missing where wear explains 20 (√(10² + 5²) = 11.2): 40 too many.
    [0.4, 20, 'leak suspected'],
    // 10 missing where wear explains 60 (√(10² + 15²) = 18.0): somebody topped it up.
    [0.9, 60, 'topped up'],
  ] as const)('at %d with %d mL explained: %s', (level, expectedMl, verdict) => {
    expect(judgeFluid(reservoir(level), expectedMl).verdict).toBe(verdict);
  });

  it('says how much to draw off before the pistons go home', () => {
    // 60 mL come back into 30 mL of room: 30 to draw off; into 70 mL: none.
    expect(drawOff(reservoir(0.7), 60)).toBeCloseTo(30, 9);
    expect(drawOff(reservoir(0.3), 60)).toBe(0);
  });
});
