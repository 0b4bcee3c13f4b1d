import { failureInWords, thicknessInWords } from '@mile-mark/contract/words';
import {
  judgeReading,
  maxPlausibleMm,
  parseThickness,
  type Suspicion,
  type ThicknessUnit,
  UNKNOWN_APPRAISER,
} from '@mile-mark/core';

/** How far readings of an appraiser of which nothing is known scatter about the true thickness, one sd, mm. */
export const APPRAISER_SD_MM = Math.hypot(UNKNOWN_APPRAISER.biasSdMm, UNKNOWN_APPRAISER.repeatabilityMm);

export type FieldState =
  | { kind: 'empty' }
  | { kind: 'wrong'; message: string }
  | { kind: 'fine'; mm: number }
  | { kind: 'suspect'; mm: number; suspicion: Suspicion };

/** What is expected of a pad, as far as a figure is judged by it. */
export interface Expected {
  meanMm: number;
  sdMm: number;
  /** Whether anything was measured or fitted before. */
  informed: boolean;
}

/** The appraiser that measures: what is known of this technician with this gauge. */
export interface MeasuringAppraiser {
  biasMm: number;
  biasSdMm: number;
  repeatabilityMm: number;
}

/**
 * Judges a figure while it is typed, here in the browser, by the same core code that the server uses.
 *
 * @param pad what is known of the pad; undefined where no forecast has come yet
 */
export function judgeTyped(
  typed: string,
  unit: ThicknessUnit,
  resolutionMm: number | undefined,
  axle: { newMm: number; plateMm: number },
  pad: Expected | undefined,
  appraiser: MeasuringAppraiser = UNKNOWN_APPRAISER,
): FieldState {
  if (typed.trim() === '') return { kind: 'empty' };
  const parsed = parseThickness(typed, { unit });
  if (!parsed.ok) return { kind: 'wrong', message: failureInWords(parsed.failure) };
  const { mm } = parsed.value;
  const most = maxPlausibleMm(axle);
  if (mm > most) {
    return {
      kind: 'wrong',
      message: `${typed.trim()} is ${thicknessInWords(mm, unit)}, more than pad and backing plate together; up to ${thicknessInWords(most, unit)} is accepted.`,
    };
  }
  if (!pad) return { kind: 'fine', mm };
  const { suspicion } = judgeReading(
    {
      mm,
      unit: parsed.value.unit,
      resolutionMm: resolutionMm ?? 0.1,
      repeatabilityMm: appraiser.repeatabilityMm,
    },
    {
      meanMm: pad.meanMm + appraiser.biasMm,
      sdMm: Math.hypot(pad.sdMm, appraiser.biasSdMm),
      newMm: axle.newMm,
      plateMm: axle.plateMm,
      informed: pad.informed,
    },
  );
  return suspicion ? { kind: 'suspect', mm, suspicion } : { kind: 'fine', mm };
}
