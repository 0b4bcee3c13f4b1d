export {
  CardStep,
  JobCard,
  type JobNeeds,
  JobClosing,
  JobEntries,
  JobEntry,
  MissingItem,
  NewJobPhoto,
  Written,
  type CardTorque,
} from './card.ts';
export { JOBS_ENDPOINTS } from './endpoints.ts';
export { JobLessons, type Told } from './lessons.ts';
export { ThisWeek, WeekAsked } from './week.ts';
export { MatterName, PolicyChange, PolicyLevel, ShopPolicyView } from './policy.ts';
export {
  ComplaintKind,
  Defect,
  JobAction,
  JobAxle,
  JobDetail,
  JobFilter,
  JobMove,
  JobProposal,
  JobRow,
  JobState,
  NewComplaint,
  NewJob,
  ScopeChange,
  ScopeItem,
  Settlement,
  Severity,
  StoryLine,
} from './schemas.ts';
