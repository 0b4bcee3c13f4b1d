export {
  DepotEntity,
  DutyEntity,
  DutyPeriodEntity,
  type DutyPeriodRow,
  type DutyRow,
  LimitRuleEntity,
  ModelAxleEntity,
  type ModelAxleRow,
  ModelEntity,
  type ModelRow,
  OdometerEntity,
  VehicleEntity,
  VehicleModelChangeEntity,
  type VehicleRow,
} from './entities.ts';
export {
  doubtInWords,
  idByName,
  lockVehicle,
  normaliseUnit,
  odometersOnRecord,
  parseOdometer,
  refuseFuture,
  vehicleOfUnit,
} from './lookups.ts';
export { dutyOf, limitOf, limitRuleOf, limitsInForce } from './mappers.ts';
export { axleOf, dutyDto } from './queries.ts';
export { mountRegister } from './routes.ts';
export { policyOf, readSettings, rotorPricesOf, SEED, type Settings } from './settings.ts';
export { ensureShippedLimits } from './shippedLimits.ts';
export { startDuty } from './startDuty.ts';
export { VehicleListRow, vehicleRowOf, VEHICLES } from './vehicles.ts';
