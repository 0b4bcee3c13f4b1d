export { exportJson, importLibrary } from './libraryFile.ts';
export { benchOfDepot, benchOfVehicle } from './queries/benchSheets.ts';
export { coverage } from './queries/coverage.ts';
export { mountSpecifications } from './routes.ts';
export { ensureShippedJoints, jointKindId } from './shippedJoints.ts';
