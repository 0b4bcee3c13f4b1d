import { telematicsFeed } from '@mile-mark/standins';
import type { EntityManager } from '../platform/db/orm.ts';
import { DEMO_TODAY, DUTIES } from './cast.ts';
import { demoFeedVehicles } from './feedVehicles.ts';
import { UNSTATED } from './fill.ts';
import { idOf } from './rows.ts';

const FEED_SEED = 77;
const FEED_FROM = '2026-08-24';
/** Every third vehicle carries a recorder; not the one whose new route nobody wrote down. */
const EVERY = 3;

/** Starts the stand-in of a telematics service for the demo fleet, on loopback; returns where it is. */
export async function startDemoFeed(em: EntityManager): Promise<string> {
  const vehicles = await demoFeedVehicles(em);
  const dutyById = new Map(DUTIES.map((duty) => [idOf('duty', duty.name), duty]));
  const { url } = await telematicsFeed({
    seed: FEED_SEED,
    from: FEED_FROM,
    through: DEMO_TODAY,
    vehicles: vehicles.flatMap(({ unit, points, dutyId, tareKg, gvwrKg }, index) => {
      const stated = dutyById.get(dutyId);
      if (!stated || index % EVERY !== 1 || UNSTATED[unit]) return [];
      const { stopsPerMile, mphBeforeStop, descentMPerMile, payloadShare, towedKg } = stated;
      const massKg = tareKg + payloadShare * (gvwrKg - tareKg) + towedKg;
      return [{ unit, points, massKg, stopsPerMile, mphBeforeStop, descentMPerMile }];
    }),
  });
  return url;
}
