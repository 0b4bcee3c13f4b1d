import { normalInterval } from '../numeric/index.ts';
import { MM_PER_INCH, thicknessIn, type ThicknessUnit } from '../units/index.ts';

/** What is known of a pad before a reading of it is looked at. */
export interface Expectation {
  /** Expected friction material, mm. */
  meanMm: number;
  /** Standard deviation of the pad's thickness and of the technician's bias together, mm. */
  sdMm: number;
  /** New thickness of the model's pad, mm. */
  newMm: number;
  /** Thickness of its backing plate, mm. */
  plateMm: number;
  /** Whether anything was measured or fitted before; the first reading of a pad surprises nobody. */
  informed: boolean;
}

/** A reading as it was taken. */
export interface Reported {
  mm: number;
  unit: ThicknessUnit;
  /** Grid of the gauge, mm. */
  resolutionMm: number;
  /** Repeatability of appraiser and gauge, one standard deviation, mm. */
  repeatabilityMm: number;
  /** What was said of it when it was doubted; `typed` where nothing was. */
  trust?: Trust | undefined;
}

/** As typed; measured twice by the technician; settled by the coordinator: it is so. */
export type Trust = 'typed' | 'twice' | 'settled';

/** What is left of the chance of a gross error once somebody looked again (common practice, no source). */
const GROSS_LEFT: Record<Trust, number> = { typed: 1, twice: 0.1, settled: 0 };

/**
 * What may stand behind a figure: a regular reading; a pad that really wears otherwise than expected; the
 * backing plate measured along; inches written as mm; two digits swapped; something else.
 */
export type Explanation = 'regular' | 'changed' | 'plate' | 'inches' | 'digits' | 'stray';

/** One explanation of a figure, with how likely it is. */
export interface Hypothesis {
  explanation: Explanation;
  /** The thickness that would have been meant, mm. */
  intendedMm: number;
  resolutionMm: number;
  /** Probability given the figure, 0 to 1; all together 1. */
  probability: number;
}

/** What is suspected of a reading. */
export type SuspicionKind =
  'plate' | 'sides' | 'inches' | 'digits' | 'thicker_than_new' | 'thicker_than_expected' | 'thinner_than_expected';

/** A reading that is doubted, with the arithmetic of the doubt. */
export interface Suspicion {
  kind: SuspicionKind;
  /** Probability that the figure is not a regular reading, 0 to 1. */
  probability: number;
  expectedMm: number;
  /** Figure less expectation, mm. */
  differenceMm: number;
  /** What the figure would have been, where the suspicion implies one, mm. */
  insteadMm?: number | undefined;
}

/** What may stand behind a reading, and what is suspected of it where anything is. */
export interface Judgement {
  hypotheses: Hypothesis[];
  /** Logarithm of the chance, before it was seen, of the gauge showing this figure. */
  logEvidence: number;
  suspicion?: Suspicion | undefined;
}

/**
 * Chances before the figure is seen: gross errors together about 2 in 100 (forecasting practice on everyday
 * readings; common practice, no source). Recalibrated when technicians' records are learnt.
 */
const PRIOR: Record<Explanation, number> = {
  regular: 0.97,
  changed: 0.002,
  plate: 0.01,
  inches: 0.003,
  digits: 0.004,
  stray: 0.005,
};

/** Range over which a stray figure may fall, mm. */
const STRAY_RANGE_MM = 30;

/** How far a pad that wears otherwise than expected may be off, as a share of its new thickness. */
export const CHANGED_SHARE_OF_NEW = 0.2;

/** Most that a new pad exceeds its nominal thickness, mm. */
const NEW_TOLERANCE_MM = 0.3;

/**
 * Weighs what may stand behind a reading, given what was expected, and names a suspicion where a regular
 * reading is the less likely explanation. Nothing is changed or dropped: the weights say how much the
 * reading may move the estimate.
 *
 * Each explanation's probability is its prior chance times the probability of the gauge showing this figure
 * (the mass of the interval that rounds to it) under that explanation.
 *
 * @example 14/32 in (11.1 mm) where 5.6 ± 0.4 mm was expected, plate 5.5 mm: suspicion `plate`, instead 5.6 mm
 */
