import { valueAt } from './linear.ts';
/** A symmetric matrix stored whole, row-major, `size` × `size`. */
export interface Square {
  size: number;
  data: Float64Array;
}

/** A matrix of noughts, `size` × `size`. */
export function square(size: number): Square {
  return { size, data: new Float64Array(size * size) };
}

/**
 * Lower Cholesky factor of a positive semi-definite matrix; a pivot that rounding has made zero or
 * negative gives a zero column instead of an error. Source: Golub & Van Loan, Matrix Computations, §4.2.
 *
 * @returns row-major lower triangle, `size` × `size`
 */
export function choleskyLower({ size, data }: Square): Float64Array {
  const lower = new Float64Array(size * size);
  const at = (row: number, column: number) => valueAt(lower, row * size + column);
  for (let j = 0; j < size; j += 1) {
    let pivot = valueAt(data, j * size + j);
    for (let k = 0; k < j; k += 1) pivot -= at(j, k) ** 2;
    if (pivot <= 1e-14) continue;
    const root = Math.sqrt(pivot);
    lower[j * size + j] = root;
    for (let i = j + 1; i < size; i += 1) {
      let sum = valueAt(data, i * size + j);
      for (let k = 0; k < j; k += 1) sum -= at(i, k) * at(j, k);
      lower[i * size + j] = sum / root;
    }
  }
  return lower;
}

/**
 * Inverse of a symmetric positive definite matrix by its Cholesky factor; undefined where it is not positive
 * definite. Source: Golub & Van Loan, Matrix Computations, §4.2.
 */
export function invertSymmetric(matrix: Square): Square | undefined {
  const { size } = matrix;
  const lower = choleskyLower(matrix);
  const inverse = square(size);
  const column = new Float64Array(size);
  for (let i = 0; i < size; i += 1) if (!(valueAt(lower, i * size + i) > 0)) return undefined;
  for (let c = 0; c < size; c += 1) {
    for (let i = 0; i < size; i += 1) {
      let sum = i === c ? 1 : 0;
      for (let k = 0; k < i; k += 1) sum -= valueAt(lower, i * size + k) * valueAt(column, k);
      column[i] = sum / valueAt(lower, i * size + i);
    }
    for (let i = size - 1; i >= 0; i -= 1) {
      let sum = valueAt(column, i);
      for (let k = i + 1; k < size; k += 1) sum -= valueAt(lower, k * size + i) * valueAt(column, k);
      column[i] = sum / valueAt(lower, i * size + i);
    }
    for (let i = 0; i < size; i += 1) inverse.data[i * size + c] = valueAt(column, i);
  }
  return inverse;
}
