export { PARTS_ENDPOINTS } from './endpoints.ts';
export { NewPart, NewSupplier, Part, PartChange, Supplier, SupplierChange } from './catalogue.ts';
export { PartsDay } from './day.ts';
export { Demand, PartRecord } from './demand.ts';
export { PartKind } from './fields.ts';
export {
  AxleKit,
  JobKit,
  type JobKitNeed,
  KitWeeks,
  type ModelKitLine,
  ModelKits,
  type ModelKitWork,
  NewKitChange,
} from './kits.ts';
export {
  NewReceipt,
  Order,
  OrderApproval,
  OrderCalledOff,
  OrderChange,
  type OrderLine,
  ORDER_STATES,
  type OrderState,
} from './orders.ts';
export { PartsTerms, PartsTermsChange } from './terms.ts';
export { Moved, MOVEMENT_KINDS, NewMovement, NewPick, Picked, StockRow } from './stock.ts';
