export {
  DepotEntity,
  DutyEntity,
  DutyPeriodEntity,
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
  afterDeparture,
  doubtInWords,
  idByName,
  holdVehicles,
  lockVehicle,
  normaliseUnit,
  odometersOfMany,
  odometersKnown,
  type OdometersKnown,
  parseOdometer,
  refuseAfterDeparture,
  refuseDeparted,
  refuseFuture,
  vehicleOfUnit,
  lockVehicleOfUnit,
} from './lookups.ts';
export {
  entryNow,
  instrumentsOf,
  InstrumentStep,
  instrumentSteps,
  whoseOf,
  type Whose,
  onInstrumentNow,
  type OnInstrumentNow,
  onInstrumentOf,
} from './instruments.ts';
export { dutyOf, limitOf, limitRuleOf, limitsInForce } from './mappers.ts';
export { axleOf, dutyDto } from './queries/lists.ts';
export { modelsAndDuties } from './queries/modelsAndDuties.ts';
export { mountRegister } from './routes.ts';
export { policyOf, readSettings, rotorPricesOf, SEED, type Settings } from './settings.ts';
export { ensureShippedLimits } from './shippedLimits.ts';
export { startDuty } from './startDuty.ts';
export { vehicleOfFleet } from './queries/fleet.ts';
export { makeMovesDue, moveAtOnce } from './commands/moveVehicle.ts';
