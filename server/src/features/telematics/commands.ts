import { LockMode } from '@mikro-orm/core';
import { dayNumber, metresToMiles, milesToMetres } from '@mile-mark/core';
import { z } from 'zod';
import { milesDriven } from '../../events.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { EventBus } from '../../platform/events/bus.ts';
import { instrumentsOf, normaliseUnit, OdometerEntity, onInstrumentNow, VehicleEntity } from '../register/index.ts';
import { FeedDayEntity } from './entities.ts';
import { measureDuty } from './measureDuty.ts';

/** A day as a telematics service tells it; what lies outside these bounds is no day of a road vehicle. */
const Day = z.object({
  unit: z.string().min(1).max(40),
  day: z.iso.date(),
  odometerMi: z.number().min(0).max(3_000_000),
  miles: z.number().min(0).max(1500),
  stops: z.int().min(0).max(5000),
  stopMph: z.number().min(0).max(100),
  slowdowns: z.int().min(0).max(10_000).default(0),
  slowdownFromMph: z.number().min(0).max(100).default(0),
  slowdownToMph: z.number().min(0).max(100).default(0),
  massKg: z.number().min(200).max(80_000),
  descentM: z.number().min(0).max(20_000),
  longestDescentM: z.number().min(0).max(5000).default(0),
});
type Day = z.output<typeof Day>;

export const FeedPage = z.object({ days: z.array(z.unknown()).max(5000), next: z.string().max(200) });

type Fault = 'falls' | 'leaps' | 'twice' | 'gap' | 'unknown' | 'unreadable';

/** Who stands behind an odometer that came without typing. */
const FEED_PERSON = '00000000-0000-4000-8000-00000000feed';
/** An odometer is taken from the feed no more often than this, days. */
const ODOMETER_EVERY_DAYS = 7;
/** More than this in a day is no driving, miles. */
const MOST_MILES_A_DAY = 1200;
/** Silent for longer than this is told, days. */
const GAP_DAYS = 7;

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
  const changed = new Set<string>();
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
    for (const raw of page.days) {
      const parsed = Day.safeParse(raw);
      if (!parsed.success) {
        await keepFault(inner, null, raw, 'unreadable', unreadable(raw, parsed.error.issues[0]?.path ?? []));
        continue;
      }
      const id = await takeDay(inner, parsed.data);
      if (id) changed.add(id);
    }
    for (const id of changed) await measureDuty(inner, id);
    if (changed.size > 0) await events.emit(inner, milesDriven({ vehicleIds: [...changed] }));
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

/** Says which figure of a line is none that a day can have. */
function unreadable(raw: unknown, path: readonly PropertyKey[]): string {
  const field = path.map(String).join('.');
  const value = z.record(z.string(), z.unknown()).safeParse(raw);
  if (!value.success || field === '') return 'The line is no record of a day.';
  const said = JSON.stringify(value.data[field]) as string | undefined;
  return said === undefined ? `${field} is missing.` : `${field}: ${said} is none that a day can have.`;
}

async function keepFault(
  em: EntityManager,
  vehicleId: string | null,
  raw: unknown,
  fault: Fault,
  note: string,
): Promise<void> {
  const record = z
    .object({ unit: z.string().catch('?'), day: z.iso.date().catch('1970-01-01') })
    .catch({ unit: '?', day: '1970-01-01' });
  const { unit, day } = record.parse(raw);
  const kept = { id: crypto.randomUUID(), vehicleId, unit: unit.slice(0, 40), day, detail: raw };
  await em.insert(FeedDayEntity, { ...kept, fault, faultNote: note.slice(0, MOST_NOTE), receivedAt: new Date() });
}

/** Most characters of a note that are kept. */
const MOST_NOTE = 500;
/** Days that count: without a fault, or with a silence before them. */
const COUNTING = { $or: [{ fault: null }, { fault: 'gap' }] };

/** @returns the vehicle whose record the day changed */
async function takeDay(em: EntityManager, day: Day): Promise<string | undefined> {
  const unit = normaliseUnit(day.unit);
  const vehicle = await em.findOne(VehicleEntity, { unit }, { lockMode: LockMode.PESSIMISTIC_WRITE });
  if (!vehicle) {
    await keepFault(em, null, day, 'unknown', `There is no vehicle ${unit} on record.`);
    return undefined;
  }
  const vehicleId = vehicle.id;
  const doubt = (await twiceDoubt(em, vehicleId, day)) ?? (await odometerDoubt(em, vehicleId, day));
  if (doubt) {
    await keepFault(em, vehicleId, day, doubt.fault, doubt.note);
    return undefined;
  }
  const odometerM = Math.round(milesToMetres(day.odometerMi));
  const gap = await silenceBefore(em, vehicleId, day);
  const kept = { id: crypto.randomUUID(), vehicleId, unit, day: day.day, odometerM, detail: day };
  await em.insert(FeedDayEntity, { ...kept, ...gap, receivedAt: new Date() });
  await keepOdometer(em, vehicleId, day.day, odometerM);
  return vehicleId;
}

