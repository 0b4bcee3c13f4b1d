export { catchUpParts, partsJobs, partsSubscriber } from './jobs/definitions.ts';
export { PARTS_TASKS } from './jobs/demandTask.ts';
export { followOrders } from './jobs/orders.ts';
export { planParts } from './jobs/plan.ts';
export { mountParts } from './routes.ts';
