import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { EventBus } from '../../platform/events/bus.ts';
import type { AnyJob, JobKind, Jobs } from '../../platform/jobs/registry.ts';
import { FeedPage, noteFeedFailure, takeFeedPage } from './commands.ts';
import { feedCursor } from './queries.ts';

const PAGE = 500;
const TIMEOUT_MS = 10_000;
/** No more pages than this in one go; the next poll goes on from there. */
const MOST_PAGES = 400;
const EVERY_QUARTER = '*/15 * * * *';

const POLL_FEED: JobKind<object> = { name: 'poll-feed', schema: z.object({}), key: () => 'feed' };

/** Asks for the feed to be read now, where there is one. */
export const askForFeed = (jobs: Pick<Jobs, 'ask'>): Promise<boolean> => jobs.ask(POLL_FEED, {});

/** The job that reads the feed; where none is configured it does nothing. */
export function feedJob(fork: () => EntityManager, events: EventBus, feedUrl: string | undefined): AnyJob {
  return {
    ...POLL_FEED,
    retry: 0,
    schedule: feedUrl ? { cron: EVERY_QUARTER, data: {} } : undefined,
    run: async () => {
      if (feedUrl) await pollFeed(fork, events, feedUrl);
    },
  };
}

/**
 * Reads the telematics service from where it was read last, page after page, until nothing new comes; whoever
 * subscribed is told what was driven. A failure is noted and leaves the cursor where it was.
 *
 * @throws Error where a page that was read can't be taken in: that is no fault of the service
 */
export async function pollFeed(fork: () => EntityManager, events: EventBus, feedUrl: string): Promise<void> {
  for (let page = 0; page < MOST_PAGES; page += 1) {
    const cursor = await feedCursor(fork());
    const answer = await pageAfter(feedUrl, cursor).catch(async (error: unknown) => {
      await noteFeedFailure(fork(), error instanceof Error ? error.message : String(error));
    });
    if (!answer) break;
    try {
      await takeFeedPage(fork(), events, answer, cursor);
    } catch (error) {
      await noteFeedFailure(fork(), 'What the feed sent could not be entered; the log says why.');
      throw error;
    }
    if (answer.days.length === 0) break;
  }
  await events.deliver();
}

async function pageAfter(feedUrl: string, cursor: string) {
  const url = new URL('/days', feedUrl);
  url.searchParams.set('after', cursor);
  url.searchParams.set('limit', String(PAGE));
  const response = await fetch(url, { signal: AbortSignal.timeout(TIMEOUT_MS) });
  if (!response.ok) throw new Error(`the feed answered ${response.status}`);
  return FeedPage.parse(await response.json());
}
