import { dateOfDay, dayNumber, type DrivenDay, dutyOfDays } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { groupBy } from '../../platform/groupBy.ts';
import { MeasuredDutyEntity } from './entities.ts';

/** Days of one block of measured duty, and how many of them must be there to count. */
const BLOCK_DAYS = 28;
const LEAST_DAYS = 8;
/** So many vehicles' days are held at once. */
const AT_ONCE = 40;

const Masses = z.object({ id: z.string(), tareKg: z.number(), gvwrKg: z.number() });
type Masses = z.output<typeof Masses>;
const Stated = z.object({ id: z.string(), from: z.string(), retarderShare: z.number(), towedKg: z.number() });
type Stated = z.output<typeof Stated>;
const Driven = z.object({ id: z.string(), day: z.string(), detail: z.custom<DrivenDay>() });
type Driven = z.output<typeof Driven>;

/** Sums vehicles' days up to duties by blocks of four weeks. */
export async function measureDuties(em: EntityManager, vehicleIds: readonly string[]): Promise<void> {
  for (let at = 0; at < vehicleIds.length; at += AT_ONCE) {
    const of = [uuidArray(vehicleIds.slice(at, at + AT_ONCE))];
    const days = await rowsOf(
      em,
      Driven,
      `select vehicle_id as id, day::text, detail from feed_day
       where vehicle_id = any(?::uuid[]) and (fault is null or fault = 'gap') order by vehicle_id, day`,
      of,
    );
    const masses = await rowsOf(
      em,
      Masses,
      `select v.id, m.tare_kg as "tareKg", m.gvwr_kg as "gvwrKg" from vehicle v join model m on m.id = v.model_id
       where v.id = any(?::uuid[])`,
      of,
    );
    const stated = await rowsOf(
      em,
      Stated,
      `select p.vehicle_id as id, p.from_date::text as "from", d.retarder_share as "retarderShare", d.towed_kg as "towedKg"
       from duty_period p join duty d on d.id = p.duty_id where p.vehicle_id = any(?::uuid[]) order by p.from_date`,
      of,
    );
    const statedBy = groupBy(stated, ({ id }) => id);
    const daysBy = groupBy(days, ({ id }) => id);
    const blocks = masses.flatMap((own) => blocksOf(own, daysBy.get(own.id) ?? [], statedBy.get(own.id) ?? []));
    if (blocks.length > 0) await em.upsertMany(MeasuredDutyEntity, blocks);
  }
}

/** A vehicle's blocks that have enough days, each as a duty. */
function blocksOf(masses: Masses, days: readonly Driven[], stated: readonly Stated[]) {
  const blocks = groupBy(days, ({ day }) => Math.floor(dayNumber(day) / BLOCK_DAYS));
  return [...blocks].flatMap(([block, own]) => {
    if (own.length < LEAST_DAYS) return [];
    const [fromDate, toDate] = [dateOfDay(block * BLOCK_DAYS), dateOfDay((block + 1) * BLOCK_DAYS)];
    const unseen = stated.filter(({ from }) => from < toDate).at(-1) ?? { retarderShare: 0, towedKg: 0 };
    const details = own.map(({ detail }) => detail);
    const duty = dutyOfDays(details, masses, unseen);
    if (!duty) return [];
    const miles = details.reduce((sum, one) => sum + one.miles, 0);
    return [{ vehicleId: masses.id, fromDate, toDate, days: own.length, miles, duty }];
  });
}