export function judgeReading(reported: Reported, expected: Expectation): Judgement {
  const sd = Math.hypot(expected.sdMm, reported.repeatabilityMm);
  const mass = (mm: number, resolution: number, spread = sd) =>
    normalInterval(
      (leastShown(mm, resolution) - expected.meanMm) / spread,
      (mm + resolution / 2 - expected.meanMm) / spread,
    );
  const overNew = reported.mm - expected.newMm - NEW_TOLERANCE_MM - 3 * Math.hypot(reported.repeatabilityMm, 0.3);
  const gross = GROSS_LEFT[reported.trust ?? 'typed'];
  const possible = (overNew > 0 && gross > 0 ? 1e-6 : 1) * (offGrid(reported) ? OFF_GRID : 1);

  const { resolutionMm } = reported;
  const weighed: Hypothesis[] = [
    weigh('regular', reported.mm, resolutionMm, PRIOR.regular * possible * mass(reported.mm, resolutionMm)),
    weigh(
      'plate',
      reported.mm - expected.plateMm,
      resolutionMm,
      gross * PRIOR.plate * mass(reported.mm - expected.plateMm, resolutionMm),
    ),
    weigh('stray', reported.mm, resolutionMm, (gross * PRIOR.stray * resolutionMm) / STRAY_RANGE_MM),
  ];
  if (expected.informed && reported.mm < expected.meanMm) {
    const spread = Math.hypot(sd, CHANGED_SHARE_OF_NEW * expected.newMm);
    weighed.push(
      weigh('changed', reported.mm, resolutionMm, 2 * PRIOR.changed * mass(reported.mm, resolutionMm, spread)),
    );
  }
  if (reported.unit === 'mm' && reported.mm > 0 && reported.mm < 1) {
    const asInches = reported.mm * MM_PER_INCH;
    const step = writtenStep(reported.mm) * MM_PER_INCH;
    weighed.push(weigh('inches', asInches, step, gross * PRIOR.inches * mass(asInches, step)));
  }
  const swaps = swappedDigits(reported);
  for (const mm of swaps) {
    weighed.push(weigh('digits', mm, resolutionMm, ((gross * PRIOR.digits) / swaps.length) * mass(mm, resolutionMm)));
  }
  let total = 0;
  for (const one of weighed) total += one.probability;
  for (const one of weighed) one.probability /= total;
  return {
    hypotheses: weighed,
    logEvidence: Math.log(Math.max(total, Number.MIN_VALUE)),
    suspicion: suspicionOf(weighed, reported, expected, overNew > 0),
  };
}

/** No pad is worn further than this into its plate and rotor, mm: where a figure of nought ends downwards. */
const WORN_THROUGH_MM = -30;

/** The least thickness that shows as a figure on a gauge, mm: nought is nought or less, as no gauge shows less. */
export function leastShown(mm: number, resolutionMm: number): number {
  return Math.abs(mm) < resolutionMm / 2 ? WORN_THROUGH_MM : mm - resolutionMm / 2;
}

/** The step to which inches are read, as the figure was written: to the hundredth, or finer where it is (common practice, no source). */
function writtenStep(figure: number): number {
  return Math.abs(figure * 100 - Math.round(figure * 100)) < 1e-6 ? 0.01 : 0.001;
}

/** Chance that an appraiser writes a figure which its gauge can't show, where another unit explains it (common practice, no source). */
const OFF_GRID = 0.05;

/** Whether a figure under 1 mm is none that this gauge shows: 0.33 on a gauge of 0.1 mm was hardly read in mm. */
function offGrid({ mm, unit, resolutionMm }: Reported): boolean {
  const steps = mm / resolutionMm;
  return unit === 'mm' && mm < 1 && Math.abs(steps - Math.round(steps)) > 0.05;
}

function weigh(explanation: Explanation, intendedMm: number, resolutionMm: number, probability: number): Hypothesis {
  return { explanation, intendedMm, resolutionMm, probability };
}

/** So many figures are remembered with what they would be otherwise: one history is run many times. */
const MOST_FIGURES = 2000;
const swapsKnown = new Map<ThicknessUnit, Map<number, readonly number[]>>();

/** The thicknesses (mm) that the figure would be with two adjacent, different digits swapped, e.g. 5.8 for 8.5. */
function swappedDigits({ mm, unit }: Reported): readonly number[] {
  const known = swapsKnown.get(unit) ?? new Map<number, readonly number[]>();
  swapsKnown.set(unit, known);
  const before = known.get(mm);
  if (before) return before;
  if (known.size >= MOST_FIGURES) known.clear();
  const swaps = digitsSwapped(mm, unit);
  known.set(mm, swaps);
  return swaps;
}

