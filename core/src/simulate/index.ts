export {
  simulateVehicle,
  type VirtualAxle,
  type VirtualHand,
  type VirtualHistory,
  type VirtualInspection,
  type VirtualReading,
  type VirtualSeizure,
  type VirtualVehicle,
} from './vehicle.ts';
export {
  virtualFleet,
  type FleetHand,
  type FleetInspection,
  type FleetOptions,
  type FleetReading,
  type FleetVehicle,
  type GrossKind,
  type VirtualFleet,
} from './fleet.ts';
export { fleetInput, learnFleet, tryHands, type HandTrial } from './trial.ts';
