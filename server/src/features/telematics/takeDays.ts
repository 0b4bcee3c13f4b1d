import { dayNumber, metresToMiles, milesToMetres } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { instrumentsOf, normaliseUnit, OdometerEntity, type OnInstrumentNow } from '../register/index.ts';
import { FeedDayEntity } from './entities.ts';
import { readLine, type FeedDay } from './feedDay.ts';
import { knownOf, type Known } from './known.ts';

type Fault = 'falls' | 'leaps' | 'twice' | 'gap' | 'unknown' | 'unreadable';
interface Doubt {
  fault: Fault;
  note: string;
}

/** Who stands behind an odometer that came without typing. */
export const FEED_PERSON = '00000000-0000-4000-8000-00000000feed';
/** An odometer is taken from the feed no more often than this, days. */
const ODOMETER_EVERY_DAYS = 7;
/** More than this in a day is no driving, miles. */
const MOST_MILES_A_DAY = 1200;
/** Silent for longer than this is told, days. */
const GAP_DAYS = 7;
/** What rounding to a mile leaves, metres. */
const SLACK_M = 1700;
/** Most characters of a note and of a unit that are kept. */
const MOST = { note: 500, unit: 40 };

/** What a page adds, entered at its end in as few statements as there are tables. */
interface Added {
  days: ReturnType<typeof feedRow>[];
  odometers: { vehicleId: string; readOn: string; odometerM: number }[];
}

/**
 * Takes driven days in the order they came. What is known of their vehicles is asked once; each day is then held against
 * that and against the days of the page before it.
 *
 * @returns the vehicles whose record the days changed
 */
export async function takeDays(em: EntityManager, sent: readonly unknown[]): Promise<string[]> {
  const lines = sent.map(readLine);
  const first = new Map<string, string>();
  for (const { day } of lines) {
    if (!day) continue;
    day.unit = normaliseUnit(day.unit);
    const before = first.get(day.unit);
    if (before === undefined || day.day < before) first.set(day.unit, day.day);
  }
  const known = await knownOf(em, first);
  const now = await instrumentsOf(
    em,
    [...known.values()].map(({ vehicleId }) => vehicleId),
  );
  const added: Added = { days: [], odometers: [] };
  const changed = new Set<string>();
  for (const line of lines) {
    if (!line.day) {
      added.days.push(feedRow(line.raw, null, { fault: 'unreadable', note: line.unreadable }));
      continue;
    }
    const own = known.get(line.day.unit);
    if (own && takeDay(own, line.day, line.raw, now, added)) changed.add(own.vehicleId);
    else if (!own)
      added.days.push(
        feedRow(line.raw, null, { fault: 'unknown', note: `There is no vehicle ${line.day.unit} on record.` }),
      );
  }
  await enter(em, added);
  return [...changed];
}

async function enter(em: EntityManager, { days, odometers }: Added): Promise<void> {
  const at = new Date();
  if (days.length > 0)
    await em.insertMany(
      FeedDayEntity,
      days.map((day) => ({ ...day, receivedAt: at })),
    );
  if (odometers.length === 0) return;
  const entered = { source: 'telematics', enteredBy: FEED_PERSON, enteredAt: at };
  await em.insertMany(
    OdometerEntity,
    odometers.map((one) => ({ id: crypto.randomUUID(), ...one, ...entered })),
  );
}

/** @returns whether the day is believed */
function takeDay(own: Known, day: FeedDay, raw: unknown, now: OnInstrumentNow, added: Added): boolean {
  const doubt = twiceDoubt(own, day) ?? odometerDoubt(own, day, now);
  if (doubt) {
    added.days.push(feedRow(raw, own.vehicleId, doubt));
    return false;
  }
  const odometerM = Math.round(milesToMetres(day.odometerMi));
  added.days.push({ ...feedRow(day, own.vehicleId, silenceBefore(own, day)), odometerM });
  own.since.push({ on: day.day, metres: now(own.vehicleId, day.day, odometerM) });
  own.days.set(day.day, day);
  if (own.newest === undefined || day.day > own.newest) own.newest = day.day;
  if (own.odometerOn === undefined || dayNumber(day.day) - dayNumber(own.odometerOn) >= ODOMETER_EVERY_DAYS) {
    added.odometers.push({ vehicleId: own.vehicleId, readOn: day.day, odometerM });
    own.odometerOn = day.day;
  }
  return true;
}

