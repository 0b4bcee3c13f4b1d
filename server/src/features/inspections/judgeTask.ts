import { runHistory, type Suspicion, type VehicleInput } from '@mile-mark/core';

/** A reading that is doubted, and how. */
export interface Doubt {
  id: string;
  suspicion: Suspicion;
}

/** What threads do for inspections. */
export const JUDGE_TASKS = {
  'inspections/doubts': (vehicles: VehicleInput[]): Doubt[] => vehicles.flatMap(doubtsOf),
};

/** What is doubted of a vehicle's readings, each judged among the others. */
export function doubtsOf(vehicle: VehicleInput): Doubt[] {
  return runHistory(vehicle).judgements.flatMap(({ id, suspicion }) => (suspicion ? [{ id, suspicion }] : []));
}
