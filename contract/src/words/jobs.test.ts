import { describe, expect, it } from '@jest/globals';
import {
  buildOf,
  DEFAULT_POLICY,
  MATTER_NAMES,
  MATTERS,
  RULE_IDS,
  STEPS,
  type Fired,
  type Missing,
  type ShopPolicy,
} from '@mile-mark/core';
import { dayInWords } from '../days.ts';
import { actionInWords, firedInWords, MATTER_WHENS, missingInWords, scopeInWords, stepPlaceInWords } from './jobs.ts';
import { cornerInWords, STEP_CAUTIONS, STEP_WORDS, stepInWords, type StepSetting } from './steps.ts';

const setting = (detail: string, policy: Partial<ShopPolicy> = {}, more: Partial<StepSetting> = {}): StepSetting => ({
  build: buildOf(detail.startsWith('air') ? 'air' : 'hydraulic', detail),
  policy: { ...DEFAULT_POLICY, ...policy },
  axle: 1,
  side: 'left',
  drawOffMl: 0,
  bedIn: '5 stops from 35 mph.',
  ...more,
});

describe('the words of a card', () => {
  it('are there for every step, and there is a word for nothing else', () => {
    const named = STEPS.filter(({ kind }) => kind !== 'torque').map(({ id }) => id);
    expect(Object.keys(STEP_WORDS).sort()).toEqual([...named].sort());
    for (const step of Object.keys(STEP_CAUTIONS)) expect(named).toContain(step);
  });

  it('are sentences, for every brake and under every policy', () => {
    const policies = MATTER_NAMES.flatMap((matter) => MATTERS[matter].map((option) => ({ [matter]: option })));
    for (const detail of [
      'sliding',
      'sliding, pivots up',
      'sliding, lift-off',
      'sliding, outer spring',
      'fixed',
      'air disc',
      'disc',
    ])
      for (const policy of policies)
        for (const { id, when, joint } of STEPS) {
          const at = setting(detail, policy);
          const scope = [{ action: 'pads' as const, sides: 'both' as const }];
          const place = {
            ...at,
            axle: 1,
            brake: detail === 'air disc' ? ('air' as const) : ('hydraulic' as const),
            scope,
            joints: [],
            unknownJoints: [],
            rear: false,
          };
          if (when && !when(place)) continue;
          expect([id, stepInWords(id, at)]).toEqual([
            id,
            expect.stringMatching(joint ? /: torque it/ : /^[A-Z].*[.?]$/),
          ]);
          expect(stepInWords(id, at)).not.toMatch(/undefined|\s\s|\.\./);
        }
  });

  it.each([
    ['parking brake', setting('sliding'), /Parking brake on/],
    ['parking brake', setting('sliding, electronic parking brake', {}, { axle: 2 }), /service mode/],
    ['parking brake', setting('sliding, drum-in-hat', {}, { axle: 2 }), /Release.*drum/],
    ['piston home', setting('sliding, screw-in piston'), /press and turn/],
    ['piston home', setting('sliding', { 'retracting pistons': 'bleeder open' }), /Bleeder open.*shut it before/],
    ['draw off', setting('sliding', {}, { drawOffMl: 12.2 }), /13 mL/],
    ['cap', setting('sliding', { reservoir: 'cap off' }), /cap off/],
    ['pads in', setting('sliding', { 'pad contact points': 'thin grease on ears' }), /grease on the ears/],
    ['rotor off', setting('sliding', { 'retaining screws': 'leave out' }), /screw stays out/],
    ['leak check', setting('air disc'), /soap/],
    ['bed in', setting('sliding'), /5 stops/],
    ['torque Bracket bolt', setting('sliding'), /wrench\.$/],
    ['torque Bracket bolt', setting('sliding', { 'bracket bolts': 'medium thread locker' }), /Medium thread locker/],
    ['torque Bracket bolt', setting('sliding', { 'bracket bolts': 'none' }), /No thread locker/],
    ['torque Bracket bolt', setting('sliding', { 'bracket bolt thread': 'greased' }), /greased/],
  ] as const)('of “%s” follow the brake and the shop', (step, at, words) => {
    expect(stepInWords(step, at)).toMatch(words);
  });

  it('name corners and places', () => {
    expect(cornerInWords(undefined, undefined)).toBeNull();
    expect(cornerInWords(2, undefined)).toBe('axle 2');
    expect(stepPlaceInWords('torque Wheel nut/1/right')).toBe('Wheel nut, axle 1 right');
    expect(stepPlaceInWords('final pump')).toBe('Final pump');
  });
});

describe('the words of a decision', () => {
  const inputs: Fired['inputs'] = {
    thinnestMm: 2.94,
    lawMm: 3.2,
    limitMm: 5.25,
    daysToMark: 12,
    item: 'pins',
    state: 'stuck',
    more: 'inner',
    byMm: 2.5,
    times: 1.62,
    fluid: 'leak suspected',
    runoutMm: 0.12,
    rotors: 'rotors new',
    failing: 'below discard',
    sensor: 'left',
  };
  it('are there for every rule, with its figures', () => {
    for (const rule of RULE_IDS) expect(firedInWords({ rule, inputs })).toMatch(/^[A-Z].*\.$/);
    for (const rule of RULE_IDS) expect(firedInWords({ rule, inputs })).not.toMatch(/undefined|NaN/);
    expect(firedInWords({ rule: 'pads at the service limit', inputs })).toBe(
      'Thinnest pad 2.9 mm, service limit 5.25 mm.',
    );
    expect(firedInWords({ rule: 'pads at their mile mark', inputs: { daysToMark: -3 } })).toMatch(/passed 3 days ago/);
  });

  it('say what is done where', () => {
    const scope = [
      { action: 'pads' as const, sides: 'both' as const },
      { action: 'calipers' as const, sides: ['left' as const] },
    ].map((one) => ({ ...one, mandatory: false, rules: [], reason: null }));
    expect(actionInWords(scope[1] as (typeof scope)[number])).toBe('caliper left');
    expect(
      scopeInWords([
        { axle: 1, scope },
        { axle: 2, scope: [] },
      ]),
    ).toBe('axle 1: pads, caliper left; axle 2: to be inspected');
  });

  it('say of every school when it makes sense', () => {
    expect(Object.keys(MATTER_WHENS).sort()).toEqual([...MATTER_NAMES].sort());
  });
});

it.each([
  [{ code: 'step', step: 'final pump' }, 'Not done: FINAL PUMP'],
  [{ code: 'unreleased', step: 's', joint: 'Wheel nut' }, /Wheel nut: nobody has released/],
  [
    { code: 'above new', step: 's', pad: 'inner', mm: 12.9, newMm: 11 },
    /inner pad reads 12\.9 mm, above the new 11\.0 mm/,
  ],
  [{ code: 'below limit', step: 's', pad: 'outer', mm: 2.5, limitMm: 3 }, /outer pad was left at 2\.5 mm/],
  [
    { code: 'rotor below discard', step: 's', mm: 29.8, discardMm: 30 },
    /29\.8 mm, under its discard thickness of 30\.0 mm/,
  ],
  [{ code: 'defect', defectId: 'd' }, /open defect/],
  [{ code: 'odometer' }, /odometer/],
] as [Missing, RegExp | string][])('%j is said', (missing, words) => {
  expect(missingInWords(missing, (step) => step.toUpperCase())).toEqual(
    typeof words === 'string' ? words : expect.stringMatching(words),
  );
});

it('a day is said as people write it', () => {
  expect(dayInWords('2026-12-04')).toBe('4 Dec 2026');
});
