import type { EntityManager } from '../db/orm.ts';
import { FeedPage, feedCursor, noteFeedFailure, takeFeedPage } from '../services/feed.ts';

const PAGE = 500;
const TIMEOUT_MS = 10_000;
/** No more pages than this in one go; the next poll goes on from there. */
const MOST_PAGES = 400;

/**
 * Reads the telematics service from where it was read last, page after page, until nothing new comes.
 *
 * @returns the vehicles whose odometer or duty is new; a failure is noted and leaves the cursor where it was
 */
export async function pollFeed(fork: () => EntityManager, feedUrl: string): Promise<string[]> {
  const changed = new Set<string>();
  try {
    for (let page = 0; page < MOST_PAGES; page += 1) {
      const cursor = await feedCursor(fork());
      const url = new URL('/days', feedUrl);
      url.searchParams.set('after', cursor);
      url.searchParams.set('limit', String(PAGE));
      const response = await fetch(url, { signal: AbortSignal.timeout(TIMEOUT_MS) });
      if (!response.ok) throw new Error(`the feed answered ${response.status}`);
      const answer = FeedPage.parse(await response.json());
      for (const id of await takeFeedPage(fork(), answer, cursor)) changed.add(id);
      if (answer.days.length === 0) break;
    }
  } catch (error) {
    await noteFeedFailure(fork(), error instanceof Error ? error.message : String(error));
  }
  return [...changed];
}
