import { valueAt } from '../numeric/index.ts';
import type { History, Run } from './history.ts';
import type { WearState } from './state.ts';

/** Mixture of normal states by its mean and covariance; components added for steps are left out. */
export function mixture(parts: readonly { state: WearState; weight: number }[], size: number): WearState {
  const [first] = parts as [(typeof parts)[number]];
  const mean = new Float64Array(size);
  const data = new Float64Array(size * size);
  for (const { state, weight } of parts)
    for (let i = 0; i < size; i += 1) mean[i] = valueAt(mean, i) + weight * valueAt(state.mean, i);
  for (const { state, weight } of parts) {
    const own = state.cov.size;
    for (let i = 0; i < size; i += 1) {
      const di = valueAt(state.mean, i) - valueAt(mean, i);
      for (let k = 0; k < size; k += 1) {
        const dk = valueAt(state.mean, k) - valueAt(mean, k);
        data[i * size + k] = valueAt(data, i * size + k) + weight * (valueAt(state.cov.data, i * own + k) + di * dk);
      }
    }
  }
  return { ...first.state, mean, cov: { size, data }, informed: [...first.state.informed] };
}

/** A history whose state has no components but those of the plain one. */
export function collapsed(history: Run, plain: Run): History {
  const size = plain.state.cov.size;
  return { ...history, state: mixture([{ state: history.state, weight: 1 }], size) };
}
