/** A symmetric matrix stored whole, row-major, `size` × `size`. */
export interface Square {
  size: number;
  data: Float64Array;
}

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
  const at = (row: number, column: number) => lower[row * size + column] as number;
  for (let j = 0; j < size; j += 1) {
    let pivot = data[j * size + j] as number;
    for (let k = 0; k < j; k += 1) pivot -= at(j, k) ** 2;
    if (pivot <= 1e-14) continue;
    const root = Math.sqrt(pivot);
    lower[j * size + j] = root;
    for (let i = j + 1; i < size; i += 1) {
      let sum = data[i * size + j] as number;
      for (let k = 0; k < j; k += 1) sum -= at(i, k) * at(j, k);
      lower[i * size + j] = sum / root;
    }
  }
  return lower;
}
