import type { Watch } from '../inTurns.ts';

/** Rows written with one statement. */
const CHUNK = 500;

/**
 * Writes rows a chunk at a time, so that no statement is too long, others are answered in between, and whoever watches
 * can tell how far it is and end it.
 *
 * @throws whatever the signal was aborted with
 */
export async function inChunks<T>(
  rows: readonly T[],
  { signal, onDone }: Watch,
  write: (chunk: T[]) => Promise<unknown>,
): Promise<void> {
  for (let from = 0; from < rows.length; from += CHUNK) {
    signal?.throwIfAborted();
    const chunk = rows.slice(from, from + CHUNK);
    await write(chunk);
    onDone?.(chunk.length);
  }
}
