import { cpus } from 'node:os';
import { Worker } from 'node:worker_threads';
import { perform, type Answer, type Order, type Tasks } from './worker.ts';

interface RunOptions {
  /** Aborting ends the work, and the thread it runs in. */
  signal?: AbortSignal | undefined;
  onProgress?: ((done: number, of: number) => void) | undefined;
  /** Goes before whatever waits for a thread. */
  first?: boolean;
}

/** Threads that compute, so that the server keeps answering meanwhile: one pool for all heavy work. */
export interface Pool {
  /** 0: everything is done in the caller's thread. */
  readonly threads: number;
  run: (task: string, input: unknown, options?: RunOptions) => Promise<unknown>;
  close: () => Promise<void>;
}

/** The thread itself ended, for want of memory as a rule; its work is lost and may be asked of another. */
export class ThreadDied extends Error {}

/**
 * @param threads number of worker threads; 0 does everything in the caller's thread
 * @param script what a thread runs: it serves the same tasks (`serveTasks`)
 */
export function createPool(tasks: Tasks, script: URL, threads: number = Math.max(1, Math.min(4, cpus().length))): Pool {
  let closed = false;
  const workers: Worker[] = [];
  const idle: Worker[] = [];
  const waiting: ((worker: Worker) => void)[] = [];

  const start = () => {
    const worker = new Worker(script);
    worker.unref();
    workers.push(worker);
    return worker;
  };
  const acquire = (first: boolean): Promise<Worker> => {
    const free = idle.pop();
    if (free) return Promise.resolve(free);
    if (workers.length < threads) return Promise.resolve(start());
    return new Promise((resolve) => (first ? waiting.unshift(resolve) : waiting.push(resolve)));
  };
  const release = (worker: Worker) => {
    const next = waiting.shift();
    if (next) next(worker);
    else idle.push(worker);
  };
  /** A thread that died is never given work again: whoever waits gets a new one. */
  const forget = (worker: Worker) => {
    workers.splice(workers.indexOf(worker), 1);
    if (!closed) waiting.shift()?.(start());
  };
  return {
    threads,
    run: async (task, input, { signal, onProgress, first = false } = {}) => {
      signal?.throwIfAborted();
      if (threads === 0) return perform(tasks, { task, input }, { onProgress: onProgress ?? (() => undefined) });
      const worker = await acquire(first);
      if (signal?.aborted) {
        release(worker);
        throw signal.reason;
      }
      try {
        const result = await ask(worker, { task, input }, { signal, onProgress });
        release(worker);
        return result;
      } catch (error) {
        if (error instanceof ThreadDied || signal?.aborted) forget(worker);
        else release(worker);
        throw error;
      }
    },
    close: async () => {
      closed = true;
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}

function ask(worker: Worker, order: Order, { signal, onProgress }: RunOptions): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const settle = (act: () => void) => {
      worker.off('message', onMessage);
      worker.off('error', onError);
      worker.off('exit', onExit);
      signal?.removeEventListener('abort', onAbort);
      act();
    };
    const onMessage = (answer: Answer) => {
      if (answer.kind === 'progress') onProgress?.(answer.done, answer.of);
      else if (answer.kind === 'done') settle(() => resolve(answer.result));
      else settle(() => reject(new Error(`compute thread: ${answer.message}`)));
    };
    const onError = (error: Error) => settle(() => reject(new ThreadDied(`compute thread: ${error.message}`)));
    const onExit = (code: number) => settle(() => reject(new ThreadDied(`compute thread ended with code ${code}`)));
    const onAbort = () => settle(() => void worker.terminate().then(() => reject(signal?.reason as Error)));
    worker.on('message', onMessage);
    worker.on('error', onError);
    worker.on('exit', onExit);
    signal?.addEventListener('abort', onAbort);
    worker.postMessage(order);
  });
}
