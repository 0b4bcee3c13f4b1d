export { dayInWords } from '../days.ts';
export {
  thicknessInWords,
  limitInWords,
  suspicionInWords,
  suspicionsInWords,
  evidenceInWords,
  timesInWords,
  changeInWords,
  suspicionOfChange,
} from './readings.ts';
export { ASSUMPTION_IN_WORDS, classInWords, distanceInWords, strainInWords, wideningInWords } from './strains.ts';
export { findingDetailInWords, findingInWords, findingPlaceInWords, SEVERITY_WORDS } from './findings.ts';
export {
  chanceInWords,
  countInWords,
  fineInWords,
  fineSpreadInWords,
  milesInWords,
  milesSpreadInWords,
  perDistanceInWords,
  rateInWords,
  rateRangeInWords,
  speedInWords,
  thicknessSpreadInWords,
} from './figures.ts';
export { awayInWords, leftInWords, nextThing, percentOf, ruledByInWords, spanInWords, type NextVerb } from './marks.ts';
export { GLOSSARY, glossaryMarkdown, type Term, type TermKey } from './glossary.ts';
export {
  axleOrderInWords,
  kitChangeInWords,
  kitStateInWords,
  moneyInWords,
  needInWords,
  needPlaceInWords,
  takesInWords,
} from './parts.ts';
export { paceInWords } from './pace.ts';
export { failureInWords } from './parse.ts';
export {
  ACTION_WORDS,
  actionInWords,
  firedInWords,
  MATTER_WHENS,
  missingInWords,
  scopeInWords,
  stepPlaceInWords,
} from './jobs.ts';
export { cornerInWords, STEP_CAUTIONS, STEP_WORDS, stepInWords, type StepSetting } from './steps.ts';
export {
  brokenInWords,
  CONSTRAINTS_IN_WORDS,
  dueSinceInWords,
  lookInWords,
  movedInWords,
  otherDepotInWords,
  planMadeInWords,
  remedyInWords,
  visitInWords,
} from './plan.ts';
export { amountInWords, kitLineInWords, minutesInWords } from './needs.ts';
