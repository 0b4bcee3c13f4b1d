import { dateOfDay, dayNumber, type DrivenDay, dutyOfDays } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { MeasuredDutyEntity } from './entities.ts';

/** Days of one block of measured duty, and how many of them must be there to count. */
const BLOCK_DAYS = 28;
const LEAST_DAYS = 8;

/** Sums a vehicle's days up to duties by blocks of four weeks. */
export async function measureDuty(em: EntityManager, vehicleId: string): Promise<void> {
  const days = await rowsOf(
    em,
    z.object({ day: z.string(), detail: z.custom<DrivenDay>() }),
    `select day::text, detail from feed_day where vehicle_id = ? and (fault is null or fault = 'gap') order by day`,
    [vehicleId],
  );
  const [masses] = await rowsOf(
    em,
    z.object({ tareKg: z.number(), gvwrKg: z.number() }),
    `select m.tare_kg as "tareKg", m.gvwr_kg as "gvwrKg" from vehicle v join model m on m.id = v.model_id where v.id = ?`,
    [vehicleId],
  );
  const stated = await rowsOf(
    em,
    z.object({ from: z.string(), retarderShare: z.number(), towedKg: z.number() }),
    `select p.from_date::text as "from", d.retarder_share as "retarderShare", d.towed_kg as "towedKg"
     from duty_period p join duty d on d.id = p.duty_id where p.vehicle_id = ? order by p.from_date`,
    [vehicleId],
  );
  if (!masses) return;
  const blocks = new Map<number, typeof days>();
  for (const day of days) {
    const block = Math.floor(dayNumber(day.day) / BLOCK_DAYS);
    blocks.set(block, [...(blocks.get(block) ?? []), day]);
  }
  for (const [block, own] of blocks) {
    if (own.length < LEAST_DAYS) continue;
    const [from, to] = [dateOfDay(block * BLOCK_DAYS), dateOfDay((block + 1) * BLOCK_DAYS)];
    const unseen = stated.filter((one) => one.from < to).at(-1) ?? { retarderShare: 0, towedKg: 0 };
    const details = own.map(({ detail }) => detail);
    const duty = dutyOfDays(details, masses, unseen);
    if (!duty) continue;
    const miles = details.reduce((sum, one) => sum + one.miles, 0);
    await em.upsert(MeasuredDutyEntity, { vehicleId, fromDate: from, toDate: to, days: own.length, miles, duty });
  }
}
