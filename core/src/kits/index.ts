export { allocate, type Incoming, type KitJob, type KitState, type NeedState } from './allocate.ts';
export { BY_CHANCE, chanceOfUse, chancesWith, meanChance, type Taken } from './chance.ts';
export {
  averaged,
  type Chance,
  chancePoints,
  type DayQuantile,
  demandDistribution,
  expectedShort,
  meanUnits,
  type Need,
  thinnedDistribution,
  unitsFor,
  workedBy,
} from './demand.ts';
export {
  checkLines,
  checkSensor,
  fitsAt,
  type Kit,
  type KitFault,
  kitFrom,
  type KitNeed,
  type Option,
  type Place,
} from './kit.ts';
export {
  bestOffer,
  kept as keptBack,
  standsIn,
  lineDoubts,
  type LineDoubt,
  type Offer,
  type OpenNeed,
  type Standing,
  type Transfer,
  transfersFirst,
} from './orders.ts';
export {
  type AxleAhead,
  demandAhead,
  type DemandAsked,
  type KitAhead,
  keyOf as stockKey,
  type PartDemand,
  type WeekDemand,
} from './plan.ts';
export { CONSUMABLES, type Fit, type Part, type PartFault, partFaults, successor } from './part.ts';
export { differences, type Difference, type Measures, receiptFaults, type ReceiptFault } from './receive.ts';
export { costPerMile, type PartLife, type PartRecord, partRecord } from './record.ts';
export { economicQuantity, fillRate, orderQuantity, type QuantityReason, reorderPoint, type Terms } from './reorder.ts';
export { type Held, type Take, takeFrom } from './stock.ts';