/** A line as it is kept, with what is doubted of it. */
function feedRow(detail: unknown, vehicleId: string | null, doubt?: Doubt) {
  const { unit, day } = typeof detail === 'object' && detail !== null ? (detail as Record<string, unknown>) : {};
  const isDay = typeof day === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(day) && !Number.isNaN(Date.parse(day));
  return {
    id: crypto.randomUUID(),
    vehicleId,
    unit: (typeof unit === 'string' ? unit : '?').slice(0, MOST.unit),
    day: isDay ? day : '1970-01-01',
    odometerM: null as number | null,
    detail,
    fault: doubt?.fault ?? null,
    faultNote: doubt?.note.slice(0, MOST.note) ?? null,
  };
}

/** Whether the same day came before. */
function twiceDoubt({ days }: Known, day: FeedDay): Doubt | undefined {
  const there = days.get(day.day);
  if (!there) return undefined;
  const same = there.odometerMi === day.odometerMi && there.stops === day.stops;
  const note = same ? 'The same day again.' : 'The same day again with other figures; the first is kept.';
  return { fault: 'twice', note };
}

/** A silence before the day, where it was long enough to be told. */
function silenceBefore({ newest }: Known, { day }: FeedDay): Doubt | undefined {
  const silent = newest === undefined ? 0 : dayNumber(day) - dayNumber(newest);
  if (silent <= GAP_DAYS) return undefined;
  const note = `Silent for ${silent - 1} days before; its miles count, its stops of those days are not known.`;
  return { fault: 'gap', note };
}

/** The furthest odometer up to a day with the last day it could be of, and the least of any later day. */
function around({ before, since }: Known, day: string) {
  const earlier = since.filter(({ on }) => on <= day);
  const later = since.filter(({ on }) => on > day);
  const all = before ? [before, ...earlier] : earlier;
  return {
    before:
      all.length === 0
        ? undefined
        : all.reduce((far, { metres, on }) => ({
            metres: Math.max(far.metres, metres),
            on: on > far.on ? on : far.on,
          })),
    afterM: later.length === 0 ? undefined : Math.min(...later.map(({ metres }) => metres)),
  };
}

const inWords = (miles: number) => Math.round(miles).toLocaleString('en-US');

/** Whether an odometer can be so, against the nearest ones known before and after its day. */
function odometerDoubt(own: Known, day: FeedDay, now: OnInstrumentNow): Doubt | undefined {
  const { before, afterM } = around(own, day.day);
  const here = now(own.vehicleId, day.day, milesToMetres(day.odometerMi));
  const mi = (metres: number) => inWords(metresToMiles(metres));
  if (before && here < before.metres - SLACK_M)
    return {
      fault: 'falls',
      note: `${inWords(day.odometerMi)} mi after ${mi(before.metres)} mi: an odometer does not fall.`,
    };
  const days = before ? Math.max(1, dayNumber(day.day) - dayNumber(before.on)) : 0;
  if (before && here > before.metres + milesToMetres(MOST_MILES_A_DAY * days))
    return { fault: 'leaps', note: `More than ${MOST_MILES_A_DAY} mi a day since ${mi(before.metres)} mi.` };
  if (afterM !== undefined && here > afterM + SLACK_M)
    return { fault: 'leaps', note: `Ahead of ${mi(afterM)} mi, which was read on a later day.` };
  if (before && here < before.metres) day.odometerMi = metresToMiles(before.metres);
  return undefined;
}
