import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { DEFAULT_POLICY, kitOf, type CardAxle, type KitLine } from '../inspect/index.ts';
import { checkLines, checkSensor, kitFrom, type Place } from './kit.ts';
import { partFaults, successor, type Fit, type Part } from './part.ts';

const FRONT: Place = { model: 'halden', axle: 1, rotorMm: 330 };
const fit = (over: Partial<Fit> = {}): Fit => ({
  model: 'halden',
  axle: 1,
  side: 'both',
  rotorMm: undefined,
  ...over,
});
const part = (number: string, over: Partial<Part> = {}): Part => ({
  id: number,
  number,
  kind: 'brake pad',
  pieces: 4,
  supersededBy: undefined,
  rank: 1,
  fits: [fit()],
  ...over,
});
const line = (over: Partial<KitLine> = {}): KitLine => ({
  part: 'brake pad',
  quantity: 4,
  side: 'both',
  axle: 1,
  oneTimeUse: false,
  ...over,
});
const places = new Map([[1, FRONT]]);
const optionsOf = (lines: KitLine[], parts: Part[]) =>
  kitFrom(lines, places, parts).needs.map(({ options }) => options);

describe('a kit out of the catalogue', () => {
  it('takes four pads as one set, two sets of two, or four singles', () => {
    expect(
      optionsOf([line()], [part('set'), part('pair', { pieces: 2, rank: 2 }), part('one', { pieces: 1, rank: 3 })]),
    ).toEqual([
      [
        { part: 'set', units: 1 },
        { part: 'pair', units: 2 },
        { part: 'one', units: 4 },
      ],
    ]);
  });

  it('opens as many bottles as the amount needs, and says how much of them is used', () => {
    const cleaner = { part: 'brake cleaner', quantity: null, axle: undefined, amount: 400 } as const;
    const bottle = (id: string, content?: number) => part(id, { kind: 'brake cleaner', pieces: 1, fits: [], content });
    const options = optionsOf([line(cleaner)], [bottle('half', 500), bottle('small', 150), bottle('unsaid')]).flat();
    expect(options).toEqual([
      { part: 'half', units: 1, used: 0.8 },
      { part: 'small', units: 3, used: 400 / 150 },
      { part: 'unsaid', units: 1 },
    ]);
  });

  it.each([
    ['another axle', fit({ axle: 2 })],
    ['another model', fit({ model: 'brae' })],
    ['another rotor diameter', fit({ rotorMm: 350 })],
    ['one side, where both are done and the other has none', fit({ side: 'left' })],
  ])('leaves out a part of %s', (_what, own) => {
    const { needs, faults } = kitFrom([line()], places, [part('set', { fits: [own] })]);
    const open = needs.filter(({ options }) => options.length === 0);
    expect(open.length).toBeGreaterThan(0);
    expect(faults.map(({ code }) => code)).toEqual([own.side === 'left' ? 'only one side' : 'no part fits']);
  });

  it('asks for handed parts wheel by wheel', () => {
    const calipers = [
      part('left', { kind: 'caliper', pieces: 1, fits: [fit({ side: 'left' })] }),
      part('right', { kind: 'caliper', pieces: 1, fits: [fit({ side: 'right' })] }),
    ];
    const kit = kitFrom([line({ part: 'caliper', quantity: 2 })], places, calipers);
    expect(kit.needs.map(({ side, pieces, options }) => [side, pieces, options])).toEqual([
      ['left', 1, [{ part: 'left', units: 1 }]],
      ['right', 1, [{ part: 'right', units: 1 }]],
    ]);
    expect(kit.faults).toEqual([]);
  });

  it('uses a superseded number up first, and orders the last of those that took its place', () => {
    const all = [
      part('c', { rank: 3 }),
      part('b', { supersededBy: 'c', rank: 2 }),
      part('a', { supersededBy: 'b', rank: 1 }),
    ];
    const [need] = kitFrom([line()], places, all).needs;
    expect(need?.options.map((option) => option.part)).toEqual(['a', 'b', 'c']);
    expect(need?.order).toEqual({ part: 'c', units: 1 });
    expect(successor(all[2] as Part, new Map(all.map((one) => [one.id, one]))).id).toBe('c');
  });

  it('orders the number that the shop takes first, though an old one is used up before it', () => {
    const all = [part('old', { supersededBy: 'new', rank: 2 }), part('new', { rank: 2 }), part('first', { rank: 1 })];
    const [need] = kitFrom([line()], places, all).needs;
    expect(need?.options[0]?.part).toBe('old');
    expect(need?.order).toEqual({ part: 'first', units: 1 });
  });

  it('says which line nothing fits', () => {
    expect(kitFrom([line({ part: 'rotor', quantity: 2 })], places, [part('set')]).faults).toEqual([
      { code: 'no part fits', kind: 'rotor', axle: 1, side: 'both' },
    ]);
  });
});

