import type { OdometerEntry } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { groupBy } from '../../platform/groupBy.ts';

/**
 * An expression of SQL: metres that were shown on a day, as the vehicle's instrument of today would have shown them. Days
 * of different instruments can be held against each other by it.
 */
export const onInstrumentNow = (vehicle: string, day: string, metres: string): string =>
  `(${metres} - coalesce((select sum(c.old_m - c.new_m) from instrument_change c
    where c.vehicle_id = ${vehicle} and c.withdrawn_at is null and c.replaced_on > ${day}), 0)::integer)`;

/** The same of figures at hand. */
export type OnInstrumentNow = (vehicleId: string, day: string, metres: number) => number;

/** How far the instruments of these vehicles were off what the present one shows; few have had two. */
export async function instrumentsOf(
  em: EntityManager,
  vehicleIds: readonly string[] | 'all',
): Promise<OnInstrumentNow> {
  const { whose, params } = whoseOf(vehicleIds);
  return onInstrumentOf(await rowsOf(em, InstrumentStep, instrumentSteps(whose), params));
}

/** How far an instrument was off the one that came after it, metres, and the day it was replaced. */
export const InstrumentStep = z.object({ id: z.string(), on: z.string(), step: z.number() });
export const instrumentSteps = (whose: Whose): string => `
  select vehicle_id as id, replaced_on::text as "on", old_m - new_m as step from instrument_change
  where withdrawn_at is null and ${whose('vehicle_id')} order by vehicle_id, replaced_on, id`;

/** A condition on a column that names a vehicle. */
export type Whose = (column: string) => string;

/** Vehicles as a condition, with its parameters. */
export function whoseOf(ids: readonly string[] | 'all'): { whose: Whose; params: string[] } {
  if (ids === 'all') return { whose: () => 'true', params: [] };
  return { whose: (column) => `${column} = any(?::uuid[])`, params: [uuidArray(ids)] };
}

/** The same from steps at hand. */
export function onInstrumentOf(found: readonly z.output<typeof InstrumentStep>[]): OnInstrumentNow {
  const steps = groupBy(found, ({ id }) => id);
  return (vehicleId, day, metres) =>
    (steps.get(vehicleId) ?? []).reduce((sum, { on, step }) => (on > day ? sum - step : sum), metres);
}

/** An entry of a day as the instrument of today would have shown it. */
export function entryNow(now: OnInstrumentNow, vehicleId: string, { date, metres }: OdometerEntry): OdometerEntry {
  return { date, metres: now(vehicleId, date, metres) };
}
