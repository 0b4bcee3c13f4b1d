import { judgeReading, parseThickness, type Suspicion, type ThicknessUnit } from '@mile-mark/core';
import type { AxleDetail, Gauge, PadDetail } from '@mile-mark/contract';

/** Bias and repeatability of a hand of which nothing is known, mm: the same as the core's. */
const HAND = { biasSdMm: 0.35, repeatabilityMm: 0.3 };

export type FieldState =
  | { kind: 'empty' }
  | { kind: 'wrong'; message: string }
  | { kind: 'fine'; mm: number }
  | { kind: 'suspect'; mm: number; suspicion: Suspicion };

/**
 * Judges a figure while it is typed, here in the browser, by the same core code that the server uses.
 *
 * @param pad what is known of the pad; undefined where no forecast has come yet
 */
export function judgeTyped(
  typed: string,
  unit: ThicknessUnit,
  gauge: Gauge | undefined,
  axle: AxleDetail,
  pad: PadDetail | undefined,
): FieldState {
  if (typed.trim() === '') return { kind: 'empty' };
  const parsed = parseThickness(typed, { unit });
  if (!parsed.ok) return { kind: 'wrong', message: parsed.failure.message };
  const { mm } = parsed.value;
  const most = axle.padNewMm + axle.backingPlateMm + 5;
  if (mm > most) {
    return {
      kind: 'wrong',
      message: `${typed.trim()} is ${mm.toFixed(1)} mm, more than pad and backing plate together; up to ${most.toFixed(1)} mm is accepted.`,
    };
  }
  if (!pad) return { kind: 'fine', mm };
  const { suspicion } = judgeReading(
    { mm, unit: parsed.value.unit, resolutionMm: gauge?.resolutionMm ?? 0.1, repeatabilityMm: HAND.repeatabilityMm },
    {
      meanMm: pad.meanMm,
      sdMm: Math.hypot(pad.sdMm, HAND.biasSdMm),
      newMm: axle.padNewMm,
      plateMm: axle.backingPlateMm,
      informed: pad.trace.length > 0,
    },
  );
  return suspicion ? { kind: 'suspect', mm, suspicion } : { kind: 'fine', mm };
}
