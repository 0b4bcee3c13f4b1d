export {
  DistanceUnit,
  Id,
  IsoDate,
  Name,
  Pad,
  Problem,
  Role,
  Side,
  Suspicion,
  ThicknessUnit,
  VehicleClass,
} from './common.ts';
export { Credentials, FirstAccount, Me, NewPerson, Person, Preferences, SessionState } from './session.ts';
export {
  Axle,
  Depot,
  Duty,
  DutyInUse,
  Gauge,
  Limit,
  Model,
  NewDuty,
  NewDutyPeriod,
  NewGauge,
  NewLimit,
  NewService,
  NewVehicle,
} from './register.ts';
export {
  Answer,
  Correction,
  FindingItem,
  FINDINGS,
  FindingSeen,
  InspectionSaved,
  NewInspection,
  NewPhoto,
  Question,
  QuestionAnswer,
  Reading,
  RotorMeasured,
} from './readings.ts';
export { Bay, BayHand, BayVehicle, Worth, type BayAxle, type BayPad } from './bay.ts';
export {
  Hands,
  HandView,
  NewStudy,
  NewStudyValue,
  ShareView,
  StudyDetail,
  StudyFigures,
  StudyImport,
  StudySummary,
  type VariationView,
} from './hands.ts';
export {
  AxleDetail,
  MileMark,
  MileMarks,
  PadDetail,
  Refresh,
  VehicleDetail,
  VehicleRow,
  VehicleRows,
  WithoutPooling,
} from './fleet.ts';
export {
  ImportDetail,
  ImportKind,
  ImportNeed,
  ImportPreview,
  ImportRequest,
  ImportResult,
  ImportRow,
  ImportSummaries,
  ImportSummary,
  MOST_IMPORT_BYTES,
  Outcome,
  RowChoice,
  RowMended,
  RowResult,
  Understanding,
  WheelName,
} from './imports.ts';
export { ChangeAnswer, FeedView, ForecastInput, WearChange, WhyMark } from './changes.ts';
export { ServiceCosts, SettingsChange, SettingsView } from './settings.ts';
export { Validation, type ForetoldView } from './validation.ts';
export { ENDPOINTS, type Endpoint, type EndpointName, type Who } from './endpoints.ts';
export {
  changeInWords,
  evidenceInWords,
  limitInWords,
  suspicionInWords,
  thicknessInWords,
  timesInWords,
} from './words.ts';
