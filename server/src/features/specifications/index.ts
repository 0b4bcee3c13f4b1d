export { exportJson, importLibrary } from './libraryFile.ts';
export { benchModels, benchOfDepot, benchOfVehicle } from './queries/benchSheets.ts';
export { coverage } from './queries/coverage.ts';
export { listTorqueTools } from './queries/torqueTools.ts';
export { mountSpecifications } from './routes.ts';
export { ensureShippedJoints, jointKindId } from './shippedJoints.ts';
