// Each from where it stands, not through its feature's index: a thread that loads all of the server takes 100 MB.
import { FORECAST_TASKS } from './features/forecasts/computer.ts';
import { IMPORT_TASKS } from './features/imports/readInPool.ts';
import { JUDGE_TASKS } from './features/inspections/judgeTask.ts';
import { PARTS_TASKS } from './features/parts/jobs/demandTask.ts';
import { PLAN_TASKS } from './features/plan/jobs/tasks.ts';
import { createPool, type Pool } from './platform/compute/pool.ts';
import type { Tasks } from './platform/compute/worker.ts';

/** Everything threads can be asked for. */
export const TASKS: Tasks = { ...FORECAST_TASKS, ...IMPORT_TASKS, ...JUDGE_TASKS, ...PARTS_TASKS, ...PLAN_TASKS };

/** The one pool of threads. @param threads 0 computes in the caller's thread (tests run from TypeScript sources) */
export function computePool(threads?: number): Pool {
  return createPool(TASKS, new URL('./computeWorker.js', import.meta.url), threads);
}
