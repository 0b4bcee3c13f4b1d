import { setImmediate } from 'node:timers/promises';

/** Who watches long work: may end it, and is told how far it is. */
export interface Watch {
  signal?: AbortSignal | undefined;
  /** So many more items are done. */
  onDone?: ((items: number) => void) | undefined;
}

/** Nobody else waits longer than about this for work that goes in turns, ms. */
const TURN_MS = 5;

/**
 * Works through items in the caller's thread and lets everybody else be answered in between.
 *
 * @throws whatever the signal was aborted with, and whatever the work throws
 */
export async function inTurns<T>(
  items: Iterable<T>,
  work: (item: T) => void,
  { signal, onDone }: Watch = {},
): Promise<void> {
  let begun = performance.now();
  let done = 0;
  for (const item of items) {
    work(item);
    done += 1;
    if (performance.now() - begun < TURN_MS) continue;
    onDone?.(done);
    await setImmediate();
    signal?.throwIfAborted();
    [begun, done] = [performance.now(), 0];
  }
  onDone?.(done);
  signal?.throwIfAborted();
}
