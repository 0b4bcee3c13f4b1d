import { FeedView } from '@mile-mark/contract/telematics';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';

export async function feedCursor(em: EntityManager): Promise<string> {
  const [state] = await rowsOf(em, z.object({ cursor: z.string().nullable() }), 'select cursor from feed_state');
  return state?.cursor ?? '';
}

/** How the feed stands: when it was read, whom it hears, what could not be believed. */
export async function feedView(em: EntityManager, connected: boolean): Promise<FeedView> {
  const [state] = await rowsOf(
    em,
    z.object({ polled_at: z.string().nullable(), failed_at: z.string().nullable(), failure: z.string().nullable() }),
    'select polled_at::text, failed_at::text, failure from feed_state',
  );
  const vehicles = await rowsOf(
    em,
    FeedView.shape.vehicles.element,
    `select v.unit, max(f.day)::text as "lastDay", count(*)::int as days from feed_day f join vehicle v on v.id = f.vehicle_id
     where f.fault is null or f.fault = 'gap' group by v.unit order by v.unit`,
  );
  const faults = await rowsOf(
    em,
    FeedView.shape.faults.element,
    `select id, unit, day::text, fault, fault_note as note from feed_day where fault is not null order by day desc, unit limit 200`,
  );
  return {
    connected,
    polledAt: state?.polled_at ?? null,
    failedAt: state?.failed_at ?? null,
    failure: state?.failure ?? null,
    vehicles,
    faults,
  };
}
