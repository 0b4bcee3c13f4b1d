export { bedInHeat, BED_IN_HABITS, type BedIn, type BedInHeat } from './bedIn.ts';
export {
  buildInWords,
  buildOf,
  HYDRAULIC_CALIPERS,
  HYDRAULIC_PARKING,
  SENSOR_PLACES,
  type BrakeBuild,
} from './build.ts';
export { cardOf, skippedBefore, stepId, type CardInput, type CardStep } from './card.ts';
export { STEPS, type CardAxle, type StepDefinition, type StepKind } from './cardSteps.ts';
export {
  JOB_ACTIONS,
  COMPLAINT_KINDS,
  COMPLAINTS,
  escalated,
  FINDING_CATALOGUE,
  FINDING_ITEMS,
  DEGREES,
  findingOf,
  passes,
  placesOf,
  SEVERITIES,
  statesOf,
  worst,
  type JobAction,
  type Complaint,
  type Degree,
  type FindingItem,
  type Severity,
} from './catalogue.ts';
export {
  judgeReached,
  missingToClose,
  type AxleLimits,
  type Closing,
  type Missing,
  type PadsLeft,
  type RotorLeft,
} from './close.ts';
export { decide, type Decision } from './decide.ts';
export { RULE_IDS, SOON_DAYS, type AxleFacts, type Fired, type PadNow, type RuleId } from './rules.ts';
export {
  drawOff,
  fluidPerMm,
  fluidTaken,
  judgeFluid,
  parsePistons,
  type CaliperWear,
  type FluidJudgement,
  type FluidVerdict,
  type Pistons,
  type Reservoir,
} from './fluid.ts';
export {
  jobMinutes,
  WORK_KINDS,
  workKind,
  type WorkKind,
  paceOf,
  shareOf,
  timeSpent,
  type CardMoment,
  type TimeSpent,
  type TimeSums,
  type Told,
} from './learn.ts';
export {
  AMOUNTS,
  isConsumable,
  kitChangeFault,
  type Consumable,
  type KitChange,
  type KitChangeFault,
} from './kitChange.ts';
export { CARD_TOOLS, KIT_PARTS, kitOf, toolsOf, type CardTool, type KitLine, type KitPart } from './needs.ts';
export { afterMove, isOpen, JOB_MOVES, JOB_STATES, JOB_VERBS, type JobState, type JobVerb } from './job.ts';
export {
  contradictions,
  DEFAULT_POLICY,
  MATTER_NAMES,
  MATTERS,
  policyFor,
  type Contradiction,
  type Matter,
  type ShopPolicy,
} from './policy.ts';
export {
  bestRotorOption,
  ROTOR_OPTIONS,
  rotorAlternatives,
  type PadLife,
  type RotorAlternative,
  type RotorBar,
  type RotorFaces,
  type RotorNow,
  type RotorOption,
  type RotorPrices,
} from './rotorChoice.ts';
