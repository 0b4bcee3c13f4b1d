export { weighPlan, type Broken, type Weighed } from './evaluate.ts';
export {
  planFaults,
  type PlanAxle,
  type PlanDepot,
  type PlanFault,
  type PlannedVisit,
  type PlanPrices,
  type PlanProblem,
  type PlanVehicle,
} from './model.ts';
export { earliestDueFirst, planDepot, type SolvedDepot, type SolveUntil } from './solve.ts';
export { planTrial } from './planTrial.ts';
