import type { History, Run } from './history.ts';
import type { WearState } from './state.ts';

/** Mixture of normal states by its mean and covariance; components added for steps are left out. */
export function mixture(parts: readonly { state: WearState; weight: number }[], size: number): WearState {
  const [first] = parts as [(typeof parts)[number]];
  const mean = new Float64Array(size);
  const data = new Float64Array(size * size);
  for (const { state, weight } of parts)
    for (let i = 0; i < size; i += 1) mean[i] = (mean[i] as number) + weight * (state.mean[i] as number);
  for (const { state, weight } of parts) {
    const own = state.cov.size;
    for (let i = 0; i < size; i += 1) {
      const di = (state.mean[i] as number) - (mean[i] as number);
      for (let k = 0; k < size; k += 1) {
        const dk = (state.mean[k] as number) - (mean[k] as number);
        data[i * size + k] =
          (data[i * size + k] as number) + weight * ((state.cov.data[i * own + k] as number) + di * dk);
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
