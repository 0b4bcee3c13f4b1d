export { DEFAULT_TERMS } from './defaults.ts';
export { catchUpPlans, planJobs, planSubscriber } from './jobs/definitions.ts';
export { mountPlan } from './routes.ts';
export { reachOf } from './queries/reach.ts';
