import { seededRandom, shuffled } from '../numeric/index.ts';

/** One measurement to be made, in the order in which to make it. */
export interface StudyRun {
  /** Counted from 1. */
  run: number;
  part: string;
  technician: string;
  trial: number;
}

/**
 * The order of a crossed gauge study: trial by trial; within a trial each technician measures all parts in an
 * order of their own, and the technicians' order changes too. Randomised, so that warming, wear of the probe
 * and remembered figures spread evenly; the seed is shown and gives the same order again.
 *
 * @returns parts × technicians × repeats runs
 */
export function planStudy(
  parts: readonly string[],
  technicians: readonly string[],
  repeats: number,
  seed: number,
): StudyRun[] {
  const random = seededRandom(seed);
  const runs: StudyRun[] = [];
  for (let trial = 1; trial <= repeats; trial += 1)
    for (const technician of shuffled(technicians, random))
      for (const part of shuffled(parts, random)) runs.push({ run: runs.length + 1, part, technician, trial });
  return runs;
}