/** Whether the same day came before. */
async function twiceDoubt(em: EntityManager, vehicleId: string, day: Day): Promise<Doubt | undefined> {
  const there = await em.findOne(FeedDayEntity, { vehicleId, day: day.day, ...COUNTING });
  if (!there) return undefined;
  const { odometerMi, stops } = there.detail as Day;
  const same = odometerMi === day.odometerMi && stops === day.stops;
  const note = same ? 'The same day again.' : 'The same day again with other figures; the first is kept.';
  return { fault: 'twice', note };
}

/** A silence before the day, where it was long enough to be told. */
async function silenceBefore(
  em: EntityManager,
  vehicleId: string,
  { day }: Day,
): Promise<{ fault: string; faultNote: string } | undefined> {
  const newestFirst = { orderBy: { day: 'desc' }, limit: 1 } as const;
  const [last] = await em.find(FeedDayEntity, { vehicleId, ...COUNTING }, newestFirst);
  const silent = last ? dayNumber(day) - dayNumber(last.day) : 0;
  if (silent <= GAP_DAYS) return undefined;
  const faultNote = `Silent for ${silent - 1} days before; its miles count, its stops of those days are not known.`;
  return { fault: 'gap', faultNote };
}

/** Takes an odometer from the feed now and then. */
async function keepOdometer(em: EntityManager, vehicleId: string, readOn: string, odometerM: number): Promise<void> {
  const source = 'telematics';
  const newestFirst = { orderBy: { readOn: 'desc' }, limit: 1 } as const;
  const [last] = await em.find(OdometerEntity, { vehicleId, source }, newestFirst);
  if (last && dayNumber(readOn) - dayNumber(last.readOn) < ODOMETER_EVERY_DAYS) return;
  const entered = { enteredBy: FEED_PERSON, enteredAt: new Date() };
  await em.insert(OdometerEntity, { id: crypto.randomUUID(), vehicleId, readOn, odometerM, source, ...entered });
}

interface Doubt {
  fault: Fault;
  note: string;
}

/** Whether an odometer can be so, against the nearest ones known before and after its day. */
async function odometerDoubt(em: EntityManager, id: string, day: Day): Promise<Doubt | undefined> {
  const [near] = await rowsOf(
    em,
    z.object({ before_m: z.number().nullable(), before_on: z.string().nullable(), after_m: z.number().nullable() }),
    `with shown as (
       select read_on as day, odometer_m from odometer where vehicle_id = ?
       union all select measured_on, odometer_m from live_inspection where vehicle_id = ?
       union all select fitted_on, odometer_m from service where vehicle_id = ?
       union all select day, odometer_m from feed_day where vehicle_id = ? and (fault is null or fault = 'gap')),
     known as (select day, ${onInstrumentNow('?::uuid', 'day', 'odometer_m')} as odometer_m from shown)
     select (select max(odometer_m) from known where day <= ?::date) as before_m,
       (select max(day)::text from known where day <= ?::date) as before_on,
       (select min(odometer_m) from known where day > ?::date) as after_m`,
    [id, id, id, id, id, day.day, day.day, day.day],
  );
  const mi = (metres: number) => Math.round(metresToMiles(metres)).toLocaleString('en-US');
  const now = await instrumentsOf(em, [id]);
  const here = now(id, day.day, milesToMetres(day.odometerMi));
  const slack = 1700; // metres: what rounding to a mile leaves
  if (near?.before_m != null && here < near.before_m - slack)
    return {
      fault: 'falls',
      note: `${Math.round(day.odometerMi).toLocaleString('en-US')} mi after ${mi(near.before_m)} mi: an odometer does not fall.`,
    };
  const most =
    near?.before_m != null && near.before_on
      ? near.before_m + milesToMetres(MOST_MILES_A_DAY * Math.max(1, dayNumber(day.day) - dayNumber(near.before_on)))
      : Infinity;
  if (here > most)
    return { fault: 'leaps', note: `More than ${MOST_MILES_A_DAY} mi a day since ${mi(near?.before_m ?? 0)} mi.` };
  if (near?.after_m != null && here > near.after_m + slack)
    return { fault: 'leaps', note: `Ahead of ${mi(near.after_m)} mi, which was read on a later day.` };
  if (near?.before_m != null && here < near.before_m) day.odometerMi = metresToMiles(near.before_m);
  return undefined;
}
