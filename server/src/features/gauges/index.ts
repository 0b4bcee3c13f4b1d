export { KnownAppraiser } from './knownAppraiser.ts';
export { appraiserKey, partsOfAppraiser } from './appraiserKey.ts';
export { AppraiserDriftEntity, AppraiserEntity, AppraiserShareEntity, GaugeEntity, type GaugeRow } from './entities.ts';
export { listGauges } from './queries/gauges.ts';
export { studyEvidenceOf } from './queries/studyEvidence.ts';
export { mountGauges } from './routes.ts';
