export { addJobEntries } from './commands/writeEntries.ts';
export { jobCard } from './queries/card.ts';
export { jobLessons } from './queries/lessons.ts';
export { JobEntity } from './entities.ts';
export { policyOfModel } from './queries/policy.ts';
export { listJobs } from './queries/jobs.ts';
export { defectSubscriber } from './raise.ts';
export { mountJobs } from './routes.ts';
export { bookTimes, timesOf, type JobTimes } from './times.ts';
