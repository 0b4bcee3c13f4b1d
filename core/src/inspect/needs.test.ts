import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import {
  buildInWords,
  buildOf,
  HYDRAULIC_CALIPERS,
  HYDRAULIC_PARKING,
  SENSOR_PLACES,
  type BrakeBuild,
} from './build.ts';
import { cardOf } from './card.ts';
import type { CardAxle } from './cardSteps.ts';
import { JOB_ACTIONS, type JobAction } from './catalogue.ts';
import { KIT_PARTS, kitOf, toolsOf, type KitPart } from './needs.ts';
import { DEFAULT_POLICY, type ShopPolicy } from './policy.ts';

function axleOf(detail: string, actions: readonly JobAction[], more: Partial<CardAxle> = {}): CardAxle {
  const brake = detail.startsWith('air') ? ('air' as const) : ('hydraulic' as const);
  const scope = actions.map((action) => ({ action, sides: 'both' as const }));
  return { axle: 1, brake, build: buildOf(brake, detail), scope, joints: [], unknownJoints: [], ...more };
}
const kit = (axle: CardAxle, policy: Partial<ShopPolicy> = {}) =>
  Object.fromEntries(
    kitOf([axle], { ...DEFAULT_POLICY, ...policy }).map(({ part, quantity }) => [part, quantity]),
  ) as Partial<Record<KitPart, number | null>>;

describe('how an axle is built', () => {
  const builds: BrakeBuild[] = SENSOR_PLACES.flatMap((sensor) => [
    ...HYDRAULIC_CALIPERS.flatMap((caliper) => HYDRAULIC_PARKING.map((parking) => ({ caliper, parking, sensor }))),
    { caliper: 'air' as const, parking: 'spring brake' as const, sensor },
  ]);
  it.each(builds.map((build) => [buildInWords(build), build] as const))('%s is read as it was said', (words, build) =>
    expect(buildOf(build.caliper === 'air' ? 'air' : 'hydraulic', words)).toEqual(build),
  );
});

