export {
  DEFAULT_DUTY_SETTINGS,
  descentPower,
  rollingMass,
  slowdownWork,
  workPerMile,
  type Descent,
  type DescentPower,
  type Duty,
  type DutySettings,
  type Resistance,
  type RotorThermal,
  type Slowdown,
  type SlowdownWork,
  type VehicleMasses,
  type WorkPerMile,
} from './work.ts';
export {
  axleWork,
  dutiesBegun,
  exposureBetween,
  severity,
  severityOn,
  type DutySpan,
  type Exposure,
  type OdometerPoint,
} from './severity.ts';
export { rotorRise, rotorTemperature, wearAtTemperature, wearingWork, type RotorTemperature } from './temperature.ts';
export { findInTrace, type Trace, type TraceEvent, type TraceFindings } from './trace.ts';
export { dutyOfDays, type DrivenDay } from './days.ts';
export {
  DEFAULT_PACE_PROCESS,
  DEFAULT_STATED_PROCESS,
  learnStatedProcess,
  paceBlocks,
  risingOdometers,
  statedDuties,
} from './pace.ts';
export {
  aheadOf,
  believedBlocks,
  DEFAULT_DUTY_PROCESS,
  dutyLevel,
  learnDutyProcess,
  type MeasuredBlock,
  measuredBlocks,
  withLevelAhead,
  type DutyAhead,
  type DutyLevel,
  type DutyProcess,
} from './level.ts';
