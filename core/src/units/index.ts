export {
  KG_PER_POUND,
  METRES_PER_MILE,
  MM_PER_32ND,
  MM_PER_INCH,
  MPS_PER_MPH,
  NM_PER_LBF_FT,
  STANDARD_GRAVITY,
} from './constants.ts';
export type { Parsed, ParseFailure } from './failure.ts';
export { figureOf, parseNumber, type DecimalMark } from './number.ts';
export {
  parseThickness,
  thicknessIn,
  thicknessUnitNamed,
  type ThicknessUnit,
  type TypedThickness,
} from './thickness.ts';
export { metresToMiles, milesToMetres, parseDistance, type DistanceUnit, type TypedDistance } from './distance.ts';
export { dateOfDay, dayNumber, dependsOnOrder, parseDate, type DateOrder, type IsoDate } from './date.ts';
export {
  lbfFtToNm,
  nmToLbfFt,
  parseTorque,
  torqueIn,
  torqueToNm,
  torqueUnitOf,
  type TorqueUnit,
  type TypedTorque,
} from './torque.ts';
