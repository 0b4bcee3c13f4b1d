import { describe, expect, it } from '@jest/globals';
import { NewDuty, SettingsChange } from '../register/index.ts';
import { changeInWords, suspicionOfChange, timesInWords } from '../words/index.ts';
import { ChangeAnswer } from './changes.ts';

const factor = { p05: 2.2, p50: 2.64, p95: 3.1 };
const id = '3f0c1f3e-1111-4111-8111-000000000001';

describe('a change of wear in words', () => {
  it('says how many times with the interval', () => {
    expect(timesInWords(factor)).toBe('2.6 times (2.2 to 3.1)');
  });

  it.each([
    [
      { kind: 'apart', axle: 1, side: 'right', more: 'inner' },
      /Axle 1, right: the inner pad/,
      /slide has seized/,
      /pins and channels/,
    ],
    [
      { kind: 'apart', axle: 2, side: 'left', more: 'outer' },
      /Axle 2, left: the outer pad/,
      /pins or channels bind/,
      /piston/,
    ],
    [{ kind: 'wheel', axle: 1, side: 'left' }, /both pads wear 2\.6 times/, /drags/, /hot hub/],
    [{ kind: 'axle', axle: 2 }, /fitted last wear 2\.6 times/, /[Ww]rong|other pads/i, /part number/],
    [{ kind: 'route' }, /All its pads/, /route, the load or the driver/, /state the duty/],
  ] as const)('names what is seen, the likely cause and the check: %j', (change, seen, cause, check) => {
    const words = changeInWords({ factor, looks: 2, ...change });
    expect(words.seen).toMatch(seen);
    expect(words.cause).toMatch(cause);
    expect(words.check).toMatch(check);
    expect(Object.values(words).join(' ')).not.toMatch(/!|undefined|null/);
  });

  it('does not call a small difference of the sides a drag', () => {
    const words = changeInWords({
      kind: 'wheel',
      axle: 1,
      side: 'left',
      looks: 3,
      factor: { p05: 1.1, p50: 1.3, p95: 1.5 },
    });
    expect(words.seen).toMatch(/left and right wear apart/);
    expect(words.cause).not.toMatch(/drags/);
  });
});

describe('what is accepted', () => {
  const fields = (result: { success: boolean; error?: { issues: { path: PropertyKey[] }[] } | undefined }) =>
    result.error?.issues.map(({ path }) => path.join('.')) ?? [];

  it('of a decision: what was found in words, unless it is only to be looked at', () => {
    expect(ChangeAnswer.safeParse({ id, answer: 'look' }).success).toBe(true);
    expect(fields(ChangeAnswer.safeParse({ id, answer: 'cause_found' }))).toEqual(['note']);
    expect(fields(ChangeAnswer.safeParse({ id, answer: 'nothing_found', note: '  x ' }))).toEqual(['note']);
    expect(ChangeAnswer.safeParse({ id, answer: 'cause_found', note: 'pin dry' }).success).toBe(true);
  });

  it('of a duty: figures within what a road vehicle can do, slowdowns left out or whole', () => {
    const duty = {
      id,
      name: 'Mill round',
      stopsPerMile: 2,
      mphBeforeStop: 30,
      payloadShare: 0.5,
      descentMPerMile: 6,
      retarderShare: 0.1,
      towedKg: 0,
      milesPerDay: 70,
    };
    expect(NewDuty.parse(duty)).toMatchObject({ slowdownsPerMile: 0, longestDescentM: 0, source: 'stated' });
    expect(fields(NewDuty.safeParse({ ...duty, stopsPerMile: 41, mphBeforeStop: 0 }))).toEqual([
      'stopsPerMile',
      'mphBeforeStop',
    ]);
    expect(fields(NewDuty.safeParse({ ...duty, slowdownFromMph: 10, slowdownToMph: 20 }))).toEqual(['slowdownToMph']);
  });

  it('of costs: whole cents, a failure no cheaper than the planned service', () => {
    const settings = { riskTarget: 0.05, riskTargetHeavy: 0.03, marginShare: 0.25 };
    const costs = (plannedMinor: number, failureMinor: number, currency = 'USD') => ({
      currency,
      light: { plannedMinor, failureMinor },
      heavy: { plannedMinor: 1, failureMinor: 1 },
    });
    expect(SettingsChange.safeParse(settings).success).toBe(true);
    expect(SettingsChange.safeParse({ ...settings, costs: costs(100, 100) }).success).toBe(true);
    expect(fields(SettingsChange.safeParse({ ...settings, costs: costs(100, 99) }))).toEqual([
      'costs.light.failureMinor',
    ]);
    expect(fields(SettingsChange.safeParse({ ...settings, costs: costs(1.5, 99, 'usd') }))).toEqual([
      'costs.currency',
      'costs.light.plannedMinor',
    ]);
    expect(fields(SettingsChange.safeParse({ ...settings, riskTarget: 0 }))).toEqual(['riskTarget']);
  });
});

describe('a change that is not sure', () => {
  it('is said with its place, its chance, and what it does meanwhile', () => {
    expect(suspicionOfChange({ kind: 'apart', axle: 1, side: 'right', more: 'inner', probability: 0.473 })).toBe(
      'Not sure yet, 47 %: axle 1 right: the inner pad wears much faster than its mate (slide or pins). The forecast allows for it; one more look would tell.',
    );
    expect(suspicionOfChange({ kind: 'route', probability: 0.3 })).toMatch(/^Not sure yet, 30 %: all its pads/);
    expect(suspicionOfChange({ kind: 'axle', axle: 2, probability: 0.6 })).toContain('axle 2: the pads fitted last');
  });
});
