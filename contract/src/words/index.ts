export {
  thicknessInWords,
  limitInWords,
  suspicionInWords,
  evidenceInWords,
  timesInWords,
  changeInWords,
  suspicionOfChange,
} from './readings.ts';
