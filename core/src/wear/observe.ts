import { valueAt, truncatedNormal } from '../numeric/index.ts';
import { CHANGED_SHARE_OF_NEW, judgeReading, leastShown } from '../measure/index.ts';
import type { AxleInput, ReadingInput, ReadingJudgement } from './types.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { WearState } from './state.ts';

/** How much faster a pad may turn out to wear when a reading shows that something changed (log units, one sd). */
const CHANGED_LOG_RATE = 0.8;

/** Vectors a reading is taken in with: made once for each size, as making them takes as long as filling them. */
const WORK = {
  kept: new Map<number, Record<'projected' | 'moves' | 'inflation' | 'gain', Float64Array>>(),
  of(size: number) {
    const kept = this.kept.get(size);
    if (kept) return kept;
    const made = () => new Float64Array(size);
    const work = { projected: made(), moves: made(), inflation: made(), gain: made() };
    this.kept.set(size, work);
    return work;
  },
};

/**
 * Takes one reading into the state.
 *
 * The reading is thickness + bias + noise, known only to its gauge's grid, so the update uses the moments
 * of a truncated normal. What may stand behind the figure (regular, backing plate included, unit mistaken,
 * digits swapped, pad wearing otherwise than expected, stray) is weighed by `judgeReading`; the state
 * becomes the mixture of the updates under each, collapsed by matching mean and covariance. A reading far
 * too thin is never dropped: the hypothesis that the pad wears otherwise takes it at near its full value.
 *
 * @returns the judgement of the reading, with what was expected of it
 */
export function observe(
  state: WearState,
  reading: ReadingInput,
  axle: AxleInput,
  repeatabilityMm: number,
): ReadingJudgement {
  const { size, data } = state.cov;
  const count = state.places.length;
  const p = state.places.findIndex(
    (place) => place.axle === reading.axle && place.side === reading.side && place.pad === reading.pad,
  );
  const x = count + p;
  const b = 2 * count + state.appraisers.indexOf(appraiserKeyOf(reading));
  const at = (row: number, column: number) => valueAt(data, row * size + column);

  const { projected, moves } = WORK.of(size);
  for (let k = 0; k < size; k += 1) projected[k] = at(k, x) + at(k, b);
  const known = at(x, x) + 2 * at(x, b) + at(b, b);
  const total = known + repeatabilityMm ** 2;
  const expectedMm = valueAt(state.mean, x) + valueAt(state.mean, b) + (reading.driftMm ?? 0);
  const judgement = judgeReading(
    {
      mm: reading.mm,
      unit: reading.unit,
      resolutionMm: reading.resolutionMm,
      repeatabilityMm,
      trust: reading.trust,
    },
    {
      meanMm: expectedMm,
      sdMm: Math.sqrt(Math.max(known, 1e-6)),
      newMm: axle.newMm,
      plateMm: axle.plateMm,
      informed: state.informed[p] ?? false,
    },
  );

  let shift = 0;
  let spread = 0;
  let changedWeight = 0;
  for (const { explanation, intendedMm, resolutionMm, probability } of judgement.hypotheses) {
    if (explanation === 'stray' || probability < 1e-9) continue;
    if (explanation === 'changed') {
      changedWeight = probability;
      continue;
    }
    const seen = truncatedNormal(
      expectedMm,
      Math.sqrt(total),
      leastShown(intendedMm, resolutionMm),
      intendedMm + resolutionMm / 2,
    );
    const moved = seen.mean - expectedMm;
    shift += probability * moved;
    spread += probability * (seen.variance - total + moved * moved);
  }

  // The rank-one inflation of a pad that wears otherwise: thinner by c, faster by a.
  const c = CHANGED_SHARE_OF_NEW * axle.newMm;
  const changedTotal = total + c * c;
  const changed =
    changedWeight > 1e-6
      ? truncatedNormal(
          expectedMm,
          Math.sqrt(changedTotal),
          leastShown(reading.mm, reading.resolutionMm),
          reading.mm + reading.resolutionMm / 2,
        )
      : undefined;
  for (let k = 0; k < size; k += 1) moves[k] = (valueAt(projected, k) / total) * shift;
  if (changed) takeChanged({ state, projected, moves, p, x, c }, changed, { changedTotal, changedWeight, expectedMm });
  const perTotal = spread / (total * total);
  for (let i = 0; i < size; i += 1) {
    const gainSpread = valueAt(projected, i) * perTotal;
    const move = valueAt(moves, i);
    const row = i * size;
    for (let k = i, mirrored = row + i; k < size; k += 1, mirrored += size) {
      const value = valueAt(data, row + k) + gainSpread * valueAt(projected, k) - move * valueAt(moves, k);
      data[row + k] = value;
      data[mirrored] = value;
    }
  }
  for (let k = 0; k < size; k += 1) state.mean[k] = valueAt(state.mean, k) + valueAt(moves, k);
  state.informed[p] = true;
  return { id: reading.id, takenMm: reading.mm, expectedMm, expectedSdMm: Math.sqrt(total), ...judgement };
}

interface Taking {
  state: WearState;
  /** Covariance of everything with what was read. */
  projected: Float64Array;
  /** How far every mean moves; added to. */
  moves: Float64Array;
  /** Index of the pad's rate and thickness, and by how much it may be thinner, mm. */
  p: number;
  x: number;
  c: number;
}

/** Takes in the share of a reading that says that its pad wears otherwise: thinner by c, faster by a, and what follows. */
function takeChanged(
  { state, projected, moves, p, x, c }: Taking,
  seen: { mean: number; variance: number },
  { changedTotal, changedWeight, expectedMm }: { changedTotal: number; changedWeight: number; expectedMm: number },
): void {
  const { size, data } = state.cov;
  const shift = seen.mean - expectedMm;
  const spread = seen.variance - changedTotal + shift * shift;
  const { inflation, gain } = WORK.of(size);
  inflation.fill(0);
  inflation[p] = CHANGED_LOG_RATE;
  inflation[x] = -c;
  for (let k = 0; k < size; k += 1) {
    gain[k] = (valueAt(projected, k) - c * valueAt(inflation, k)) / changedTotal;
    moves[k] = valueAt(moves, k) + changedWeight * valueAt(gain, k) * shift;
  }
  for (let i = 0; i < size; i += 1) {
    const own = changedWeight * valueAt(gain, i) * spread;
    const inflated = changedWeight * valueAt(inflation, i);
    const row = i * size;
    for (let k = 0; k < size; k += 1)
      data[row + k] = valueAt(data, row + k) + own * valueAt(gain, k) + inflated * valueAt(inflation, k);
  }
}
