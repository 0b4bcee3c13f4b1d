export {
  padPlaces,
  padsAcross,
  placesAcross,
  PADS,
  placeInWords,
  placeKey,
  SIDES,
  type Pad,
  type PadPlace,
  type Side,
} from './place.ts';
export {
  CHANGED_SHARE_OF_NEW,
  judgeReading,
  leastShown,
  maxPlausibleMm,
  SIDES_PRIOR,
  sidesSwapped,
  type Expectation,
  type Explanation,
  type Hypothesis,
  type Judgement,
  type Reported,
  type SideDifference,
  type Suspicion,
  type SuspicionKind,
  type Trust,
} from './judge.ts';
export { poolReadings, resolutionVariance, type Pooled, type PoolItem } from './pool.ts';
export {
  consistentOdometers,
  doubtOdometer,
  doubtPace,
  ODOMETER_TOLERANCE_M,
  type OdometerDoubt,
  type OdometerEntry,
  type PaceDoubt,
  type WeighedOdometer,
} from './odometer.ts';
export {
  analyseStudy,
  studyGaps,
  studyVerdict,
  type AnovaLine,
  type Fitness,
  type StudyGap,
  type StudyOptions,
  type StudyReading,
  type StudyResult,
  type StudyVerdict,
  type Variation,
} from './gaugeStudy.ts';
export { planStudy, type StudyRun } from './studyPlan.ts';
export {
  indexRotor,
  rotorRunout,
  rotorThickness,
  type Harmonic,
  type Indexing,
  type RotorRunout,
  type RotorThickness,
} from './rotor.ts';
