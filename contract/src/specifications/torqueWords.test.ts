import { describe, expect, it } from '@jest/globals';
import { fitTorque, type JointDoubt, judgeJoint } from '@mile-mark/core';
import type { BenchJoint, TorqueTool } from './benches.ts';
import { benchOf, readinessOf } from './jointFacts.ts';
import { JointTorque, JointValues } from './schemas.ts';
import {
  fieldsInWords,
  fieldsWithTorque,
  figuresToRetype,
  fitInWords,
  fitsInWords,
  jointDoubtInWords,
  torqueFigures,
  torqueInOtherUnit,
  torqueInPieces,
  torqueInWords,
  torqueShownAs,
} from './torqueWords.ts';

const torque = (rest: object) => JointTorque.parse({ unit: 'lbf·ft', ...rest });
const TODAY = '2026-11-20';

describe('a torque in words', () => {
  it('is in the unit of its source first, unrounded, and in the other rounded', () => {
    expect(torqueInWords(torque({ nominal: 155.25 }))).toBe('155.25 lbf·ft');
    expect(torqueInOtherUnit(torque({ nominal: 155 }))).toBe('210 N·m');
    expect(torqueInOtherUnit(torque({ nominal: 24 }), 0.5)).toBe('32.5 N·m');
    expect(torqueInOtherUnit(torque({ unit: 'N·m', nominal: 10 }))).toBe('7.5 lbf·ft');
    // 15 N·m is 11.06 lbf·ft: from there on whole steps, below it half ones.
    expect(torqueInOtherUnit(torque({ unit: 'N·m', nominal: 15 }))).toBe('11 lbf·ft');
    expect(torqueInOtherUnit(torque({ unit: 'N·m', nominal: 14.9 }))).toBe('11 lbf·ft');
    expect(torqueInOtherUnit(torque({ unit: 'N·m', nominal: 14.2 }))).toBe('10.5 lbf·ft');
    expect(torqueInOtherUnit(torque({ unit: 'lbf·in', nominal: 120, passes: [60] }))).toBe('7, then 13.5 N·m');
  });
  it('is in the unit somebody reads where they asked for one, every figure of it; the turn stays', () => {
    const stated = torque({ least: 148, nominal: 155, most: 162, passes: [65], angleDeg: 90 });
    // 1 lbf·ft = 1.355818 N·m (NIST SP 811, appendix B.8): 200.7, 210.2, 219.6 and 88.1 N·m.
    expect(torqueInWords(torqueShownAs(stated, 'N·m'))).toBe('88, then 210 N·m (201 to 220), then 90°');
    expect(torqueInWords(torqueShownAs(torque({ unit: 'N·m', nominal: 10 }), 'lbf·ft'))).toBe('7.5 lbf·ft');
    for (const wanted of ['as stated', 'lbf·ft'] as const) expect(torqueShownAs(stated, wanted)).toBe(stated);
  });
  it('says range, passes and angle', () => {
    expect(torqueInWords(torque({ least: 120, most: 140 }))).toBe('120 to 140 lbf·ft');
    expect(torqueInWords(torque({ least: 120, nominal: 130, most: 140 }))).toBe('130 lbf·ft (120 to 140)');
    expect(torqueInWords(torque({ nominal: 130, passes: [50, 100] }))).toBe('50, then 100, then 130 lbf·ft');
    expect(torqueInWords(torque({ unit: 'N·m', nominal: 50, angleDeg: 60 }))).toBe('50 N·m, then 60°');
    expect(torqueInWords(torque({ least: 100 }))).toBe('at least 100 lbf·ft');
    expect(torqueInWords(torque({ least: 120, nominal: 130 }))).toBe('130 lbf·ft (at least 120)');
    expect(torqueInWords(torque({ most: 140 }))).toBe('at most 140 lbf·ft');
  });
});

