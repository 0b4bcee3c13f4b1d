export {
  thicknessInWords,
  limitInWords,
  suspicionInWords,
  evidenceInWords,
  timesInWords,
  changeInWords,
  suspicionOfChange,
} from './readings.ts';
export { paceInWords } from './pace.ts';
export { failureInWords } from './parse.ts';