/** What a kit holds: practitioners' list of kits. Common practice, no source; air brakes from memory. */
describe('what a job takes', () => {
  it('is four pads, two rotors with their screws, a set of clips at each wheel', () => {
    const own = kit(axleOf('sliding', ['pads', 'rotors new', 'hardware']));
    expect(own).toMatchObject({ 'brake pad': 4, rotor: 2, 'rotor retaining screw': 2, 'clip set': 2 });
    expect(kit(axleOf('sliding', ['rotors new']), { 'retaining screws': 'leave out' })).not.toHaveProperty(
      'rotor retaining screw',
    );
  });

  it('is pins and spreader springs for a fixed caliper, and no clips, boots or bracket', () => {
    const own = kit(axleOf('fixed', ['pads', 'hardware', 'pin boots', 'bracket']));
    expect(own).toMatchObject({ 'pad pin set': 2, 'spreader spring': 2 });
    for (const part of ['clip set', 'pin boot set', 'bracket', 'rubber-safe grease'])
      expect(own).not.toHaveProperty(part);
  });

  it('is two washers a joint, never fitted again, and fluid, wherever a line was opened', () => {
    for (const actions of [['calipers'], ['hose'], ['calipers', 'hose']] as JobAction[][]) {
      const lines = kitOf([axleOf('sliding', actions)], DEFAULT_POLICY);
      expect(lines.find(({ part }) => part === 'sealing washer')).toMatchObject({ quantity: 4, oneTimeUse: true });
      expect(lines.map(({ part }) => part)).toContain('brake fluid');
    }
    expect(kit(axleOf('sliding', ['pads']))).not.toHaveProperty('sealing washer');
    expect(kit(axleOf('sliding', ['pads']))).not.toHaveProperty('brake fluid');
  });

  it('is a sensor only on the side that has one', () => {
    const sensor = (detail: string) =>
      kitOf([axleOf(detail, ['pads', 'sensor'])], DEFAULT_POLICY).find(({ part }) => part === 'wear sensor');
    expect(sensor('sliding, wear sensor left')).toMatchObject({ quantity: 1, side: 'left', oneTimeUse: true });
    expect(sensor('sliding, wear sensors')).toMatchObject({ quantity: 2, side: 'both' });
    expect(sensor('sliding')).toBeUndefined();
  });

  it('is retainers, guide pins and no fluid, hose or washer for air discs', () => {
    const own = kit(axleOf('air disc', ['pads', 'calipers', 'pin boots', 'hose', 'rotors new', 'bleed']));
    expect(own).toMatchObject({ 'brake pad': 4, 'pad retainer kit': 2, 'guide pin kit': 2, caliper: 2 });
    for (const part of ['sealing washer', 'brake fluid', 'brake hose', 'clip set', 'rotor retaining screw'])
      expect(own).not.toHaveProperty(part);
  });

  it('is for one wheel where one wheel is asked for', () => {
    const one = axleOf('sliding', [], { scope: [{ action: 'calipers', sides: ['right'] }] });
    expect(kitOf([one], DEFAULT_POLICY)).toContainEqual({
      part: 'caliper',
      quantity: 1,
      side: 'right',
      axle: 1,
      oneTimeUse: false,
    });
  });

  it('follows the shop: film and locker only where it uses them', () => {
    const axle = axleOf('sliding', ['rotors new']);
    expect(kit(axle, { 'hub face': 'film on the face' })).toHaveProperty(['hub film'], null);
    expect(kit(axle, { 'hub face': 'clean and dry' })).not.toHaveProperty(['hub film']);
    expect(kit(axle, { 'bracket bolts': 'medium thread locker' })).toHaveProperty(['medium thread locker'], null);
    expect(kit(axle, { 'bracket bolts': 'none' })).not.toHaveProperty(['medium thread locker']);
  });

  it('has every line once, a whole quantity, and nothing for an empty scope', () =>
    fc.assert(
      fc.property(
        fc.constantFrom('sliding', 'fixed', 'air disc', 'sliding, wear sensors', 'hydraulic'),
        fc.subarray([...JOB_ACTIONS]),
        (detail, actions) => {
          const lines = kitOf([axleOf(detail, actions)], DEFAULT_POLICY);
          const parts = lines.map(({ part }) => part);
          expect(new Set(parts).size).toBe(parts.length);
          expect(KIT_PARTS).toEqual(expect.arrayContaining(parts));
          for (const { quantity } of lines) if (quantity !== null) expect(quantity % 2).toBe(0);
          if (actions.length === 0) expect(lines).toEqual([]);
        },
      ),
    ));
});

describe('tools', () => {
  const tools = (detail: string, actions: JobAction[], drawOffMl = 0) => {
    const axles = [axleOf(detail, actions)];
    return toolsOf(cardOf({ axles, policy: DEFAULT_POLICY, drawOffMl }), axles);
  };
  it('are those of the build', () => {
    expect(tools('sliding', ['pads'])).toEqual(expect.arrayContaining(['piston retractor', 'hook for the caliper']));
    expect(tools('sliding, screw-in piston', ['pads'])).toContain('turn tool for the pistons');
    expect(tools('sliding, screw-in piston', ['pads'])).not.toContain('piston retractor');
    expect(tools('sliding, electronic parking brake', ['pads'])).toContain('scan tool');
    expect(tools('sliding, outer spring', ['pads'])).toContain('hex key and a lever for the outer spring');
    expect(tools('fixed', ['pads'])).toContain('pin punch');
  });
  it('are those of an air disc axle: lifting gear, caging bolts, feeler gauge, and nothing for pistons', () => {
    const own = tools('air disc', ['pads']);
    expect(own).toEqual(
      expect.arrayContaining([
        'lifting gear for wheel end and caliper',
        'caging bolts for the spring brakes',
        'feeler gauge for the running clearance',
      ]),
    );
    for (const tool of ['piston retractor', 'bleeding bottle and hose']) expect(own).not.toContain(tool);
  });
  it('are those of the work: bottle where it is bled, syringe where fluid is drawn off', () => {
    expect(tools('sliding', ['pads', 'bleed'])).toContain('bleeding bottle and hose');
    expect(tools('sliding', ['pads'])).not.toContain('bleeding bottle and hose');
    expect(tools('sliding', ['pads'], 20)).toContain('syringe for fluid');
  });
});
