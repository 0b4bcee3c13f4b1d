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
export { firstPassage } from './passage.ts';
export { milesPerDay } from './milesPerDay.ts';
export type {
  AxleForecast,
  AxleInput,
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
