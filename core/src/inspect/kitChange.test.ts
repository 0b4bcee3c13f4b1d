import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { buildOf } from './build.ts';
import type { CardAxle } from './cardSteps.ts';
import type { JobAction } from './catalogue.ts';
import { AMOUNTS, isConsumable, kitChangeFault, type KitChange } from './kitChange.ts';
import { KIT_PARTS, kitOf } from './needs.ts';
import { DEFAULT_POLICY } from './policy.ts';

const axleOf = (detail: string, scope: CardAxle['scope'], axle = 1): CardAxle => ({
  axle,
  brake: detail.startsWith('air') ? 'air' : 'hydraulic',
  build: buildOf(detail.startsWith('air') ? 'air' : 'hydraulic', detail),
  scope,
  joints: [],
  unknownJoints: [],
});
const both = (...actions: JobAction[]): CardAxle['scope'] => actions.map((action) => ({ action, sides: 'both' }));
const change = (over: Partial<KitChange> = {}): KitChange => ({
  axle: 1,
  kind: 'brake hose',
  action: 'pads',
  quantity: 1,
  ...over,
});
const lineOf = (kind: KitChange['kind'], axles: CardAxle[], changes: KitChange[]) =>
  kitOf(axles, DEFAULT_POLICY, changes).find(({ part }) => part === kind);

describe('what a shop takes other than usual', () => {
  it('is taken with the work it is said for, at the wheels of that work, and at that axle only', () => {
    const pads = axleOf('sliding', both('pads'));
    expect(lineOf('brake hose', [pads], [change()])).toMatchObject({ quantity: 2, side: 'both', axle: 1 });
    expect(lineOf('brake hose', [pads], [])).toBeUndefined();
    expect(lineOf('brake hose', [pads], [change({ action: 'rotors new' })])).toBeUndefined();
    expect(lineOf('brake hose', [pads], [change({ axle: 2 })])).toBeUndefined();
    const left = axleOf('sliding', [{ action: 'pads', sides: ['left'] }]);
    expect(lineOf('brake hose', [left], [change()])).toMatchObject({ quantity: 1, side: 'left' });
  });

  it('leaves out what it does not take, and takes more where it says so', () => {
    const axle = axleOf('sliding', both('pads', 'hardware'));
    expect(lineOf('clip set', [axle], [])).toMatchObject({ quantity: 2 });
    expect(lineOf('clip set', [axle], [change({ kind: 'clip set', quantity: 0 })])).toBeUndefined();
    expect(lineOf('clip set', [axle], [change({ kind: 'clip set', quantity: 2 })])).toMatchObject({ quantity: 4 });
  });

  it('keeps what other work takes of the same at the other wheel', () => {
    const axle = axleOf('sliding', [
      { action: 'calipers', sides: ['right'] },
      { action: 'pads', sides: ['left'] },
    ]);
    expect(lineOf('sealing washer', [axle], [change({ kind: 'sealing washer', quantity: 4 })])).toMatchObject({
      quantity: 6,
      side: 'both',
      oneTimeUse: true,
    });
  });

  it('puts a sensor only where the axle has one', () => {
    const own = change({ kind: 'wear sensor' });
    expect(lineOf('wear sensor', [axleOf('sliding, wear sensor left', both('pads'))], [own])).toMatchObject({
      quantity: 1,
      side: 'left',
    });
    expect(lineOf('wear sensor', [axleOf('sliding', both('pads'))], [own])).toBeUndefined();
  });

  it('of consumables is an amount an axle, added up over the axles of the job', () => {
    const axles = [axleOf('sliding', both('pads')), axleOf('sliding', both('pads'), 2)];
    expect(lineOf('brake cleaner', axles, [])?.amount).toBe(2 * AMOUNTS['brake cleaner'].perAxle);
    const more = change({ kind: 'brake cleaner', quantity: 450 });
    expect(lineOf('brake cleaner', axles, [more])?.amount).toBe(450 + AMOUNTS['brake cleaner'].perAxle);
    expect(lineOf('brake fluid', axles, [])).toBeUndefined();
    expect(lineOf('brake fluid', axles, [change({ kind: 'brake fluid', quantity: 100 })])?.amount).toBe(100);
  });

  it('takes nothing from other work of the same job', () => {
    const two = [axleOf('sliding', both('pads', 'calipers', 'hose'))];
    expect(lineOf('brake fluid', two, [change({ kind: 'brake fluid', quantity: 100 })])?.amount).toBe(
      AMOUNTS['brake fluid'].perAxle,
    );
    const none = change({ kind: 'sealing washer', action: 'hose', quantity: 0 });
    expect(lineOf('sealing washer', two, [none])?.quantity).toBe(4);
    expect(lineOf('sealing washer', [axleOf('sliding', both('hose'))], [none])).toBeUndefined();
  });

  it('is never a kit with odd pads, whatever is changed and accepted', () =>
    fc.assert(
      fc.property(
        fc.constantFrom('sliding', 'fixed', 'air disc', 'sliding, wear sensors'),
        fc.constantFrom(...KIT_PARTS),
        fc.constantFrom<JobAction>('pads', 'rotors new', 'hose'),
        fc.integer({ min: 0, max: 9 }),
        (detail, kind, action, quantity) => {
          const axle = axleOf(detail, both('pads', 'rotors new', 'hose'));
          fc.pre(kitChangeFault({ kind, quantity }, axle) === undefined);
          const lines = kitOf([axle], DEFAULT_POLICY, [change({ kind, action, quantity })]);
          const of = (part: string) => lines.filter((line) => line.part === part);
          expect(of('brake pad').map((line) => line.quantity)).toEqual([4]);
          expect(of('rotor').length === 0 || of('rotor')[0]?.quantity === 2).toBe(true);
          expect((of('sealing washer')[0]?.quantity ?? 0) % 2).toBe(0);
          if (quantity > 0) expect(of(kind).length).toBe(1);
          expect(lines.every((line) => (line.quantity ?? line.amount ?? 0) > 0)).toBe(true);
        },
      ),
    ));
});

