export {
  simulateVehicle,
  type VirtualAxle,
  type VirtualAppraiser,
  type VirtualHistory,
  type VirtualInspection,
  type VirtualReading,
  type VirtualSeizure,
  type VirtualVehicle,
} from './vehicle.ts';
export { seizedFactor, virtualFleet } from './fleet.ts';
export {
  type FleetAppraiser,
  type FleetInspection,
  type FleetOptions,
  type FleetReading,
  type FleetStretch,
  type FleetVehicle,
  type GrossKind,
  type VirtualFleet,
} from './fleetPapers.ts';
export { FAMILIES, SEEDS, type Habits } from './habits.ts';
export { tryChanges, type ChangeTrial } from './changeTrial.ts';
export { knownOn, tryForecasts, type ForecastTrial } from './forecastTrial.ts';
export { fleetInput, learnFleet, learnPapers, tryAppraisers, type AppraiserTrial } from './trial.ts';
export { type StockTrialResult, tryStock } from './stockTrial.ts';
