/** What tests use of a package that has no types of its own. */
declare module 'munkres-js' {
  /** The cells [row, column] of an assignment of least sum. */
  export default function computeMunkres(matrix: readonly (readonly number[])[]): [number, number][];
}
