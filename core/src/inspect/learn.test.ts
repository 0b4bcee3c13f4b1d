import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import jStat from 'jstat';
import { JOB_ACTIONS } from './catalogue.ts';
import {
  jobMinutes,
  paceOf,
  shareOf,
  timeSpent,
  WORK_KINDS,
  workKind,
  type CardMoment,
  type TimeSums,
} from './learn.ts';

const signed = (atMin: number, step: string, usualMin: number): CardMoment => ({
  kind: 'signed',
  atMin,
  step,
  usualMin,
});
const begun: CardMoment = { kind: 'taken up', atMin: 0 };

describe('how long steps took', () => {
  it('takes the gap before a signing as the step’s, and adds up a step’s places', () => {
    expect(timeSpent([begun, signed(4, 'wheel off', 3), signed(10, 'pads in', 3), signed(15, 'wheel off', 3)])).toEqual(
      [
        { step: 'wheel off', minutes: 9, usualMin: 6 },
        { step: 'pads in', minutes: 6, usualMin: 3 },
      ],
    );
  });

  it('shares the gap of steps signed together by what they usually take', () => {
    const spent = timeSpent([begun, signed(11.9, 'dust', 1), signed(12, 'hub clean', 5)]);
    expect(spent.map(({ step, minutes }) => [step, Number(minutes.toFixed(3))])).toEqual([
      ['dust', 2],
      ['hub clean', 10],
    ]);
  });

  it('counts no rest, told or untold', () => {
    const spent = timeSpent([
      begun,
      signed(3, 'stands', 3),
      { kind: 'rest', atMin: 4 },
      { kind: 'taken up', atMin: 60 },
      signed(64, 'wheel off', 3),
      // Handed over: until the next moment nobody is known to work, so this signing tells no time.
      { kind: 'rest', atMin: 65 },
      signed(90, 'dust', 2),
      // Ninety minutes at a step of two: lunch.
      signed(180, 'look', 2),
      signed(182, 'rotor off', 5),
    ]);
    expect(spent).toEqual([
      { step: 'stands', minutes: 3, usualMin: 3 },
      { step: 'wheel off', minutes: 4, usualMin: 3 },
      { step: 'rotor off', minutes: 2, usualMin: 5 },
    ]);
  });

  it('learns nothing from a card that was filled in afterwards, and something from one signed at the end of the work', () => {
    const all = Array.from({ length: 40 }, (_, k) => signed(0.1 * k, `step ${k}`, 3));
    expect(timeSpent([begun, ...all])).toEqual([]);
    const late = all.map((one) => ({ ...one, atMin: one.atMin + 90 }));
    const spent = timeSpent([begun, ...late]);
    expect(spent).toHaveLength(40);
    expect(spent.reduce((sum, { minutes }) => sum + minutes, 0)).toBeCloseTo(93.9);
  });

  it('never books more minutes than passed', () =>
    fc.assert(
      fc.property(
        fc.array(fc.record({ gap: fc.double({ min: 0, max: 200, noNaN: true }), kind: fc.nat(9) }), { maxLength: 60 }),
        (gaps) => {
          let at = 0;
          const moments = gaps.map(({ gap, kind }): CardMoment => {
            at += gap;
            if (kind === 0) return { kind: 'rest', atMin: at };
            return kind === 1 ? { kind: 'taken up', atMin: at } : signed(at, `step ${kind}`, kind);
          });
          const total = timeSpent([begun, ...moments]).reduce((sum, { minutes }) => sum + minutes, 0);
          expect(total).toBeLessThanOrEqual(at + 1e-9);
        },
      ),
    ));

  it('takes a job’s minutes from the part of it that was timed, if that is half of it', () => {
    const spent = [{ step: 'a', minutes: 40, usualMin: 20 }];
    expect(jobMinutes(spent, 40)).toBe(80);
    expect(jobMinutes(spent, 41)).toBeUndefined();
    expect(jobMinutes([], 0)).toBeUndefined();
  });
});

