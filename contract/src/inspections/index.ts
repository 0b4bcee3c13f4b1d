export { Worth, BayVehicle, BayAppraiser, Bay, type BayAnswer, type BayPad, type BayAxle } from './bay.ts';
export { INSPECTIONS_ENDPOINTS } from './endpoints.ts';
export { NewPhoto, PhotoSeen } from './photos.ts';
export { Question, QuestionAnswer, SettledQuestion } from './questions.ts';
export {
  Answer,
  Typed,
  FINDINGS,
  FindingItem,
  FindingWithdrawal,
  ServiceWithdrawal,
  InspectionWithdrawal,
  OwnInspection,
  NewInspection,
  InspectionSaved,
  Correction,
  Reading,
  RotorMeasured,
  FindingSeen,
} from './schemas.ts';
export { NewService } from './services.ts';
