import { doubtPace, metresToMiles, type OdometerEntry, type PaceDoubt } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { entryNow, type OdometersKnown } from '../register/index.ts';

const Usual = z.object({ id: z.string(), usual: z.number() });

/** Miles a day each of these vehicles drives as usual, as its forecast knows it; none of one that has no forecast. */
export async function usualPaces(em: EntityManager, vehicleIds: readonly string[]): Promise<Map<string, number>> {
  const rows = await rowsOf(
    em,
    Usual,
    `select vehicle_id as id, (detail->'milesPerDay'->>'mean')::float8 as usual from vehicle_forecast
     where vehicle_id = any(?::uuid[]) and detail->'milesPerDay'->>'mean' is not null`,
    [uuidArray(vehicleIds)],
  );
  return new Map(rows.map(({ id, usual }) => [id, usual]));
}

/** Doubts an odometer that runs ahead of the vehicle's own pace since the one before it. */
export function paceAmong(
  known: readonly OdometerEntry[],
  { date, metres }: OdometerEntry,
  usualPerDay: number | undefined,
): PaceDoubt | undefined {
  const before = known.filter((entry) => entry.date < date).at(-1);
  if (!before || !usualPerDay) return undefined;
  const since = { miles: metresToMiles(before.metres), date: before.date };
  return doubtPace(metresToMiles(metres), date, since, usualPerDay);
}

/** The same against the record. */
export async function paceOf(
  em: EntityManager,
  vehicleId: string,
  { date, odometerM }: { date: string; odometerM: number },
  { known, now }: OdometersKnown,
): Promise<PaceDoubt | undefined> {
  const entry = entryNow(now, vehicleId, { date, metres: odometerM });
  return paceAmong(known, entry, (await usualPaces(em, [vehicleId])).get(vehicleId));
}
