export { forecastVehicle, runHistory } from './forecast.ts';
export {
  classPrior,
  DEFAULT_NOISE,
  groupEvidence,
  groupPrior,
  UNKNOWN_HAND,
  type GroupEvidence,
  type WearClass,
} from './prior.ts';
export { foretell, summariseForetold, type Foretold, type ForetoldSummary } from './foretell.ts';
export { handKeyOf } from './handKey.ts';
export {
  BIAS_SPREAD,
  handEvidence,
  poolHands,
  studyEvidence,
  type Estimate,
  type HandEstimate,
  type HandEvidence,
  type HandPart,
  type PooledHands,
} from './hands.ts';
export { firstPassage } from './passage.ts';
export { milesPerDay } from './milesPerDay.ts';
export type {
  AxleForecast,
  AxleInput,
  CarriedReading,
  Evidence,
  FittingInput,
  Hand,
  PadEstimate,
  Quantiles,
  ReadingInput,
  ReadingJudgement,
  RiskPolicy,
  TracePoint,
  VehicleForecast,
  VehicleInput,
  WearNoise,
  WearPrior,
} from './types.ts';
export { wearingApart, type WearingApart } from './seized.ts';
export { worthOfLook, type WorthOfLook } from './worth.ts';
