import { z } from 'zod';
import { milesDriven } from '../../events.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { EventBus } from '../../platform/events/bus.ts';
import { measureDuties } from './measureDuty.ts';
import { FEED_PERSON, takeDays } from './takeDays.ts';

export const FeedPage = z.object({ days: z.array(z.unknown()).max(5000), next: z.string().max(200) });

/**
 * Takes in one page of driven days and moves the cursor, in one transaction: a repeat of the page adds nothing. What
 * can't be so (an odometer that falls or leaps, a day twice, a unit nobody knows) is kept as a fault and not believed.
 */
export async function takeFeedPage(
  em: EntityManager,
  events: EventBus,
  page: z.output<typeof FeedPage>,
  after: string,
): Promise<void> {
  await em.transactional(async (inner) => {
    await inner.execute('insert into feed_state (only_one) values (true) on conflict do nothing');
    const [state] = await rowsOf(
      inner,
      z.object({ cursor: z.string().nullable() }),
      'select cursor from feed_state for update',
    );
    if ((state?.cursor ?? '') !== after) return; // somebody else has taken this page meanwhile
    await inner.execute(
      `insert into person (id, name, role) values (?, 'Telematics feed', 'viewer') on conflict (id) do nothing`,
      [FEED_PERSON],
    );
    const changed = await takeDays(inner, page.days);
    if (changed.length > 0) {
      await measureDuties(inner, changed);
      await events.emit(inner, milesDriven({ vehicleIds: changed }));
    }
    await inner.execute('update feed_state set cursor = ?, polled_at = now(), failed_at = null, failure = null', [
      page.next,
    ]);
  });
}

/** Says that the feed could not be read; what came before stays. */
export async function noteFeedFailure(em: EntityManager, failure: string): Promise<void> {
  await em.execute(
    `insert into feed_state (failed_at, failure) values (now(), ?)
     on conflict (only_one) do update set failed_at = now(), failure = excluded.failure`,
    [failure.slice(0, 500)],
  );
}
