import type { DraftProgress } from '@mile-mark/contract/imports';
import type { Pool } from '../../platform/compute/pool.ts';
import type { Watch } from '../../platform/inTurns.ts';

/** Whoever watches a file being worked on, step by step. */
export interface Stages {
  /** A step begins, of so many rows, vehicles or records. */
  begin: (step: NonNullable<DraftProgress>['step'], of: number) => Watch;
  /** Threads that may do the heavy part of it. */
  pool?: Pool | undefined;
}

export const UNWATCHED: Stages = { begin: () => ({}) };
