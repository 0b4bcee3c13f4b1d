export {
  normalCdf,
  normalInterval,
  normalPdf,
  normalQuantile,
  truncatedNormal,
  type TruncatedMoments,
} from './normal.ts';
export { latinNormals, randomNormal, seededRandom, type Random } from './random.ts';
export { choleskyLower, square, type Square } from './matrix.ts';
export { sortedQuantile } from './quantile.ts';
