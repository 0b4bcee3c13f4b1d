export { padPlaces, PADS, placeInWords, placeKey, SIDES, type Pad, type PadPlace, type Side } from './place.ts';
export {
  CHANGED_SHARE_OF_NEW,
  judgeReading,
  mostReadableMm,
  type Expectation,
  type Explanation,
  type Hypothesis,
  type Judgement,
  type Reported,
  type Suspicion,
  type SuspicionKind,
} from './judge.ts';
export { poolReadings, resolutionVariance, type Pooled, type PoolItem } from './pool.ts';
export {
  consistentOdometers,
  doubtOdometer,
  ODOMETER_TOLERANCE_M,
  type OdometerDoubt,
  type OdometerEntry,
  type WeighedOdometer,
} from './odometer.ts';
