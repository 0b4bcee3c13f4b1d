export { AppraiserDriftEntity, AppraiserEntity, AppraiserShareEntity, GaugeEntity, type GaugeRow } from './entities.ts';
export { handKey, partsOfHand } from './handKey.ts';
export { listGauges } from './queries/gauges.ts';
export { studyEvidenceOf } from './queries/studyEvidence.ts';
export { mountGauges } from './routes.ts';
