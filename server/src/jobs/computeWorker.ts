import { parentPort } from 'node:worker_threads';
import { work, type Answer, type Task } from './compute.ts';

parentPort?.on('message', (task: Task) => {
  let answer: Answer;
  try {
    answer = { ok: true, result: work(task) };
  } catch (error) {
    answer = { ok: false, message: error instanceof Error ? error.message : String(error) };
  }
  parentPort?.postMessage(answer);
});
