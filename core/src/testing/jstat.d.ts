/** The parts of the statistics library that tests compare with; it ships no types. */
declare module 'jstat' {
  const jstat: {
    gammaln(x: number): number;
    ibeta(x: number, a: number, b: number): number;
    anovafscore(...groups: number[][]): number;
    centralF: { cdf(x: number, d1: number, d2: number): number };
    chisquare: { inv(p: number, df: number): number };
  };
  export default jstat;
}
