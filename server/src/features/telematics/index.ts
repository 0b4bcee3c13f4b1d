export { askForFeed, feedJob, pollFeed } from './jobs.ts';
export { mountTelematics } from './routes.ts';
