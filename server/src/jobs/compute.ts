import { cpus } from 'node:os';
import { Worker } from 'node:worker_threads';
import {
  forecastVehicle,
  foretell,
  groupEvidence,
  handEvidence,
  type Foretold,
  type GroupEvidence,
  type HandEvidence,
  type RiskPolicy,
  type VehicleForecast,
  type VehicleInput,
} from '@mile-mark/core';

/** A piece of work for a thread. */
export type Task =
  | { kind: 'forecast'; inputs: { input: VehicleInput; policy: RiskPolicy }[] }
  | { kind: 'evidence'; inputs: { input: VehicleInput; groups: Record<number, string> }[] }
  | { kind: 'hands'; inputs: VehicleInput[] }
  | { kind: 'foretell'; inputs: VehicleInput[] };
export type TaskResult =
  | { forecasts: VehicleForecast[] }
  | { evidence: GroupEvidence[] }
  | { hands: HandEvidence[] }
  | { foretold: Foretold[][] };

/** Does one piece of work; called in a thread, or directly where a thread would cost more than it saves. */
export function work(task: Task): TaskResult {
  if (task.kind === 'forecast')
    return { forecasts: task.inputs.map(({ input, policy }) => forecastVehicle(input, policy)) };
  if (task.kind === 'foretell') return { foretold: task.inputs.map(foretell) };
  if (task.kind === 'hands') return { hands: task.inputs.map(handEvidence) };
  return { evidence: task.inputs.flatMap(({ input, groups }) => groupEvidence(input, (axle) => groups[axle] ?? '')) };
}

/** Fewer vehicles than this are computed where they are. */
const WORTH_A_THREAD = 4;
const CHUNK = 25;

/**
 * Threads that compute, so that the server keeps answering meanwhile. Inputs are made from items as their turn comes:
 * those of a large fleet are never all in memory at once. Results are in the order of the items.
 */
export interface Computer {
  forecasts<T>(
    items: readonly T[],
    inputOf: (item: T) => { input: VehicleInput; policy: RiskPolicy },
  ): Promise<VehicleForecast[]>;
  evidence<T>(
    items: readonly T[],
    inputOf: (item: T) => { input: VehicleInput; groups: Record<number, string> },
  ): Promise<GroupEvidence[]>;
  /** What each vehicle says of the hands that measured it. */
  hands<T>(items: readonly T[], inputOf: (item: T) => VehicleInput): Promise<HandEvidence[]>;
  /** Every reading of each vehicle foretold from those before it. */
  foretell<T>(items: readonly T[], inputOf: (item: T) => VehicleInput): Promise<Foretold[][]>;
  close(): Promise<void>;
}

/**
 * @param threads number of worker threads; 0 computes in the caller's thread (tests run from TypeScript sources)
 * @param script what a thread runs
 */
export function createComputer(
  threads: number = Math.max(1, Math.min(4, cpus().length)),
  script = new URL('./computeWorker.js', import.meta.url),
): Computer {
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
  const acquire = (): Promise<Worker> => {
    const free = idle.pop();
    if (free) return Promise.resolve(free);
    if (workers.length < threads) return Promise.resolve(start());
    return new Promise((resolve) => waiting.push(resolve));
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
  const run = async (task: Task): Promise<TaskResult> => {
    if (threads === 0 || task.inputs.length < WORTH_A_THREAD) return work(task);
    const worker = await acquire();
    try {
      const result = await ask(worker, task);
      release(worker);
      return result;
    } catch (error) {
      if (error instanceof ThreadDied) forget(worker);
      else release(worker);
      throw error;
    }
  };
  /** Takes chunk after chunk, no more under way than threads can do and one waiting. */
  const inChunks = async <T, R>(items: readonly T[], each: (part: readonly T[]) => Promise<R[]>): Promise<R[]> => {
    const results: R[][] = [];
    let next = 0;
    const lane = async () => {
      while (next * CHUNK < items.length) {
        const own = next;
        next += 1;
        results[own] = await each(items.slice(own * CHUNK, (own + 1) * CHUNK));
      }
    };
    await Promise.all(Array.from({ length: threads + 1 }, lane));
    return results.flat();
  };
  return {
    forecasts: (items, inputOf) =>
      inChunks(items, async (part) => {
        const result = await run({ kind: 'forecast', inputs: part.map(inputOf) });
        return (result as { forecasts: VehicleForecast[] }).forecasts;
      }),
    evidence: (items, inputOf) =>
      inChunks(items, async (part) => {
        const result = await run({ kind: 'evidence', inputs: part.map(inputOf) });
        return (result as { evidence: GroupEvidence[] }).evidence;
      }),
    hands: (items, inputOf) =>
      inChunks(items, async (part) => {
        const result = await run({ kind: 'hands', inputs: part.map(inputOf) });
        return (result as { hands: HandEvidence[] }).hands;
      }),
    foretell: (items, inputOf) =>
      inChunks(items, async (part) => {
        const result = await run({ kind: 'foretell', inputs: part.map(inputOf) });
        return (result as { foretold: Foretold[][] }).foretold;
      }),
    close: async () => {
      closed = true;
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}

/** What a thread answers: a failure comes back as a value, a thrown error would lose its class. */
export type Answer = { ok: true; result: TaskResult } | { ok: false; message: string };

/** The thread itself ended, for want of memory as a rule; its work is lost and may be asked of another. */
class ThreadDied extends Error {}

function ask(worker: Worker, task: Task): Promise<TaskResult> {
  return new Promise((resolve, reject) => {
    const settle = (act: () => void) => {
      worker.off('message', onMessage);
      worker.off('error', onError);
      worker.off('exit', onExit);
      act();
    };
    const onMessage = (answer: Answer) =>
      settle(() => (answer.ok ? resolve(answer.result) : reject(new Error(`forecast thread: ${answer.message}`))));
    const onError = (error: Error) => settle(() => reject(new ThreadDied(`forecast thread: ${error.message}`)));
    const onExit = (code: number) => settle(() => reject(new ThreadDied(`forecast thread ended with code ${code}`)));
    worker.on('message', onMessage);
    worker.on('error', onError);
    worker.on('exit', onExit);
    worker.postMessage(task);
  });
}
