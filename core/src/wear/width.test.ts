import { describe, expect, it } from '@jest/globals';
import { square } from '../numeric/index.ts';
import type { VehicleInput } from './index.ts';
import { widthShares } from './width.ts';

/** Four pads 8 mm thick that wear 0.2 mm a thousand miles: 25 thousand to a limit of 3 mm. */
function pads(sdRate: number, sdThickness: number) {
  const cov = square(2);
  cov.data.set([sdRate ** 2, 0, 0, sdThickness ** 2]);
  return { mean: Float64Array.from([Math.log(0.2), 8]), cov };
}
const still = { perPeriod: 0, perPad: 0, exposurePerPeriod: 2.8, milesPerExposure: 1 };
const input = { duty: [{ from: '2026-01-01', severity: 1 }], today: '2026-07-01' } as unknown as VehicleInput;
const shares = (state: ReturnType<typeof pads>, noise = still, ahead: VehicleInput['ahead'] = undefined) =>
  widthShares(state, 3, noise, { input: { ...input, ahead }, milesPerDay: 100, axle: 1, seed: 3 });

describe('what makes an interval wide', () => {
  // Small spreads: rate by r makes 25·r thousand miles of sd, thickness by t makes t ÷ 0.2.
  it('is shared as the linear parts of rate and thickness ask', () => {
    const found = shares(pads(0.1, 0.25));
    const [wear, thickness] = [(25 * 0.1) ** 2, (0.25 / 0.2) ** 2];
    expect(found?.wear).toBeCloseTo(wear / (wear + thickness), 1);
    expect(found?.thickness).toBeCloseTo(thickness / (wear + thickness), 1);
    expect(found?.duty).toBeCloseTo(0, 9);
  });
  it('is the duty’s where only the level of its route is unsure', () => {
    const ahead = { levelSd: 0.2, perPeriod: 0.18, hazardPerDay: 0.0005, change: { mean: 0, sd: 0.4 } };
    expect(shares(pads(0, 0), still, ahead)?.duty).toBeCloseTo(1, 9);
    const both = shares(pads(0.2, 0), still, { ...ahead, hazardPerDay: 0 });
    expect(both?.duty).toBeCloseTo(0.5, 1);
    expect((both?.duty ?? 0) + (both?.wear ?? 0) + (both?.thickness ?? 0)).toBeCloseTo(1, 9);
  });
  it('is nothing where all is known', () => expect(shares(pads(0, 0))).toBeUndefined());
});