function digitsSwapped(mm: number, unit: ThicknessUnit): number[] {
  const figure = thicknessIn(mm, unit);
  const text = unit === '1/32 in' ? String(Math.round(figure)) : figure.toFixed(unit === 'mm' ? 1 : 3);
  const perUnit = figure === 0 ? 0 : mm / figure;
  const digits = [...text].map((sign, index) => ({ sign, index })).filter(({ sign }) => sign !== '.');
  const found = new Set<number>();
  for (let i = 0; i + 1 < digits.length; i += 1) {
    const [first, second] = [digits[i], digits[i + 1]];
    if (!first || !second || first.sign === second.sign) continue;
    const signs = [...text];
    signs[first.index] = second.sign;
    signs[second.index] = first.sign;
    found.add(Number(signs.join('')) * perUnit);
  }
  return [...found];
}

function suspicionOf(
  hypotheses: readonly Hypothesis[],
  reported: Reported,
  expected: Expectation,
  overNew: boolean,
): Suspicion | undefined {
  const chance = (explanation: Explanation) =>
    hypotheses.filter((one) => one.explanation === explanation).reduce((sum, one) => sum + one.probability, 0);
  const irregular = 1 - (hypotheses[0]?.probability ?? 0);
  if (irregular <= 0.5 || reported.trust === 'settled') return undefined;
  const differenceMm = reported.mm - expected.meanMm;
  const base = { probability: irregular, expectedMm: expected.meanMm, differenceMm };
  const named = (['plate', 'inches', 'digits'] as const)
    .map((kind) => ({ kind, probability: chance(kind) }))
    .sort((a, b) => b.probability - a.probability)[0];
  if (named && named.probability > Math.max(chance('changed'), chance('stray'))) {
    const best = hypotheses
      .filter(({ explanation }) => explanation === named.kind)
      .sort((a, b) => b.probability - a.probability)[0];
    return { kind: named.kind, ...base, insteadMm: best?.intendedMm };
  }
  if (overNew) return { kind: 'thicker_than_new', ...base };
  return { kind: differenceMm > 0 ? 'thicker_than_expected' : 'thinner_than_expected', ...base };
}

/** How far over pad and backing plate together a figure may lie before it can't be a thickness of the pad, mm. */
const BEYOND_PAD_MM = 5;

/**
 * The most that a figure can be and still be taken for a reading of a pad, however wrongly measured, mm.
 *
 * @example an 11 mm pad on a 5.8 mm plate: 21.8 mm, so that 85 typed for 8.5 is refused and not just doubted
 */
export function maxPlausibleMm({ newMm, plateMm }: Pick<Expectation, 'newMm' | 'plateMm'>): number {
  return newMm + plateMm + BEYOND_PAD_MM;
}

/** How the same pad differs between left and right, as measured and as expected. */
export interface SideDifference {
  /** Left less right as measured, mm. */
  measuredMm: number;
  /** Left less right as expected, mm. */
  expectedMm: number;
  /** One standard deviation of the measured about the expected, mm; the technician's bias cancels. */
  sdMm: number;
}

/** Chance that the sides of an axle are written down the wrong way round (common practice, no source). */
export const SIDES_PRIOR = 0.003;
/** Under this disagreement the sides are too alike for anybody to be asked, mm (common practice, no source). */
const SIDES_MATTER_MM = 1.5;
const DIFFERENCE_RANGE_MM = 2 * STRAY_RANGE_MM;

/**
 * Probability that the left wheel's figures were written down as the right's and the reverse. A difference that
 * fits neither way says nothing: a gross error of one pad must not look like swapped sides.
 *
 * @param differences one for each pad (inner, outer) measured on both sides
 */
export function sidesSwapped(differences: readonly SideDifference[]): number {
  if (!differences.some(({ measuredMm, expectedMm }) => Math.abs(measuredMm - expectedMm) >= SIDES_MATTER_MM)) return 0;
  let log = Math.log(SIDES_PRIOR / (1 - SIDES_PRIOR));
  for (const { measuredMm, expectedMm, sdMm } of differences) {
    const density = (difference: number) =>
      (0.97 * Math.exp(-0.5 * ((measuredMm - difference) / sdMm) ** 2)) / (sdMm * Math.sqrt(2 * Math.PI)) +
      0.03 / DIFFERENCE_RANGE_MM;
    log += Math.log(density(-expectedMm) / density(expectedMm));
  }
  return 1 / (1 + Math.exp(-log));
}
