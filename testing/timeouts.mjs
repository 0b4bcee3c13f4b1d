/** A test or hook that does not end is one that failed: the runner itself would wait for ever. */
import { addEventHandler } from 'jest-circus';

const MOST_MS = Number(process.env.TEST_TIMEOUT_MS ?? 60_000);
/** The process's own clock, also where a test has set another. */
const { setTimeout, clearTimeout } = globalThis;

function within(run, ms) {
  return async () => {
    let timer;
    const late = new Promise((_resolve, reject) => {
      timer = setTimeout(() => reject(new Error(`It did not end within ${ms / 1000} s.`)), ms);
    });
    try {
      return await Promise.race([run(), late]);
    } finally {
      clearTimeout(timer);
    }
  };
}

export default function limitTime() {
  addEventHandler((event, { currentDescribeBlock }) => {
    const made = { add_test: currentDescribeBlock?.children, add_hook: currentDescribeBlock?.hooks }[event.name]?.at(
      -1,
    );
    if (made && made.fn.length === 0) made.fn = within(made.fn, event.timeout ?? MOST_MS);
  });
}
