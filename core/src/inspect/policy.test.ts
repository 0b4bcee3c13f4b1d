import { describe, expect, it } from '@jest/globals';
import { buildOf } from './build.ts';
import { COMPLAINT_KINDS, COMPLAINTS, escalated, FINDING_ITEMS, findingOf, statesOf, worst } from './catalogue.ts';
import { contradictions, DEFAULT_POLICY, MATTERS, policyFor } from './policy.ts';

describe("the shop's policy", () => {
  it('as shipped contradicts nothing', () => {
    expect(contradictions(DEFAULT_POLICY)).toEqual([]);
  });

  it('is refused with locker and grease on one thread, or the cap off while the bleeder is open', () => {
    const greased = policyFor([{ 'bracket bolts': 'medium thread locker', 'bracket bolt thread': 'greased' }]);
    expect(contradictions(greased).map(({ code }) => code)).toEqual(['locker on grease']);
    const open = policyFor([{ 'retracting pistons': 'bleeder open', reservoir: 'cap off' }]);
    expect(contradictions(open).map(({ code }) => code)).toEqual(['cap off with bleeder open']);
    expect(contradictions(policyFor([{ 'bracket bolt thread': 'greased' }]))).toEqual([]);
  });

  it('of a model goes over that of its class, and that over the fleet’s', () => {
    const own = policyFor([
      { calipers: 'only the failed one', hardware: 'cleaned and reused' },
      { calipers: 'in pairs' },
    ]);
    expect(own.calipers).toBe('in pairs');
    expect(own.hardware).toBe('cleaned and reused');
    expect(own['hub face']).toBe(DEFAULT_POLICY['hub face']);
  });

  it('never offers to tighten by feel', () => {
    expect(JSON.stringify(MATTERS)).not.toMatch(/feel/);
  });
});

describe('the catalogue', () => {
  it('has a first state that passes and asks for nothing, for every item', () => {
    for (const item of FINDING_ITEMS) {
      const found = findingOf(item, statesOf(item)[0] ?? '');
      expect([item, found?.severity, found?.actions]).toEqual([item, 'note', undefined]);
    }
  });

  it('leads every complaint to checks it knows', () => {
    for (const kind of COMPLAINT_KINDS) {
      expect(COMPLAINTS[kind].look.length).toBeGreaterThan(0);
      for (const item of COMPLAINTS[kind].look) expect(FINDING_ITEMS).toContain(item);
    }
  });

  it('knows nothing of an item or state that is not in it', () => {
    expect(findingOf('toString', 'torn')).toBeUndefined();
    expect(findingOf('boots', 'stuck')).toBeUndefined();
  });

  it('takes the worst of severities', () => {
    expect(worst(['watch', 'do not drive', 'note'])).toBe('do not drive');
    expect(worst([])).toBeUndefined();
  });

  it.each([
    ['watch', 0, 7, 'watch'],
    ['watch', 6, 7, 'watch'],
    ['watch', 7, 7, 'before next use'],
    ['note', 14, 7, 'before next use'],
    ['note', 70, 7, 'before next use'],
    ['watch', 100, 0, 'watch'],
    ['do not drive', 100, 7, 'do not drive'],
  ] as const)('a defect of “%s”, %d days old, rising every %d days, is “%s”', (severity, age, every, now) => {
    expect(escalated(severity, age, every)).toBe(now);
  });
});

describe('how a brake is built', () => {
  it.each([
    ['hydraulic', 'hydraulic sliding', 'sliding', 'none', 'none'],
    ['hydraulic', 'hydraulic sliding, drum-in-hat parking brake', 'sliding', 'drum in hat', 'none'],
    ['hydraulic', 'sliding, drum-in-hat parking brake, wear sensor left', 'sliding', 'drum in hat', 'left'],
    ['hydraulic', 'fixed opposed, 4 pistons', 'fixed', 'none', 'none'],
    [
      'hydraulic',
      'sliding, pivots up, electronic parking brake, wear sensors',
      'sliding, pivots up',
      'electronic',
      'both',
    ],
    ['hydraulic', 'sliding, lift-off', 'sliding, lifts off', 'none', 'none'],
    ['hydraulic', 'sliding with outer spring and hex-key pins', 'sliding, outer spring', 'none', 'none'],
    ['hydraulic', 'sliding, screw-in piston, no sensor', 'sliding', 'screw-in piston', 'none'],
    ['hydraulic', 'disc', 'unknown', 'none', 'none'],
    ['air', 'air disc', 'air', 'spring brake', 'none'],
  ] as const)('%s, “%s”: %s, %s, sensor %s', (brake, detail, caliper, parking, sensor) => {
    expect(buildOf(brake, detail)).toEqual({ caliper, parking, sensor });
  });
});
