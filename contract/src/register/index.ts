export { REGISTER_ENDPOINTS } from './endpoints.ts';
export {
  Depot,
  Axle,
  Model,
  ModelBuild,
  Duty,
  DutyInUse,
  NewDuty,
  Limit,
  NewLimit,
  NewVehicle,
  DutyCorrection,
  NewDutyPeriod,
  OwnMilesPerDay,
} from './schemas.ts';
export { RotorPrices, ServiceCosts, SettingsView, SettingsChange } from './settings.ts';
export { VehicleRow, VehicleRows } from './vehicles.ts';
export {
  Closure,
  Departure,
  DepotChange,
  FleetVehicle,
  HOW_LEFT,
  NewDepot,
  NewMove,
  OpenMove,
  InstrumentReplaced,
  NewInstrument,
  StartCorrection,
  TimeZone,
  UnitChange,
  UnitNumber,
} from './fleet.ts';
export { AxleFigures, ModelCorrection, ModelFigures, NewModel } from './models.ts';
