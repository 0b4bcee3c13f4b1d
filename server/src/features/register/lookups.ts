import { failureInWords } from '@mile-mark/contract/words';
import {
  type DistanceUnit,
  doubtOdometer,
  METRES_PER_MILE,
  metresToMiles,
  type OdometerDoubt,
  type OdometerEntry,
  parseDistance,
} from '@mile-mark/core';
import { LockMode } from '@mikro-orm/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { setsOf } from '../../platform/db/sets.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { groupBy } from '../../platform/groupBy.ts';
import { invalidField } from '../../platform/errors.ts';
import { VehicleEntity, type VehicleRow } from './entities.ts';
import {
  entryNow,
  InstrumentStep,
  instrumentSteps,
  whoseOf,
  onInstrumentNow,
  type OnInstrumentNow,
  onInstrumentOf,
} from './instruments.ts';

/** A unit number as it is kept: without spaces around it, in capitals. */
export function normaliseUnit(typed: string): string {
  return typed.trim().replace(/\s+/g, ' ').toUpperCase();
}

/** The vehicle of a unit number; refuses the named field where there is none. */
export async function vehicleOfUnit(em: EntityManager, typed: string, field: string): Promise<VehicleRow> {
  return vehicleFound(em, typed, field, {});
}

/** The same, and makes whoever else writes about it wait for this transaction (`lockVehicle`). */
export async function lockVehicleOfUnit(em: EntityManager, typed: string, field: string): Promise<VehicleRow> {
  return vehicleFound(em, typed, field, { lockMode: LockMode.PESSIMISTIC_WRITE });
}

async function vehicleFound(
  em: EntityManager,
  typed: string,
  field: string,
  how: { lockMode?: LockMode.PESSIMISTIC_WRITE },
): Promise<VehicleRow> {
  const unit = normaliseUnit(typed);
  const vehicle = await em.findOne(VehicleEntity, { unit }, how);
  if (!vehicle)
    throw invalidField(
      field,
      `There is no vehicle ${unit || '(blank)'} on record; a unit number of the vehicle list is accepted.`,
    );
  return vehicle;
}

/** Refuses what is done now, or booked, for a vehicle that left the fleet. */
export function refuseDeparted({ unit, leftOn, leftHow }: VehicleRow, field: string): void {
  if (leftOn)
    throw invalidField(field, `${unit} was ${leftHow ?? 'retired'} on ${leftOn}; a vehicle of the fleet is accepted.`);
}

type Departed = Pick<VehicleRow, 'unit' | 'leftOn' | 'leftHow'>;

/** Why nothing is entered for a vehicle on a day after it left the fleet; undefined where it may be. */
export function afterDeparture({ unit, leftOn, leftHow }: Departed, date: string): string | undefined {
  if (!leftOn || date <= leftOn) return undefined;
  return `${unit} was ${leftHow ?? 'retired'} on ${leftOn}; that day or an earlier one is accepted.`;
}

/** Refuses an entry of a day after the vehicle left the fleet. */
export function refuseAfterDeparture(vehicle: Departed, date: string, field: string): void {
  const why = afterDeparture(vehicle, date);
  if (why !== undefined) throw invalidField(field, why);
}

/** Refuses a date after today. */
export function refuseFuture(date: string, today: string, field: string): void {
  if (date > today)
    throw invalidField(field, `${date} is in the future (today is ${today}); today or earlier is accepted.`);
}

/** Every odometer on record of one vehicle, in order of date, as its instrument of today would have shown it. */
export async function odometersOnRecord(em: EntityManager, vehicleId: string): Promise<OdometerEntry[]> {
  return (await odometersOfMany(em, [vehicleId])).get(vehicleId) ?? [];
}

/** The same of each of these vehicles; one query however many there are. */
export async function odometersOfMany(
  em: EntityManager,
  vehicleIds: readonly string[],
): Promise<Map<string, OdometerEntry[]>> {
  const of = uuidArray(vehicleIds);
  const rows = await rowsOf(em, KnownSql, KNOWN_OF_MANY, [of, of, of]);
  const byVehicle = groupBy(rows, ({ vehicle_id }) => vehicle_id);
  return new Map(
    [...byVehicle].map(([id, own]) => [id, own.map(({ date, metres }): OdometerEntry => ({ date, metres }))]),
  );
}

const KnownSql = z.object({ vehicle_id: z.string(), date: z.string(), metres: z.number() });
/** What is measured of an inspection still stands, or nothing was. */
const stillStands = {
  ofMany: `(not exists (select 1 from reading r where r.inspection_id = i.id)
           or exists (select 1 from reading r where r.inspection_id = i.id and r.thickness_um is not null
             and not exists (select 1 from reading later where later.supersedes_id = r.id)))`,
  // The same, reading by reading: for a few inspections it need not go through the readings of all.
  ofOne: `coalesce((select bool_or(r.thickness_um is not null
             and (select later.id from reading later where later.supersedes_id = r.id limit 1) is null)
           from reading r where r.inspection_id = i.id), true)`,
};
const knownOf = (vehicles: string, stands: string) => `
    select vehicle_id, day::text as date, ${onInstrumentNow('known.vehicle_id', 'known.day', 'known.metres')} as metres from (
       select i.vehicle_id, i.measured_on as day, i.odometer_m as metres from live_inspection i where i.vehicle_id ${vehicles} and ${stands}
       union select vehicle_id, read_on, odometer_m from odometer where vehicle_id ${vehicles}
       union select vehicle_id, fitted_on, odometer_m from service where vehicle_id ${vehicles}) known
     order by vehicle_id, day, metres`;
