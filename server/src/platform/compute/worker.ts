import { parentPort } from 'node:worker_threads';

/** What a task may tell while it works. */
export interface TaskTools {
  onProgress: (done: number, of: number) => void;
}

/** Pieces of work by name; each takes and gives what can be copied between threads. */
export type Tasks = Record<string, (input: never, tools: TaskTools) => unknown>;

export interface Order {
  task: string;
  input: unknown;
}

/** What a thread answers: a failure comes back as a value, a thrown error would lose its class. */
export type Answer =
  | { kind: 'progress'; done: number; of: number }
  | { kind: 'done'; result: unknown }
  | { kind: 'failed'; message: string };

/** Does one piece of work. */
export async function perform(tasks: Tasks, { task, input }: Order, tools: TaskTools): Promise<unknown> {
  const work = tasks[task];
  if (!work) throw new Error(`there is no task ${task}`);
  return work(input as never, tools);
}

/** Serves the tasks from inside a worker thread. */
export function serveTasks(tasks: Tasks): void {
  const tell = (answer: Answer) => parentPort?.postMessage(answer);
  parentPort?.on('message', (order: Order) => {
    perform(tasks, order, { onProgress: (done, of) => tell({ kind: 'progress', done, of }) }).then(
      (result) => tell({ kind: 'done', result }),
      (error: unknown) => tell({ kind: 'failed', message: error instanceof Error ? error.message : String(error) }),
    );
  });
}
