import { valueAt } from '../numeric/index.ts';
import { PADS, resolutionVariance, sidesSwapped, type SideDifference } from '../measure/index.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { WearState } from './state.ts';
import type { Appraiser, ReadingInput, ReadingJudgement } from './types.ts';

/** What a reading would have been on its own side, where the sides were taken to be swapped. */
export interface Swap {
  insteadMm: number;
  probability: number;
}

/** By the reading's id; empty where nothing looks swapped. */
export type SwappedSides = ReadonlyMap<string, Swap>;

const NONE: SwappedSides = new Map();

/** A pad's readings on both sides. */
interface Pair {
  left: ReadingInput;
  right: ReadingInput;
}

const PAIRS = new WeakMap<readonly ReadingInput[], readonly Pair[]>();

/** Pads of a look read on both sides; none where somebody looked at one of them again. Kept: a look is run many times. */
function pairsOf(readings: readonly ReadingInput[]): readonly Pair[] {
  const known = PAIRS.get(readings);
  if (known) return known;
  const pairs = PADS.flatMap((pad) => {
    const at = (side: ReadingInput['side']) => readings.find((one) => one.side === side && one.pad === pad);
    const [left, right] = [at('left'), at('right')];
    return left && right ? [{ left, right }] : [];
  });
  const usual = pairs.every(
    ({ left, right }) => (left.trust ?? 'typed') === 'typed' && (right.trust ?? 'typed') === 'typed',
  );
  const own = usual ? pairs : [];
  PAIRS.set(readings, own);
  return own;
}

/**
 * Whether the left and right figures of one axle, as one hand wrote them down, are the wrong way round: the
 * differences left − right of inner and outer pads against what the state expects of them. Readings that
 * somebody looked at again are believed.
 */
export function swappedSides(
  state: WearState,
  readings: readonly ReadingInput[],
  appraiserOf: (name: string) => Appraiser,
): SwappedSides {
  const count = state.places.length;
  const { size, data } = state.cov;
  const pairs = pairsOf(readings);
  if (pairs.length === 0) return NONE;
  const at = ({ axle, side, pad }: ReadingInput) =>
    count + state.places.findIndex((place) => place.axle === axle && place.side === side && place.pad === pad);
  const differences: SideDifference[] = [];
  for (const { left, right } of pairs) {
    const [l, r] = [at(left), at(right)];
    if (!state.informed[l - count] || !state.informed[r - count]) return NONE;
    const noise = appraiserOf(appraiserKeyOf(left)).repeatabilityMm ** 2 + resolutionVariance(left.resolutionMm);
    const spread =
      valueAt(data, l * size + l) + valueAt(data, r * size + r) - 2 * valueAt(data, l * size + r) + 2 * noise;
    differences.push({
      measuredMm: left.mm - right.mm,
      expectedMm: valueAt(state.mean, l) - valueAt(state.mean, r),
      sdMm: Math.sqrt(Math.max(spread, 1e-6)),
    });
  }
  const probability = sidesSwapped(differences);
  if (probability <= 0.5) return NONE;
  return new Map(
    pairs.flatMap(({ left, right }) => [
      [left.id, { insteadMm: right.mm, probability }],
      [right.id, { insteadMm: left.mm, probability }],
    ]),
  );
}

/** The judgement of a reading that was taken in as the other side's. */
export function withSwap(judgement: ReadingJudgement, { insteadMm, probability }: Swap, mm: number): ReadingJudgement {
  return {
    ...judgement,
    suspicion: {
      kind: 'sides',
      probability,
      expectedMm: judgement.expectedMm,
      differenceMm: mm - judgement.expectedMm,
      insteadMm,
    },
  };
}
