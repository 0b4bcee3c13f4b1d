export {
  thicknessInWords,
  limitInWords,
  suspicionInWords,
  evidenceInWords,
  timesInWords,
  changeInWords,
  suspicionOfChange,
} from './readings.ts';
export { ASSUMPTION_IN_WORDS, classInWords, distanceInWords, strainInWords, wideningInWords } from './strains.ts';
export { paceInWords } from './pace.ts';
export { failureInWords } from './parse.ts';
