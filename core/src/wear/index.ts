export { ageReplacement, type AgeReplacement, type ServiceCosts } from './ageReplacement.ts';
export { forecastFrom, forecastVehicle } from './forecast.ts';
export { dutyExplained, type DutyExplained } from './explained.ts';
export { rotorOutlook, type RotorInput, type RotorOutlook, type RotorReading } from './rotor.ts';
export { runHistory, type History } from './history.ts';
export {
  classPrior,
  DEFAULT_NOISE,
  groupEvidence,
  groupPrior,
  learnSpread,
  UNKNOWN_HAND,
  type GroupEvidence,
  type WearClass,
} from './prior.ts';
export {
  foretell,
  foretellPassage,
  summariseForetold,
  type Foretold,
  type ForetoldSummary,
  type SimplePassage,
} from './foretell.ts';
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
export { type AxleForecast, type Evidence, type PadEstimate, type Quantiles, type VehicleForecast } from './outcome.ts';
export { type CarriedReading, type TracePoint } from './types.ts';
export {
  type AxleInput,
  type AxleRotors,
  type FittingInput,
  type Hand,
  type MarkRule,
  type ReadingInput,
  type ReadingJudgement,
  type RiskPolicy,
  type VehicleInput,
  type WearNoise,
  type WearPrior,
} from './types.ts';
export { runWithChanges, TOLD_FROM, type ChangedHistory, type SuspectedChange, type WearChange } from './changes.ts';
export { type ChangeKind } from './candidates.ts';
export { worthOfLook, type WorthOfLook } from './worth.ts';
export { wearFan, type WearFan } from './fan.ts';
