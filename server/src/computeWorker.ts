import { TASKS } from './compute.ts';
import { serveTasks } from './platform/compute/worker.ts';

serveTasks(TASKS);
