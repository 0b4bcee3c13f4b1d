export { catalogueIndex, type CatalogueIndex, listParts } from './catalogue.ts';
export {
  orderedOnRecord,
  type OrderRecord,
  type PartRecord,
  type StockRecord,
  unitsOnRecord,
  withdrawCounts,
  writeCounts,
  writeOrders,
  writeParts,
} from './fromSheets.ts';
export { catchUpParts, partsJobs, partsSubscriber } from './jobs/definitions.ts';
export { followOrders } from './jobs/orders.ts';
export { planParts } from './jobs/plan.ts';
export { axleKits } from './queries/axleKits.ts';
export { kitDays, type KitDays } from './queries/kitDays.ts';
export { modelKits } from './queries/modelKits.ts';
export { jobKits, partsDay } from './queries/jobKits.ts';
export { listOrders } from './queries/orders.ts';
export { mountParts } from './routes.ts';
export { listStock } from './stock.ts';
