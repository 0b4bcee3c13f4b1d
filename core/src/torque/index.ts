export {
  CALIBRATED_FROM,
  calibratedRange,
  fitJoint,
  fitTorque,
  hardestMiss,
  isReached,
  roundedTorque,
  settingFor,
  type Bench,
  type Setting,
  type TorqueAdapter,
  type TorqueFit,
  type TorqueMultiplier,
  type TorqueNeed,
  type TorqueTarget,
  type TorqueWrench,
} from './bench.ts';
export { judgeHead, parseHead, usualHeads, type Head, type HeadDoubt, type HeadKind } from './head.ts';
export { judgeJoint, targetNm, type JointDoubt, type JointFacts, type JointField, type JointTorque } from './joint.ts';
export { jointsOfBrake, SHIPPED_JOINTS, type JointKind } from './kinds.ts';
export { adapterSetting, flatsOf, multiplierSetting } from './leverage.ts';
export { pairConflicts, pairDifference, PAIR_TOLERANCE } from './pair.ts';
export { differingFigures, type Figures } from './retype.ts';
export { parseThread, pitchDiameter, stressArea, stressDiameter, threadAdvance, type Thread } from './thread.ts';
export { tighteningTorque, usualTorque, type Strength } from './usual.ts';
