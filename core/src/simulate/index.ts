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
