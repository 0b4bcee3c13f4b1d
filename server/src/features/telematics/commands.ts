import { z } from 'zod';
import { dayNumber, metresToMiles, milesToMetres } from '@mile-mark/core';
import { milesDriven } from '../../events.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { EventBus } from '../../platform/events/bus.ts';
import { normaliseUnit } from '../register/index.ts';
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
    const [state] = await inner.execute<{ cursor: string | null }[]>('select cursor from feed_state for update');
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
  await em.execute(
    'insert into feed_day (id, vehicle_id, unit, day, detail, fault, fault_note) values (?, ?, ?, ?::date, ?::jsonb, ?, ?)',
    [crypto.randomUUID(), vehicleId, unit.slice(0, 40), day, JSON.stringify(raw), fault, note.slice(0, 500)],
  );
}

/** @returns the vehicle whose record the day changed */
async function takeDay(em: EntityManager, day: Day): Promise<string | undefined> {
  const unit = normaliseUnit(day.unit);
  const [vehicle] = await em.execute<{ id: string }[]>('select id from vehicle where unit = ? for update', [unit]);
  if (!vehicle) {
    await keepFault(em, null, day, 'unknown', `There is no vehicle ${unit} on record.`);
    return undefined;
  }
  const [there] = await em.execute<{ detail: Day }[]>(
    `select detail from feed_day where vehicle_id = ? and day = ?::date and (fault is null or fault = 'gap')`,
    [vehicle.id, day.day],
  );
  if (there) {
    const same = there.detail.odometerMi === day.odometerMi && there.detail.stops === day.stops;
    await keepFault(
      em,
      vehicle.id,
      day,
      'twice',
      same ? 'The same day again.' : 'The same day again with other figures; the first is kept.',
    );
    return undefined;
  }
  const doubt = await odometerDoubt(em, vehicle.id, day);
  if (doubt) {
    await keepFault(em, vehicle.id, day, doubt.fault, doubt.note);
    return undefined;
  }
  const [last] = await em.execute<{ day: string; odometer_on: string | null }[]>(
    `select max(day)::text as day, (select max(read_on)::text from odometer where vehicle_id = ? and source = 'telematics') as odometer_on
     from feed_day where vehicle_id = ? and (fault is null or fault = 'gap')`,
    [vehicle.id, vehicle.id],
  );
  const silent = last?.day ? dayNumber(day.day) - dayNumber(last.day) : 0;
  const odometerM = Math.round(milesToMetres(day.odometerMi));
  await em.execute(
    'insert into feed_day (id, vehicle_id, unit, day, odometer_m, detail, fault, fault_note) values (?, ?, ?, ?::date, ?, ?::jsonb, ?, ?)',
    [
      crypto.randomUUID(),
      vehicle.id,
      unit,
      day.day,
      odometerM,
      JSON.stringify(day),
      silent > GAP_DAYS ? 'gap' : null,
      silent > GAP_DAYS
        ? `Silent for ${silent - 1} days before; its miles count, its stops of those days are not known.`
        : null,
    ],
  );
  if (!last?.odometer_on || dayNumber(day.day) - dayNumber(last.odometer_on) >= ODOMETER_EVERY_DAYS)
    await em.execute(
      `insert into odometer (id, vehicle_id, read_on, odometer_m, source, entered_by, entered_at) values (?, ?, ?::date, ?, 'telematics', ?, now())`,
      [crypto.randomUUID(), vehicle.id, day.day, odometerM, FEED_PERSON],
    );
  return vehicle.id;
}

/** Whether an odometer can be so, against the nearest ones known before and after its day. */
async function odometerDoubt(
  em: EntityManager,
  id: string,
  day: Day,
): Promise<{ fault: Fault; note: string } | undefined> {
  const [near] = await em.execute<{ before_m: number | null; before_on: string | null; after_m: number | null }[]>(
    `with known as (
       select read_on as day, odometer_m from odometer where vehicle_id = ?
       union all select measured_on, odometer_m from inspection i where vehicle_id = ?
         and not exists (select 1 from inspection later where later.supersedes_id = i.id)
       union all select fitted_on, odometer_m from service where vehicle_id = ?
       union all select day, odometer_m from feed_day where vehicle_id = ? and (fault is null or fault = 'gap'))
     select (select max(odometer_m) from known where day <= ?::date) as before_m,
       (select max(day)::text from known where day <= ?::date) as before_on,
       (select min(odometer_m) from known where day > ?::date) as after_m`,
    [id, id, id, id, day.day, day.day, day.day],
  );
  const mi = (metres: number) => Math.round(metresToMiles(metres)).toLocaleString('en-US');
  const here = milesToMetres(day.odometerMi);
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
