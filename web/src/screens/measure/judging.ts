import {
  judgeReading,
  mostReadableMm,
  parseThickness,
  UNKNOWN_HAND,
  type Suspicion,
  type ThicknessUnit,
} from '@mile-mark/core';
import type { AxleDetail, Gauge, PadDetail } from '@mile-mark/contract';

/** How far readings of a hand of which nothing is known scatter about the true thickness, one sd, mm. */
export const HAND_SD_MM = Math.hypot(UNKNOWN_HAND.biasSdMm, UNKNOWN_HAND.repeatabilityMm);

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
  const most = mostReadableMm({ newMm: axle.padNewMm, plateMm: axle.backingPlateMm });
  if (mm > most) {
    return {
      kind: 'wrong',
      message: `${typed.trim()} is ${mm.toFixed(1)} mm, more than pad and backing plate together; up to ${most.toFixed(1)} mm is accepted.`,
    };
  }
  if (!pad) return { kind: 'fine', mm };
  const { suspicion } = judgeReading(
    {
      mm,
      unit: parsed.value.unit,
      resolutionMm: gauge?.resolutionMm ?? 0.1,
      repeatabilityMm: UNKNOWN_HAND.repeatabilityMm,
    },
    {
      meanMm: pad.meanMm,
      sdMm: Math.hypot(pad.sdMm, UNKNOWN_HAND.biasSdMm),
      newMm: axle.padNewMm,
      plateMm: axle.backingPlateMm,
      informed: pad.trace.length > 0,
    },
  );
  return suspicion ? { kind: 'suspect', mm, suspicion } : { kind: 'fine', mm };
}