const tool = (rest: Partial<TorqueTool>): TorqueTool => ({
  id: 'w',
  revision: 1,
  name: 'Half-inch',
  kind: 'wrench',
  type: 'setting',
  depot: 'Depot',
  unit: 'lbf·ft',
  least: 26,
  most: 130,
  graduation: 1,
  lengthMm: 430,
  extensionMm: null,
  endSize: null,
  ratio: null,
  drive: null,
  calibrationDue: '2027-01-01',
  retired: false,
  ...rest,
});
const ADAPTER = tool({
  id: 'a',
  name: 'Open end',
  kind: 'adapter',
  unit: 'N·m',
  least: null,
  most: 300,
  graduation: null,
  extensionMm: 90,
});
const target = (nm: number) => ({ nm, leastNm: null, mostNm: null });

describe('a bench in words', () => {
  it('names tool and setting', () => {
    expect(fitInWords(fitTorque(target(100), benchOf([tool({})]), TODAY))).toBe('Half-inch, set to 74 lbf·ft');
    expect(fitInWords(fitTorque(target(210), benchOf([tool({}), ADAPTER]), TODAY))).toBe(
      'Half-inch with Open end in line, set to 128 lbf·ft',
    );
    const fits = [88, 176].map((nm) => fitTorque(target(nm), benchOf([tool({})]), TODAY));
    expect(fitsInWords(fits)).toEqual(['Half-inch, set to 65, then 130 lbf·ft']);
  });
  it('says that a scale is too coarse', () => {
    const fit = fitTorque({ nm: 110, leastNm: 109, mostNm: 111 }, benchOf([tool({ graduation: 5 })]), TODAY);
    expect(fitInWords(fit)).toContain('too coarse for what is allowed: a finer wrench that covers 110 N·m');
  });
  it('says what is needed, and why a tool is blocked', () => {
    expect(fitInWords(fitTorque(target(650), benchOf([tool({})]), TODAY))).toMatch(
      /ends at 176 N·m.*650 N·m.*multiplier of 3\.7 to 1/,
    );
    expect(fitInWords(fitTorque({ nm: 180, leastNm: 165, mostNm: 195 }, benchOf([tool({})]), TODAY))).toContain(
      'ends at 176 N·m, short of the nominal though the document allows from 165 N·m: a wrench that covers 180 N·m',
    );
    expect(fitInWords(fitTorque(target(100), benchOf([tool({ calibrationDue: '2026-10-31' })]), TODAY))).toMatch(
      /due on 31 Oct 2026$/,
    );
    expect(fitInWords(fitTorque(target(100), benchOf([tool({ calibrationDue: null })]), TODAY))).toContain(
      'no calibration on record',
    );
    expect(fitInWords(fitTorque(target(100), benchOf([tool({ retired: true })]), TODAY))).toContain(
      'No wrench in calibration',
    );
  });
});

describe('readiness of a job', () => {
  const joint = (name: string, nominal: number | null): BenchJoint => ({
    joint: name,
    position: '',
    values: JointValues.parse({ about: 'joint', torque: nominal === null ? null : { unit: 'lbf·ft', nominal } }),
    source: { document: 'Manual', page: '1', revision: 'A', date: '2025-01-01' },
    number: 1,
    releasedOn: '2025-02-01',
    demo: false,
  });
  it('counts what is known, unknown, and out of reach', () => {
    const axle = {
      joints: [joint('Wheel nut', 130), joint('Bracket bolt', 155), joint('Hose joint', null)],
      unknown: ['Bleeder screw'],
    };
    expect(readinessOf(axle, [tool({})], TODAY)).toMatchObject({
      released: 3,
      unknown: ['Bleeder screw', 'Hose joint'],
      unreachable: [{ joint: 'Bracket bolt', torque: '155 lbf·ft' }],
    });
    expect(readinessOf(axle, [tool({}), ADAPTER], TODAY).unreachable).toEqual([]);
  });
});

