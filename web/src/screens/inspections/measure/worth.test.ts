import { describe, expect, it } from '@jest/globals';
import type { Bay, BayAxle, BayVehicle } from '@mile-mark/contract/inspections';
import { worthLooking } from './worth.ts';

const TODAY = '2026-11-20';
const dayIn = (days: number) => new Date(Date.parse(TODAY) + days * 86_400_000).toISOString().slice(0, 10);
interface Said {
  markIn?: number | null;
  shrinks?: number | null;
  asked?: boolean;
}
/** An axle whose mark is so many days off, and whose 80 % interval a look would shrink by so many miles. */
const axle = (number: number, { markIn = 30, shrinks = 1000, asked = false }: Said = {}) =>
  ({
    axle: number,
    markDate: markIn === null ? null : dayIn(markIn),
    worth: shrinks === null ? null : { width80Mi: 8000, width80AfterMi: 8000 - shrinks },
    asked: asked ? { by: 'Maren Ashdown', on: TODAY, why: 'uneven' } : null,
  }) as unknown as BayAxle;
const vehicle = (unit: string, axles: BayAxle[], depot = 'Creamery yard') =>
  ({ unit, depot, axles }) as unknown as BayVehicle;
const found = (vehicles: BayVehicle[], { depot = '', most = 9 } = {}) =>
  worthLooking({ vehicles, today: TODAY } as unknown as Bay, depot, most).map(
    (one) => `${one.vehicle.unit}/${one.axle.axle}`,
  );

describe('what is worth a look', () => {
  it('is first what somebody asked for, however little it would narrow', () => {
    const asked = axle(1, { markIn: 900, shrinks: null, asked: true });
    expect(found([vehicle('P1', [axle(1, { shrinks: 7999, markIn: 1 })]), vehicle('P2', [asked])])).toEqual([
      'P2/1',
      'P1/1',
    ]);
  });

  it('is then where a look narrows most, a nearer mark counting more', () => {
    const alike = [vehicle('far', [axle(1, { markIn: 120 })]), vehicle('near', [axle(1, { markIn: 10 })])];
    expect(found(alike)).toEqual(['near/1', 'far/1']);
    const more = [vehicle('less', [axle(1, { shrinks: 500 })]), vehicle('more', [axle(1, { shrinks: 501 })])];
    expect(found(more)).toEqual(['more/1', 'less/1']);
    // Sixty days further off, a look must narrow e times as much (2.72) to count alike.
    const at = (shrinks: number) => [
      vehicle('now', [axle(1, { markIn: 20 })]),
      vehicle('later', [axle(1, { markIn: 80, shrinks })]),
    ];
    expect(found(at(2700))[0]).toBe('now/1');
    expect(found(at(2740))[0]).toBe('later/1');
    // A mark that is past counts as one of today.
    expect(
      found([vehicle('past', [axle(1, { markIn: -90, shrinks: 999 })]), vehicle('today', [axle(1, { markIn: 0 })])]),
    ).toEqual(['today/1', 'past/1']);
  });

  it('is one axle a vehicle, its best, and no more than are asked for', () => {
    const truck = vehicle('T1', [axle(1), axle(2, { shrinks: 3000 }), axle(3, { shrinks: 2000 })]);
    expect(found([truck, vehicle('P1', [axle(1)])])).toEqual(['T1/2', 'P1/1']);
    expect(found([truck, vehicle('P1', [axle(1)])], { most: 1 })).toEqual(['T1/2']);
  });

  it('is of the depot where somebody stands, and not what is decided much later anyway', () => {
    const all = [vehicle('here', [axle(1)]), vehicle('there', [axle(1)], 'Hill depot')];
    expect(found(all, { depot: 'Hill depot' })).toEqual(['there/1']);
    expect(found(all)).toHaveLength(2);
    expect(found([vehicle('P1', [axle(1, { markIn: 149 })]), vehicle('P2', [axle(1, { markIn: 150 })])])).toEqual([
      'P1/1',
    ]);
    expect(found([vehicle('P1', [axle(1, { shrinks: null })])])).toEqual([]);
  });
});