describe('a kit’s lines', () => {
  it.each([
    ['three pads', line({ quantity: 3 }), 'pads short'],
    ['one rotor for both wheels', line({ part: 'rotor', quantity: 1 }), 'one rotor'],
    ['three washers', line({ part: 'sealing washer', quantity: 3 }), 'washers'],
  ])('%s are refused', (_what, one, code) => {
    expect(checkLines([one]).map((fault) => fault.code)).toEqual([code]);
  });

  it('a sensor sits on the side it is built for', () => {
    const sensor = (side: KitLine['side']) => [line({ part: 'wear sensor', quantity: 1, side })];
    expect(checkSensor(sensor('left'), () => 'left')).toEqual([]);
    expect(checkSensor(sensor('right'), () => 'left').map(({ code }) => code)).toEqual(['sensor on the other side']);
    expect(checkSensor(sensor('left'), () => 'none')).toHaveLength(1);
  });

  it('of every job the rules can ask for pass these checks', () => {
    const action = fc.constantFrom(
      'pads',
      'rotors new',
      'calipers',
      'hose',
      'pin boots',
      'bracket',
      'hardware',
      'sensor',
    );
    const sides = fc.constantFrom<readonly ('left' | 'right')[] | 'both'>('both', ['left'], ['right']);
    fc.assert(
      fc.property(
        fc.constantFrom('hydraulic' as const, 'air' as const),
        fc.constantFrom('sliding' as const, 'fixed' as const),
        fc.constantFrom('none' as const, 'left' as const, 'both' as const),
        fc.uniqueArray(action, { minLength: 1 }),
        sides,
        (brake, caliper, sensor, actions, where) => {
          const axle = {
            axle: 1,
            brake,
            build: { caliper: brake === 'air' ? 'air' : caliper, parking: 'none', sensor },
            scope: actions.map((one) => ({ action: one, sides: where })),
            joints: [],
            unknownJoints: [],
          } as CardAxle;
          const lines = kitOf([axle], DEFAULT_POLICY);
          expect(checkLines(lines)).toEqual([]);
          expect(checkSensor(lines, () => sensor)).toEqual([]);
        },
      ),
    );
  });
});

describe('a part as entered', () => {
  it('a set of three pads is refused, with what is accepted', () => {
    expect(partFaults(part('x', { pieces: 3 }), [])).toEqual([
      { code: 'pieces', field: 'pieces', accepted: [1, 2, 4] },
    ]);
  });

  it('one of no vehicle is refused, unless it is used by every job', () => {
    expect(partFaults(part('x', { fits: [] }), []).map(({ code }) => code)).toEqual(['fits nothing']);
    expect(partFaults(part('x', { kind: 'brake cleaner', pieces: 1, fits: [] }), [])).toEqual([]);
  });

  it('can’t take its own place, nor go round in a circle', () => {
    expect(partFaults(part('x', { supersededBy: 'x' }), []).map(({ code }) => code)).toEqual(['itself']);
    const others = [part('y', { supersededBy: 'z' }), part('z', { supersededBy: 'x' })];
    expect(partFaults(part('x', { supersededBy: 'y' }), others)).toEqual([
      { code: 'in a circle', field: 'supersededBy', through: ['y', 'z'] },
    ]);
  });

  it('is told of a circle among others that it leads to, and ends', () => {
    const others = [part('y', { supersededBy: 'z' }), part('z', { supersededBy: 'y' })];
    expect(partFaults(part('x', { supersededBy: 'y' }), others).map(({ code }) => code)).toEqual(['in a circle']);
  });

  it('gives way to its own kind only', () => {
    expect(
      partFaults(part('x', { supersededBy: 'r' }), [part('r', { kind: 'rotor', pieces: 1 })]).map(({ code }) => code),
    ).toEqual(['other kind']);
  });
});
