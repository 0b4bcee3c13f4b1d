import { normalCdf } from '../numeric/index.ts';
import type { Side } from '../measure/index.ts';

/** A rotor's thickness as it was measured, least of its points. */
export interface RotorReading {
  side: Side;
  mm: number;
  /** Wear of the pads beside it since its record begins, mean of a pad, mm. */
  padWearMm: number;
}

/** A rotor with its readings; thicknesses in mm. */
export interface RotorInput {
  newMm: number;
  discardMm: number;
  /** Whether the record begins with a new rotor. */
  fromNew: boolean;
  readings: RotorReading[];
  /** Wear of a pad beside it since the record begins, to now, mm. */
  padWearNowMm: number;
  /** What the present pads will still lose until their limit, mean of a pad, mm. */
  padsLeftMm: number;
  /** What a new set of pads loses until its limit, mm. */
  padsNewMm: number;
}

/** What is to be expected of an axle's rotors, the worse of its two. */
export interface RotorOutlook {
  side: Side;
  meanMm: number;
  sdMm: number;
  discardMm: number;
  measured: number;
  /** Chance that it is below discard now; when the present pads are done; when the next set is. */
  belowNow: number;
  belowWithThesePads: number;
  belowWithNextPads: number;
}

/** A rotor loses about a tenth of a millimetre for each millimetre of a pad, give or take half (common practice, no source). */
const PER_PAD_MM = { mean: 0.1, sd: 0.05 };
const NEW_TOLERANCE_MM = 0.05;
/** A micrometer in a bay (common practice, no source). */
const MEASURED_SD_MM = 0.03;

/**
 * Thickness of a rotor as a straight line in the wear of its pads: start and slope jointly normal, updated by each
 * measurement (normal-normal, closed form; Gelman et al., Bayesian Data Analysis, 3rd ed., §2.5). Where it is not
 * known that the record begins with new rotors, the start lies anywhere between discard and new.
 */
export function rotorOutlook(input: RotorInput): RotorOutlook {
  const [left, right] = [ofSide(input, 'left'), ofSide(input, 'right')];
  return left.belowWithNextPads >= right.belowWithNextPads ? left : right;
}

function ofSide(input: RotorInput, side: Side): RotorOutlook {
  const { newMm, discardMm, fromNew } = input;
  let start = fromNew ? newMm : (newMm + discardMm) / 2;
  let slope = PER_PAD_MM.mean;
  let [ss, sr, rr] = [fromNew ? NEW_TOLERANCE_MM ** 2 : (newMm - discardMm) ** 2 / 12, 0, PER_PAD_MM.sd ** 2];
  const own = input.readings.filter((one) => one.side === side);
  for (const { mm, padWearMm } of own) {
    // y = start − slope·w + noise
    const gs = ss - padWearMm * sr;
    const gr = sr - padWearMm * rr;
    const total = gs - padWearMm * gr + MEASURED_SD_MM ** 2;
    const off = mm - (start - slope * padWearMm);
    start += (gs / total) * off;
    slope += (gr / total) * off;
    [ss, sr, rr] = [ss - (gs * gs) / total, sr - (gs * gr) / total, rr - (gr * gr) / total];
  }
  slope = Math.max(0.005, slope);
  const at = (padWearMm: number) => ({
    mean: start - slope * padWearMm,
    sd: Math.sqrt(Math.max(1e-6, ss - 2 * padWearMm * sr + padWearMm ** 2 * rr)),
  });
  const below = (padWearMm: number) => {
    const { mean, sd } = at(padWearMm);
    return normalCdf((discardMm - mean) / sd);
  };
  const now = input.padWearNowMm;
  const done = now + Math.max(0, input.padsLeftMm);
  const here = at(now);
  return {
    side,
    meanMm: here.mean,
    sdMm: here.sd,
    discardMm,
    measured: own.length,
    belowNow: below(now),
    belowWithThesePads: below(done),
    belowWithNextPads: below(done + input.padsNewMm),
  };
}