const sumsOf = (logs: readonly number[]): TimeSums => ({
  n: logs.length,
  sumLn: logs.reduce((sum, x) => sum + x, 0),
  sumLn2: logs.reduce((sum, x) => sum + x * x, 0),
});

describe('pace', () => {
  it('is the usual, vaguely, before the first card', () => {
    const { value, low, high } = paceOf({ n: 0, sumLn: 0, sumLn2: 0 });
    expect(value).toBe(1);
    expect(low * high).toBeCloseTo(1);
    expect(high).toBeGreaterThan(1.3);
  });

  it('agrees with a hand-worked posterior', () => {
    // Two jobs at twice the usual: y = ln 2 twice. κ = 4, m = ln 2 / 2, α = 3, β = .25 + 0 + 2·2·(ln 2)²/(2·4).
    const { value, high } = paceOf(sumsOf([Math.log(2), Math.log(2)]));
    expect(value).toBeCloseTo(Math.SQRT2, 12);
    const beta = 0.25 + Math.log(2) ** 2 / 2;
    // t(.9) of 6 degrees of freedom: 1.440 (Abramowitz & Stegun, table 26.10).
    expect(Math.log(high)).toBeCloseTo(Math.log(2) / 2 + 1.44 * Math.sqrt(beta / 12), 3);
  });

  it('holds a scattered shop’s median four times in five', () => {
    // Drawn by a general library’s generator from what the prior says, so coverage must be the nominal one.
    let state = 7;
    jStat.setRandom(() => {
      state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
      return state / 0x80000000;
    });
    let held = 0;
    const trials = 3000;
    for (let k = 0; k < trials; k += 1) {
      const variance = 1 / jStat.gamma.sample(2, 1 / 0.25);
      const truth = jStat.normal.sample(0, Math.sqrt(variance / 2));
      const n = 1 + (k % 12);
      const { low, high } = paceOf(
        sumsOf(Array.from({ length: n }, () => jStat.normal.sample(truth, Math.sqrt(variance)))),
      );
      if (Math.exp(truth) >= low && Math.exp(truth) <= high) held += 1;
    }
    expect(held / trials).toBeGreaterThan(0.77);
    expect(held / trials).toBeLessThan(0.83);
  });
});

describe('a share', () => {
  it('has Jeffreys’ interval, as a general library gives it', () => {
    for (const [hits, n] of [
      [1, 4],
      [7, 94],
      [3, 3],
      [0, 12],
    ] as const) {
      const { value, low, high } = shareOf(hits, n);
      expect(value).toBe(hits / n);
      expect(low).toBeCloseTo(hits === 0 ? 0 : jStat.beta.inv(0.1, hits + 0.5, n - hits + 0.5), 6);
      expect(high).toBeCloseTo(hits === n ? 1 : jStat.beta.inv(0.9, hits + 0.5, n - hits + 0.5), 6);
    }
  });

  it.each([
    [1, 0],
    [3, 2],
    [-1, 2],
  ])('%i of %i is refused', (hits, n) => expect(() => shareOf(hits, n)).toThrow(RangeError));
});

describe('kinds of work', () => {
  it.each([
    [['pads', 'hardware'], 'pads'],
    [['pads', 'rotors scuffed'], 'pads, rotors scuffed'],
    [['pads', 'rotors machined', 'bleed'], 'pads, rotors machined'],
    [['rotors new', 'pads'], 'pads and rotors'],
    [['rotors machined'], 'rotors'],
    [['calipers', 'bleed'], 'other work'],
    [[], 'other work'],
  ] as const)('%j is %s', (actions, kind) => expect(workKind(actions)).toBe(kind));

  it('are all reached', () => {
    const reached = JOB_ACTIONS.flatMap((action) => [workKind([action]), workKind(['pads', action])]);
    expect(new Set(reached)).toEqual(new Set(WORK_KINDS));
  });
});
