import { describe, expect, it } from '@jest/globals';
import { fleetInput, virtualFleet } from '../simulate/index.ts';
import { DEFAULT_NOISE, runHistory, UNKNOWN_HAND, wearingApart, type VehicleInput } from './index.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
const hand = { biasMm: 0, biasSdMm: 0.1, repeatabilityMm: 0.2 };
type Wheel = readonly [inner: number, outer: number];

/** Looks at axle 1 every 6,000 miles from new: the left wheel as given, the right as usual. */
const vehicle = (left: readonly Wheel[], usual: readonly number[] = [9.8, 8.6, 7.4, 6.2]): VehicleInput => ({
  axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior }],
  readings: left.flatMap(([inner, outer], k) =>
    (
      [
        ['left', 'inner', inner],
        ['left', 'outer', outer],
        ['right', 'inner', usual[k] ?? 0],
        ['right', 'outer', usual[k] ?? 0],
      ] as const
    ).map(([side, pad, mm]) => ({
      id: `${k}${side}${pad}`,
      date: `2026-0${2 + 2 * k}-01`,
      miles: 16_000 + 6000 * k,
      axle: 1,
      side,
      pad,
      mm,
      unit: 'mm' as const,
      resolutionMm: 0.1,
      technician: 'A',
    })),
  ),
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [],
  duty: [],
  hands: { A: hand },
  unknownHand: UNKNOWN_HAND,
  noise: DEFAULT_NOISE,
  today: '2026-12-01',
});
const find = (input: VehicleInput) => wearingApart(input, runHistory(input));

describe('a wheel whose pads wear apart', () => {
  it('is found with the pad, the look after which it began, and the wear since', () => {
    const found = find(
      vehicle([
        [9.8, 9.8],
        [6.5, 9.2],
        [3.3, 8.6],
      ]),
    );
    expect(found).toMatchObject([{ axle: 1, side: 'left', more: 'inner', since: '2026-02-01' }]);
    expect(found[0]?.innerWearMm).toBeCloseTo(6.5, 9);
    expect(found[0]?.outerWearMm).toBeCloseTo(1.2, 9);
    expect(found[0]?.probability).toBeGreaterThan(0.9);
  });

  it('is the outer where the outer wears more', () => {
    expect(
      find(
        vehicle([
          [9.8, 9.8],
          [9.2, 6.5],
          [8.6, 3.3],
        ]),
      ),
    ).toMatchObject([{ side: 'left', more: 'outer' }]);
  });

  it('is not a wheel that wears as its mate, nor one a little uneven', () => {
    expect(
      find(
        vehicle([
          [9.8, 9.8],
          [8.6, 8.5],
          [7.3, 7.5],
        ]),
      ),
    ).toEqual([]);
    expect(
      find(
        vehicle([
          [9.8, 9.7],
          [8.3, 8.6],
          [6.8, 7.3],
        ]),
      ),
    ).toEqual([]);
  });

  it('is surer when a second look bears it out, and no longer told when the figure went back', () => {
    const looks: Wheel[] = [
      [9.8, 9.8],
      [6.1, 8.6],
    ];
    const once = find(vehicle(looks))[0]?.probability ?? 0;
    const twice = find(vehicle([...looks, [2.9, 7.9]]))[0]?.probability ?? 0;
    expect(twice).toBeGreaterThan(0.999);
    expect(once).toBeLessThan(0.95);
    expect(find(vehicle([...looks, [7.4, 7.4]]))).toEqual([]);
  });

  it('is nothing before two looks', () => {
    expect(find(vehicle([]))).toEqual([]);
  });
});

// On the virtual fleet, whose truth is known: no more than one wheel in 2,500 wheel-end inspections may be told
// falsely (the design asks for that); the bound here is four standard errors of such a count.
describe('over a virtual fleet', () => {
  it('is seldom told where nothing seized', () => {
    const fleet = virtualFleet({ vehicles: 120, technicians: 6, seed: 31, from: '2024-01-01', days: 700 });
    const hands = Object.fromEntries(
      fleet.hands.map(({ name, biasMm, repeatabilityMm }) => [name, { biasMm, biasSdMm: 0.05, repeatabilityMm }]),
    );
    let [told, looks] = [0, 0];
    for (const one of fleet.vehicles.filter(({ seized }) => seized === undefined)) {
      const input = fleetInput(one, fleet, hands, () => undefined);
      told += find(input).length;
      looks += one.inspections.reduce((sum, { readings }) => sum + readings.length / 2, 0);
    }
    const allowed = looks / 2500;
    expect(looks).toBeGreaterThan(2000);
    expect(told).toBeLessThanOrEqual(Math.ceil(allowed + 4 * Math.sqrt(allowed)));
  });
});
