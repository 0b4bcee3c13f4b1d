import { describe, expect, it } from '@jest/globals';
import { square } from '../numeric/index.ts';
import { valueOfInspection } from './index.ts';
import type { AxleState } from './passage.ts';

/** An axle of two pads with the given spreads of log rate and thickness, independent. */
function axle(rateSd: number, thicknessSd: number, thickness = 6): AxleState {
  const cov = square(4);
  [rateSd, rateSd, thicknessSd, thicknessSd].forEach((sd, i) => (cov.data[i * 4 + i] = sd ** 2));
  return { mean: Float64Array.from([Math.log(0.2), Math.log(0.2), thickness, thickness]), cov };
}
const noise = { perPeriod: 0.05, perPad: 0.05, exposurePerPeriod: 1.8, milesPerExposure: 1 };
const look = (state: AxleState) => valueOfInspection(state, 2.75, noise, 0.05, 1000, 3);

describe('what a look is worth', () => {
  it('is much where thickness is what is not known, and the mark then stands later', () => {
    const { width80Mi, width80AfterMi, laterMi } = look(axle(0.05, 1.2));
    expect(width80AfterMi).toBeLessThan(0.6 * width80Mi);
    expect(laterMi).toBeGreaterThan(1000);
  });

  it('is next to nothing where the thickness is known, however uncertain the rate', () => {
    const { width80Mi, width80AfterMi } = look(axle(0.4, 0.05));
    expect(width80AfterMi / width80Mi).toBeGreaterThan(0.97);
    expect(width80AfterMi / width80Mi).toBeLessThanOrEqual(1.001);
  });

  it('never widens what is known, and grows with what is not known', () => {
    let before = 0;
    for (const sd of [0.1, 0.3, 0.6, 1, 1.5]) {
      const { width80Mi, width80AfterMi } = look(axle(0.15, sd));
      expect(width80AfterMi).toBeLessThanOrEqual(1.005 * width80Mi);
      expect(width80Mi - width80AfterMi).toBeGreaterThan(before - 0.005 * width80Mi);
      before = width80Mi - width80AfterMi;
    }
  });

  it('also narrows the rate, where it hangs together with the thickness', () => {
    const state = axle(0.3, 1);
    // Thinner pads are those that wore faster: what a look says of the one it says of the other.
    for (const [l, x] of [
      [0, 2],
      [1, 3],
    ] as const) {
      state.cov.data[l * 4 + x] = -0.25;
      state.cov.data[x * 4 + l] = -0.25;
    }
    const tied = look(state);
    const loose = look(axle(0.3, 1));
    expect(tied.width80AfterMi / tied.width80Mi).toBeLessThan(loose.width80AfterMi / loose.width80Mi);
  });
});
