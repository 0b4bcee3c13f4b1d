import { describe, expect, it } from '@jest/globals';
import type { BayAnswer, BayVehicle } from '@mile-mark/contract/inspections';
import { putTogether } from './bay.ts';

const vehicle = (unit: string, model = 'M'): BayVehicle => ({
  unit,
  model,
  class: 'van',
  depot: 'D',
  odometerNowMi: null,
  milesPerDay: null,
  last: null,
  axles: [],
});
const answer = (fleet: string[], vehicles: BayVehicle[], whole = false): BayAnswer => ({
  at: '',
  today: '2026-11-20',
  vehicles,
  gauges: [],
  people: [],
  appraisers: [],
  whole,
  fleet: fleet.map((unit) => ({ unit })),
  cursor: 'c',
});

describe('what changed since, with what the device has', () => {
  it('is every vehicle of the fleet in its order, the changed ones as they came, those that left gone', () => {
    const before = answer(['A', 'B', 'C'], [vehicle('A'), vehicle('B'), vehicle('C')], true);
    const now = putTogether(answer(['D', 'C', 'A'], [vehicle('A', 'new'), vehicle('D')]), before);
    expect(now?.vehicles.map(({ unit, model }) => `${unit} ${model}`)).toEqual(['D M', 'C M', 'A new']);
  });

  it('is nothing where a vehicle is on neither side, and the answer alone where that is whole', () => {
    const before = answer(['A'], [vehicle('A')], true);
    expect(putTogether(answer(['A', 'B'], []), before)).toBeUndefined();
    expect(putTogether(answer(['A'], []), undefined)).toBeUndefined();
    const whole = answer(['B'], [vehicle('B')], true);
    expect(putTogether(whole, before)).toBe(whole);
  });
});
