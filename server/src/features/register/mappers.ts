import { type BrakeKind, type Duty, type LimitRule, serviceLimit, type ServiceLimit } from '@mile-mark/core';
import type { DutyRow, LimitRuleRow, ModelAxleRow, ModelRow } from './entities.ts';

/** Micrometres as kept, in mm; null where there are none. */
export const mm = (um: number | null | undefined): number | null => (um == null ? null : um / 1000);

export function dutyOf(row: DutyRow): Duty {
  const { stopsPerMile, mphBeforeStop, payloadShare, descentMPerMile, retarderShare, towedKg } = row;
  const { slowdownsPerMile, slowdownFromMph, slowdownToMph, longestDescentM } = row;
  return {
    stopsPerMile,
    mphBeforeStop,
    payloadShare,
    descentMPerMile,
    retarderShare,
    towedKg,
    slowdownsPerMile,
    slowdownFromMph,
    slowdownToMph,
    longestDescentM: longestDescentM > 0 ? longestDescentM : undefined,
  };
}

export function limitRuleOf(row: LimitRuleRow): LimitRule {
  return {
    id: row.id,
    jurisdiction: row.jurisdiction,
    authority: row.authority as LimitRule['authority'],
    brake: row.brake as BrakeKind,
    aboveGvwrKg: row.aboveGvwrKg ?? undefined,
    upToGvwrKg: row.upToGvwrKg ?? undefined,
    leastMm: row.leastUm / 1000,
    equalityPasses: row.equalityPasses,
    source: row.source,
    revision: row.revision,
    checkedBy: row.checkedBy,
  };
}

/**
 * An axle's limits in force, µm: those of its released specification; where it leaves one blank, or none is released,
 * the model list's. A machine-to below the discard in force is of an older list and holds no more.
 */
export function limitsInForce(axle: ModelAxleRow): {
  padMakerMinUm: number;
  rotorDiscardUm: number | null;
  rotorMachineToUm: number | null;
} {
  const discard = axle.releasedRotorDiscardUm ?? axle.rotorDiscardUm ?? null;
  const machineTo = axle.releasedRotorMachineToUm ?? axle.rotorMachineToUm ?? null;
  return {
    padMakerMinUm: axle.releasedPadMinUm ?? axle.padMakerMinUm,
    rotorDiscardUm: discard,
    rotorMachineToUm: machineTo !== null && discard !== null && machineTo < discard ? null : machineTo,
  };
}

/** The service limit of an axle under the rules on record and the shop's margin. */
export function limitOf(
  model: ModelRow,
  axle: ModelAxleRow,
  rules: readonly LimitRule[],
  marginShare: number,
): ServiceLimit {
  return serviceLimit(
    {
      brake: axle.brake as BrakeKind,
      gvwrKg: model.gvwrKg,
      padNewMm: axle.padNewUm / 1000,
      padMakerMinMm: limitsInForce(axle).padMakerMinUm / 1000,
    },
    rules,
    marginShare,
  );
}
