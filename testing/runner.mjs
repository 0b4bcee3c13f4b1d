/**
 * Runs Jest's test files in processes that keep what they have loaded, a few at a time. The package's own runner has one line
 * for all its processes: when two start, the answer to the first that asks goes to both and is then forgotten, and one that
 * asks later waits for ever (one run in six hung). Here each file has a line of its own, and a file that does not come back
 * is ended and has failed.
 */
import Tinypool from 'tinypool';

const HOW = new URL('./worker-runner.js', import.meta.resolve('jest-light-runner')).href;
/** What a process asks before its first file, and the name of the answer: the package's. */
const ASKED = 'jest-light-runner-get-worker-data';
const TOLD = 'jest-light-runner-worker-data';
const MOST_MS = Number(process.env.TEST_FILE_TIMEOUT_MS ?? 15 * 60_000);

const lineOf = (workerData) => {
  let send;
  return {
    onMessage: (listener) => (send = listener),
    postMessage: (message) => message === ASKED && send({ type: TOLD, workerData }),
  };
};

async function ranIn(pool, file, workerData) {
  const limit = AbortSignal.timeout(MOST_MS);
  try {
    return await pool.run(file, { channel: lineOf(workerData), signal: limit });
  } catch (cause) {
    if (!limit.aborted) throw cause;
    throw new Error(`It did not come back within ${MOST_MS / 1000} s, and its process was ended.`, { cause });
  }
}

export default class Runner {
  #global;

  constructor(globalConfig) {
    this.#global = globalConfig;
  }

  async runTests(tests, watcher, onStart, onResult, onFailure) {
    for (const projectConfig of new Set(tests.map((test) => test.context.config))) {
      const files = tests.filter((test) => test.context.config === projectConfig);
      const workers = Math.min(this.#global.maxWorkers, files.length);
      const workerData = { globalConfig: this.#global, projectConfig, runtime: 'child_process' };
      const pool = new Tinypool({
        filename: HOW,
        runtime: 'child_process',
        minThreads: workers,
        maxThreads: workers,
        env: process.env,
        trackUnmanagedFds: false,
        workerData,
      });
      const waiting = files.values();
      const takeNext = async () => {
        for (const test of waiting) {
          if (watcher.isInterrupted()) return;
          await onStart(test);
          await ranIn(pool, test.path, workerData).then(
            (result) => onResult(test, result),
            (error) => onFailure(test, error),
          );
        }
      };
      await Promise.all(Array.from({ length: workers }, takeNext));
      await pool.destroy();
    }
  }
}