const KNOWN_OF_MANY = knownOf('= any(?::uuid[])', stillStands.ofMany);
const KNOWN_OF_ONE = knownOf('= ?::uuid', stillStands.ofOne);

/** What a new odometer of a vehicle is held against: all on record, and how its instruments follow each other. */
export interface OdometersKnown {
  known: readonly OdometerEntry[];
  now: OnInstrumentNow;
}

/** Both in one statement. */
export async function odometersKnown(em: EntityManager, vehicleId: string): Promise<OdometersKnown> {
  const { whose, params } = whoseOf([vehicleId]);
  const { known, steps } = await setsOf(em, {
    known: { row: KnownSql, sql: KNOWN_OF_ONE, params: [vehicleId, vehicleId, vehicleId] },
    steps: { row: InstrumentStep, sql: instrumentSteps(whose), params },
  });
  return { known: known.map(({ date, metres }) => ({ date, metres })), now: onInstrumentOf(steps) };
}

const whole = (metres: number) => Math.round(metresToMiles(metres)).toLocaleString('en-US');

/** A doubt about an odometer in words, with what would be accepted. */
export function doubtInWords(entry: OdometerEntry, doubt: OdometerDoubt): string {
  const own = whole(entry.metres);
  const other = `${whole(doubt.other.metres)} mi on ${doubt.other.date}`;
  switch (doubt.kind) {
    case 'falls':
      return entry.date > doubt.other.date
        ? `${own} mi is less than ${other}; an odometer doesn't fall. ${whole(doubt.other.metres)} mi or more is accepted.`
        : `${own} mi is more than ${other}, a later day; ${whole(doubt.other.metres)} mi or less is accepted.`;
    case 'km_as_miles':
      return `${own} mi doesn't fit ${other}. Are these kilometres? ${Math.round(entry.metres / METRES_PER_MILE).toLocaleString('en-US')} km is ${whole(doubt.insteadMetres)} mi.`;
    case 'miles_as_km':
      return `${own} mi doesn't fit ${other}. Are these miles? Then it is ${whole(doubt.insteadMetres)} mi.`;
    case 'jumps':
      return `${own} mi against ${other} would be ${Math.round(doubt.milesPerDay).toLocaleString('en-US')} miles a day, more than a vehicle drives. Is a digit wrong?`;
  }
}

/** Parses an odometer and holds it against the record; refuses the named field. */
export async function parseOdometer(
  em: EntityManager,
  input: {
    typed: string;
    unit: DistanceUnit;
    vehicleId: string;
    date: string;
    field: string;
    /** An entry that this one stands in for. */
    except?: OdometerEntry;
    /** What it is held against, where that is at hand. */
    against?: OdometersKnown;
  },
): Promise<number> {
  const parsed = parseDistance(input.typed, { unit: input.unit });
  if (!parsed.ok) throw invalidField(input.field, failureInWords(parsed.failure));
  const metres = Math.round(parsed.value.metres);
  const { known, now } = input.against ?? (await odometersKnown(em, input.vehicleId));
  const entry = entryNow(now, input.vehicleId, { date: input.date, metres });
  const except = input.except && entryNow(now, input.vehicleId, input.except);
  const others = known.filter((other) => !(other.date === except?.date && other.metres === except.metres));
  const doubt = doubtOdometer(entry, others, parsed.value.unit);
  if (doubt) throw invalidField(input.field, doubtInWords(entry, doubt));
  return metres;
}

/** Makes whoever else writes about these vehicles wait for this transaction: what it holds against the record stands. */
export async function lockVehicle(em: EntityManager, ...vehicleIds: string[]): Promise<void> {
  await em.execute('select id from vehicle where id = any(?::uuid[]) order by id for update', [uuidArray(vehicleIds)]);
}

/**
 * Holds vehicles against all who lock them, for what is kept of them beside their record. It comes before that is touched:
 * who writes on the record locks the vehicle first and what is kept of it afterwards, and one who did it the other way round
 * and that one would wait for each other.
 */
export async function holdVehicles(em: EntityManager, vehicleIds: readonly string[]): Promise<void> {
  await em.execute('select id from vehicle where id = any(?::uuid[]) order by id for no key update', [
    uuidArray(vehicleIds),
  ]);
}

/** The id of a name, whatever its capitals; undefined where it is not on record. */
export async function idByName(
  em: EntityManager,
  table: 'model' | 'duty' | 'depot',
  name: string,
): Promise<string | undefined> {
  const [row] = await rowsOf(em, z.object({ id: z.string() }), `select id from ${table} where lower(name) = lower(?)`, [
    name,
  ]);
  return row?.id;
}

/** The row of a name, whatever its capitals; refuses the field where there is none. */
export async function namedId(em: EntityManager, table: 'model' | 'duty' | 'depot', name: string): Promise<string> {
  const id = await idByName(em, table, name);
  if (!id) throw invalidField(table, `There is no ${table} “${name}” on record; one of the ${table} list is accepted.`);
  return id;
}
