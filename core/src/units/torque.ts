import { NM_PER_LBF_FT } from './constants.ts';

/** Pound-force feet to newton metres. */
export function lbfFtToNm(torque: number): number {
  return torque * NM_PER_LBF_FT;
}

/** Newton metres to pound-force feet. */
export function nmToLbfFt(torque: number): number {
  return torque / NM_PER_LBF_FT;
}
