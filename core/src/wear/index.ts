export { ageReplacement, type AgeReplacement, type ServiceCosts } from './ageReplacement.ts';
export { forecastFrom, forecastVehicle } from './forecast.ts';
export { dutyExplained, type DutyExplained } from './explained.ts';
export { rotorOutlook, type RotorInput, type RotorOutlook, type RotorReading } from './rotor.ts';
export { runHistory, type History } from './history.ts';
export {
  classPrior,
  DEFAULT_NOISE,
  groupPrior,
  learnSpread,
  UNKNOWN_APPRAISER,
  type GroupEvidence,
  type WearClass,
} from './prior.ts';
export {
  backtest,
  foretellPassage,
  summariseBacktest,
  type BacktestedReading,
  type BacktestSummary,
  type SimplePassage,
} from './backtest.ts';
export { appraiserKeyOf } from './appraiserKey.ts';
export {
  BIAS_SPREAD,
  poolAppraisers,
  studyEvidence,
  type Estimate,
  type AppraiserEstimate,
  type AppraiserPart,
  type PooledAppraisers,
} from './appraisers.ts';
export { appraiserEvidence, lessonOf, type AppraiserEvidence, type Lesson } from './lesson.ts';
export { learnFrom, levelsOf, type FleetLearning, type LearningContext } from './learn.ts';
export {
  byQuarter,
  driftOffsets,
  partsOfPeriod,
  poolDrift,
  quarterOf,
  withDrift,
  type PeriodEstimate,
  type PeriodPart,
} from './drift.ts';
export { firstPassage } from './passage.ts';
export { milesPerDay } from './milesPerDay.ts';
export { type AxleForecast, type Evidence, type PadEstimate, type Quantiles, type VehicleForecast } from './outcome.ts';
export { type CarriedReading, type TracePoint } from './types.ts';
export {
  type AxleInput,
  type AxleRotors,
  type FittingInput,
  type Appraiser,
  type MarkRule,
  type ReadingInput,
  type RemedyInput,
  type ReadingJudgement,
  type RiskPolicy,
  type VehicleInput,
  type WearNoise,
  type WearPrior,
} from './types.ts';
export { runWithChanges, TOLD_FROM, type ChangedHistory, type SuspectedChange, type WearChange } from './changes.ts';
export { judgedTogether } from './judgedTogether.ts';
export { type ChangeKind } from './candidates.ts';
export { calibrate, NEAR_MI, type Calibration, type CalibrationLook, type Widening } from './calibration.ts';
export { foresee, FORESEEN_FROM_DAYS, type ForeseenLook, type Later } from './foreseen.ts';
export {
  DEFAULT_WEAR_PROCESS,
  learnWearProcess,
  processEvidence,
  teachersOfProcess,
  withProcess,
  type WearProcess,
} from './process.ts';
export { ASSUMPTIONS, checkedLooks, strainsOf, type Assumption, type Residual, type Strain } from './criticism.ts';
export { valueOfInspection, type ValueOfInspection } from './worth.ts';
export { wearFan, type WearFan } from './fan.ts';
