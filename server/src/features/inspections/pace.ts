import { doubtPace, metresToMiles, type OdometerEntry, type PaceDoubt } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { odometersOnRecord } from '../register/index.ts';

/** Miles a day a vehicle drives as usual, as its forecast knows it; undefined where it has none. */
export async function usualPace(em: EntityManager, vehicleId: string): Promise<number | undefined> {
  const [forecast] = await rowsOf(
    em,
    z.object({ usual: z.number().nullable() }),
    `select (detail->'milesPerDay'->>'mean')::float8 as usual from vehicle_forecast where vehicle_id = ?`,
    [vehicleId],
  );
  return forecast?.usual ?? undefined;
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
  date: string,
  odometerM: number,
): Promise<PaceDoubt | undefined> {
  const known = await odometersOnRecord(em, vehicleId);
  return paceAmong(known, { date, metres: odometerM }, await usualPace(em, vehicleId));
}
