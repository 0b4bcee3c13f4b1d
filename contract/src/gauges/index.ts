export { GAUGES_ENDPOINTS } from './endpoints.ts';
export { AppraiserView, ShareView, Appraisers } from './appraisers.ts';
export { Gauge, NewGauge } from './schemas.ts';
export {
  Bias,
  Repeat,
  NewStudy,
  StudyImport,
  NewStudyValue,
  StudyFigures,
  StudySummary,
  StudyDetail,
  type VariationView,
} from './studies.ts';
