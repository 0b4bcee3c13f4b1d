export { sharesOf, weighPlan, type Broken, type Weighed } from './evaluate.ts';
export { guestOf, lendVehicles, placesLent, withLoans, type Lending, type Loan, type LendAsk } from './lend.ts';
export {
  packProblem,
  planFaults,
  unpackProblem,
  type PackedProblem,
  type PlanAxle,
  type PlanDepot,
  type PlanFault,
  type PlannedVisit,
  type PlanPrices,
  type PlanProblem,
  type PlanVehicle,
} from './model.ts';
export {
  earliestDueFirst,
  everyInterval,
  planDepot,
  proveDepot,
  searchDepot,
  type SolvedDepot,
  type SolveUntil,
  SEARCH_SHARE,
} from './solve.ts';
export { everyDay, planTrial, TRIAL_PRICES, type PlanTrial } from './planTrial.ts';
export { placeInBays, shopDays, weekdayOf, type ShopWeek } from './shop.ts';
export {
  hoursOf,
  movedTo,
  tellMove,
  tellVisits,
  tryChange,
  unplacedOf,
  type Binding,
  type Tried,
  type VisitTold,
} from './tell.ts';