describe('fields in words', () => {
  const values = JointValues.parse({
    about: 'joint',
    fastener: { thread: 'M14x1.5' },
    torque: { unit: 'N·m', nominal: 170, passes: [80] },
  });
  it('say unknown where nothing is known', () => {
    expect(fieldsInWords(values)).toMatchObject({
      thread: 'M14x1.5',
      nominal: '170',
      passes: '80',
      most: 'unknown',
      oneTimeUse: 'unknown',
    });
  });
  it('are those that two people type: every figure of the torque, and nothing else', () => {
    expect(figuresToRetype(values)).toEqual({
      unit: 'N·m',
      least: null,
      nominal: 170,
      most: null,
      passes: '80',
      angleDeg: null,
      statedToo: null,
    });
  });
});

describe('a torque in pieces, for large print', () => {
  it('sets what comes before and its range apart', () => {
    expect(torqueInPieces(torque({ least: 120, nominal: 130, most: 140, passes: [50, 100] }))).toEqual({
      main: '130 lbf·ft',
      before: 'first 50, then 100 lbf·ft',
      range: '120 to 140 lbf·ft',
    });
    expect(torqueInPieces(torque({ nominal: 50, most: 55, angleDeg: 60 }))).toEqual({
      main: '50 lbf·ft, then 60°',
      before: undefined,
      range: 'at most 55 lbf·ft before the turn',
    });
    expect(torqueInPieces(torque({ least: 120, most: 140 }))).toMatchObject({
      main: '120 to 140 lbf·ft',
      range: undefined,
    });
  });
});

describe('what differs', () => {
  it('is told with a torque as one field, and yes and no as words', () => {
    const values = JointValues.parse({
      about: 'joint',
      absent: false,
      torque: { unit: 'N·m', nominal: 170, statedToo: { unit: 'lbf·ft', value: 125 } },
      oneTimeUse: true,
      recheckMiles: 100,
    });
    expect(fieldsWithTorque(values)).toMatchObject({
      torque: '170 N·m',
      oneTimeUse: 'yes',
      statedToo: '125 lbf·ft',
      recheckMiles: '100 mi',
    });
    expect(fieldsWithTorque(values)).not.toHaveProperty('nominal');
    expect(fieldsWithTorque({ ...values, torque: null, oneTimeUse: false })).toMatchObject({
      torque: 'unknown',
      oneTimeUse: 'no',
    });
    expect(torqueFigures(null)).toEqual({
      unit: null,
      least: null,
      nominal: null,
      most: null,
      passes: null,
      angleDeg: null,
      statedToo: null,
    });
  });
});

describe('doubts in words', () => {
  it.each([
    [{ code: 'head_unread', kind: 'hex' }, 'width across flats'],
    [{ code: 'head_unread', kind: 'hex key' }, 'width across flats'],
    [{ code: 'head_unread', kind: 'six-lobe' }, 'T50'],
    [{ code: 'head_unread', kind: 'external six-lobe' }, 'E14'],
    [{ code: 'order', below: 140, above: 130 }, '140 is more than 130'],
    [{ code: 'passes', pass: 50, before: 80 }, '50 comes after 80'],
    [{ code: 'pair', difference: -0.062 }, 'differ by 6 %'],
    [{ code: 'head_impossible', acrossMm: 10, diameterMm: 14, outside: true, usual: [] }, 'wider than its thread.'],
    [
      { code: 'head_impossible', acrossMm: 14, diameterMm: 10, outside: false, usual: ['8 mm'] },
      'narrower than its thread; this thread has 8 mm.',
    ],
  ])('%j', (doubt, words) => expect(jointDoubtInWords(doubt as JointDoubt)).toContain(words));
  it('say what would be accepted', () => {
    const facts = {
      thread: 'M14x1.5',
      strength: null,
      headKind: 'hex' as const,
      headSize: '13 mm',
      torque: torque({ nominal: 900 }),
      hollow: false,
    };
    const [head, unusual] = judgeJoint(facts).map(jointDoubtInWords);
    expect(head).toContain('this thread has 17 mm, 18 mm, 19 mm, 21 mm, 22 mm');
    expect(unusual).toContain('far outside');
  });
});
