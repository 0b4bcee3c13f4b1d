export { defectSubscriber } from './raise.ts';
export { mountJobs } from './routes.ts';
