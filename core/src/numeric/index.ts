export { betaQuantile, fUpperTail, logGamma, regularisedBeta, studentQuantile } from './beta.ts';
export {
  normalCdf,
  normalInterval,
  normalPdf,
  normalQuantile,
  truncatedNormal,
  type TruncatedMoments,
} from './normal.ts';
export { latinNormals, randomNormal, seededRandom, shuffled, type Random } from './random.ts';
export { choleskyLower, invertSymmetric, square, type Square } from './matrix.ts';
export { meanRange, rootMeanSquaredRange } from './range.ts';
export { evenly } from './evenly.ts';
export { sortedQuantile } from './quantile.ts';
export { itemAt, valueAt } from './linear.ts';
