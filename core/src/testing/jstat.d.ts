/** The parts of the statistics library that tests compare with; it ships no types. */
declare module 'jstat' {
  const jstat: {
    gammaln(x: number): number;
    ibeta(x: number, a: number, b: number): number;
    anovafscore(...groups: number[][]): number;
    centralF: { cdf(x: number, d1: number, d2: number): number };
    chisquare: { inv(p: number, df: number): number };
    beta: { inv(p: number, a: number, b: number): number };
    studentt: { inv(p: number, df: number): number };
    gamma: { sample(shape: number, scale: number): number };
    binomial: { pdf(k: number, n: number, p: number): number; cdf(k: number, n: number, p: number): number };
    normal: { sample(mean: number, sd: number): number; cdf(x: number, mean: number, sd: number): number };
    /** From then on everything is drawn from this generator of 0 … 1. */
    setRandom(random: () => number): void;
  };
  export default jstat;
}