describe('a change that can’t stand', () => {
  const sliding = axleOf('sliding', []);
  it.each([
    ['three pads an axle', { kind: 'brake pad', quantity: 1.5 }, sliding, { code: 'not whole' }],
    ['one pad a wheel', { kind: 'brake pad', quantity: 1 }, sliding, { code: 'pieces', accepted: [2] }],
    ['no pads', { kind: 'brake pad', quantity: 0 }, sliding, { code: 'pieces', accepted: [2] }],
    ['an odd washer', { kind: 'sealing washer', quantity: 3 }, sliding, { code: 'pieces', accepted: [0, 2, 4] }],
    ['two rotors a wheel', { kind: 'rotor', quantity: 2 }, sliding, { code: 'pieces', accepted: [0, 1] }],
    ['a hose at an air brake', { kind: 'brake hose', quantity: 1 }, axleOf('air disc', []), { why: 'no hydraulics' }],
    ['fluid at an air brake', { kind: 'brake fluid', quantity: 100 }, axleOf('air disc', []), { why: 'no hydraulics' }],
    ['a sensor that it is not built for', { kind: 'wear sensor', quantity: 1 }, sliding, { why: 'no sensor' }],
    ['a bracket of a fixed caliper', { kind: 'bracket', quantity: 1 }, axleOf('fixed', []), { why: 'fixed caliper' }],
  ] as const)('is %s', (_what, asked, axle, fault) => {
    expect(kitChangeFault(asked, axle)).toMatchObject(fault);
  });

  it('is not one that leaves out what the axle has not anyway, nor any amount of a consumable it uses', () => {
    expect(kitChangeFault({ kind: 'wear sensor', quantity: 0 }, sliding)).toBeUndefined();
    expect(kitChangeFault({ kind: 'brake cleaner', quantity: 333.3 }, sliding)).toBeUndefined();
    expect(KIT_PARTS.filter(isConsumable)).toHaveLength(Object.keys(AMOUNTS).length);
  });
});
