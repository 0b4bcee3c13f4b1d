import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { randomNormal, seededRandom } from '../numeric/index.ts';
import { indexRotor, rotorRunout, rotorThickness } from './index.ts';

/** A plain discrete Fourier transform by its definition: amplitude and phase (turns) of harmonic k. */
function dft(points: readonly number[], k: number): { amplitude: number; turn: number } {
  let [re, im] = [0, 0];
  points.forEach((value, n) => {
    const angle = (-2 * Math.PI * k * n) / points.length;
    re += value * Math.cos(angle);
    im += value * Math.sin(angle);
  });
  return { amplitude: (2 * Math.hypot(re, im)) / points.length, turn: (Math.atan2(-im, re) / (2 * Math.PI) + 1) % 1 };
}

describe('thickness around the rotor', () => {
  it('is least at its thinnest point; points not measured do not count', () => {
    const found = rotorThickness([28.1, 28.05, undefined, 27.92, 28, undefined, 28.11, 28.1]);
    expect(found).toMatchObject({ leastMm: 27.92, leastAt: 3, points: 6 });
    expect(found?.variationMm).toBeCloseTo(0.19, 12);
    expect(rotorThickness([undefined])).toBeUndefined();
  });
});

describe('runout', () => {
  it.each([8, 12])('has the first harmonic of a direct DFT at %i points', (n) => {
    const random = seededRandom(n);
    const points = Array.from({ length: n }, () => 0.05 * randomNormal(random));
    const { first, remainderMm } = rotorRunout(points);
    expect(first.amplitudeMm).toBeCloseTo(dft(points, 1).amplitude, 12);
    expect(first.highAtTurn).toBeCloseTo(dft(points, 1).turn, 12);
    expect(dft(remainderMm, 1).amplitude).toBeLessThan(1e-15);
  });

  it('takes a constructed rotor apart: tilt of 0.06 mm high at four o’clock, and a wave of three lobes in the rotor', () => {
    const points = Array.from({ length: 12 }, (_, i) => {
      const turn = i / 12;
      return 0.2 + 0.03 * Math.cos(2 * Math.PI * (turn - 4 / 12)) + 0.01 * Math.cos(6 * Math.PI * turn);
    });
    const { first, remainderTirMm, tirMm } = rotorRunout(points);
    expect(first.amplitudeMm).toBeCloseTo(0.03, 12);
    expect(first.highAtTurn).toBeCloseTo(4 / 12, 12);
    expect(remainderTirMm).toBeCloseTo(0.02, 12);
    expect(tirMm).toBeGreaterThan(0.06);
    expect(() => rotorRunout([0, 1, 2])).toThrow(RangeError);
  });
});

describe('indexing on the hub', () => {
  const wave = (amplitude: number, turn: number) =>
    Array.from({ length: 8 }, (_, i) => amplitude * Math.cos(2 * Math.PI * (i / 8 - turn)));
  const sum = (a: number[], b: number[]) => a.map((value, i) => value + (b[i] as number));

  it('puts the rotor’s high spot opposite the hub’s', () => {
    const hub = wave(0.02, 0.1);
    // The rotor's own high spot is one stud of five before the place opposite the hub's: one stud on is best.
    const [best, ...rest] = indexRotor(sum(hub, wave(0.02, 0.6 - 0.2)), hub, 5);
    expect(best?.turnStuds).toBe(1);
    expect(best?.runoutMm).toBeCloseTo(0, 12);
    expect(rest).toHaveLength(4);
  });

  it('agrees with mounting the turned rotor and measuring again', () => {
    const hub = wave(0.015, 0.33);
    const rotor = wave(0.04, 0.87);
    for (const { turnStuds, runoutMm } of indexRotor(sum(hub, rotor), hub, 10)) {
      const turned = wave(0.04, 0.87 + turnStuds / 10);
      expect(2 * rotorRunout(sum(hub, turned)).first.amplitudeMm).toBeCloseTo(runoutMm, 12);
    }
  });
});

describe('runout, whatever the rotor', () => {
  const points = fc
    .array(fc.integer({ min: -200, max: 200 }), { minLength: 8, maxLength: 8 })
    .map((um) => um.map((value) => value / 1000));

  it('does not hang on the dial’s zero', () => {
    fc.assert(
      fc.property(points, fc.integer({ min: -500, max: 500 }), (mm, zero) => {
        const [one, two] = [rotorRunout(mm), rotorRunout(mm.map((value) => value + zero / 1000))];
        expect(two.tirMm).toBeCloseTo(one.tirMm, 9);
        expect(two.first.amplitudeMm).toBeCloseTo(one.first.amplitudeMm, 9);
        expect(two.remainderTirMm).toBeCloseTo(one.remainderTirMm, 9);
      }),
    );
  });

  it('turns its high spot with the rotor', () => {
    fc.assert(
      fc.property(points, fc.integer({ min: 1, max: 7 }), (mm, steps) => {
        const turned = mm.map((_, i) => mm[(i - steps + 8) % 8] as number);
        const [one, two] = [rotorRunout(mm), rotorRunout(turned)];
        expect(two.first.amplitudeMm).toBeCloseTo(one.first.amplitudeMm, 9);
        if (one.first.amplitudeMm < 1e-6) return;
        const moved = (two.first.highAtTurn - one.first.highAtTurn - steps / 8 + 2.5) % 1;
        expect(moved).toBeCloseTo(0.5, 6);
      }),
    );
  });

  it('is made of its parts: once-a-turn and remainder give the points back', () => {
    fc.assert(
      fc.property(points, (mm) => {
        const { first, remainderMm } = rotorRunout(mm);
        const level = mm.reduce((sum, value) => sum + value, 0) / 8;
        mm.forEach((value, i) => {
          const wave = first.amplitudeMm * Math.cos(2 * Math.PI * (i / 8 - first.highAtTurn));
          expect(level + wave + (remainderMm[i] as number)).toBeCloseTo(value, 9);
        });
      }),
    );
  });
});
