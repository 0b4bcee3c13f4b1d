export { createComputer } from './computer.ts';
export { readingInputOf, vehicleInputOf } from './input.ts';
export { catchUp, forecastJobs, type RefreshQueue, refreshQueue } from './jobs/definitions.ts';
export { refreshFleet, refreshVehicles } from './jobs/refresh.ts';
export { loadForecastContext } from './queries/context.ts';
export { loadVehicleRecords } from './queries/records.ts';
export { ALL_READINGS, ReadingListRow } from './queries/seen.ts';
export { mountForecasts } from './routes.ts';
export { forecastSubscriber } from './stale.ts';
