import { MM_PER_INCH, randomNormal, seededRandom } from '@mile-mark/core';

/** A simulated digital depth gauge: a probe with a true bias and repeatability, a display with a step. */
export interface DigitalGaugeOptions {
  unit: 'mm' | 'in';
  /** Least step of the display, in its unit. */
  step: number;
  biasMm: number;
  repeatabilityMm: number;
  seed: number;
}

export interface DigitalGauge {
  /** Measures a true thickness (mm) and returns what the gauge types when its button is pressed. */
  press(trueMm: number): string;
}

/**
 * A stand-in for a gauge that types its reading like a keyboard: figure, then Enter. Same seed, same figures.
 */
export function digitalGauge({ unit, step, biasMm, repeatabilityMm, seed }: DigitalGaugeOptions): DigitalGauge {
  const random = seededRandom(seed);
  const decimals = Math.max(0, Math.ceil(-Math.log10(step)));
  return {
    press: (trueMm) => {
      const seen = Math.max(0, trueMm + biasMm + repeatabilityMm * randomNormal(random));
      const figure = unit === 'mm' ? seen : seen / MM_PER_INCH;
      return `${(Math.round(figure / step) * step).toFixed(decimals)}\n`;
    },
  };
}
