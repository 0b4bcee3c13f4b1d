import { setPriority } from 'node:os';
import { TASKS } from './compute.ts';
import { serveTasks } from './platform/compute/worker.ts';

/** Whoever waits for an answer goes before what is computed; of a thread, where the system tells threads apart. */
setPriority(0, 10);
serveTasks(TASKS);
