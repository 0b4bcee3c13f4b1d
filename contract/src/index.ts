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
  Gauge,
  Limit,
  Model,
  NewDutyPeriod,
  NewGauge,
  NewLimit,
  NewService,
  NewVehicle,
} from './register.ts';
export { Answer, Correction, InspectionSaved, NewInspection, Reading } from './readings.ts';
export {
  AxleDetail,
  MileMark,
  MileMarks,
  PadDetail,
  Refresh,
  VehicleDetail,
  VehicleRow,
  VehicleRows,
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
export { ENDPOINTS, type Endpoint, type EndpointName, type Who } from './endpoints.ts';
export { evidenceInWords, limitInWords, suspicionInWords, thicknessInWords } from './words.ts';
