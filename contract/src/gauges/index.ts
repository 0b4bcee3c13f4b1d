export { GAUGES_ENDPOINTS } from './endpoints.ts';
export { HandView, ShareView, Hands } from './hands.ts';
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
