import type { Understanding } from '@mile-mark/contract/imports';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { GaugeEntity } from '../gauges/index.ts';
import { PersonEntity } from '../people/index.ts';
import { ImportUnderstandingEntity } from './entities.ts';
import { namesIn } from './understand/needs.ts';
import { signatureOf } from './understand/understand.ts';

/** What is remembered of sheets of one header: columns, units and names; never who measured. */
const KEPT = [
  'decimalMark',
  'dateOrder',
  'distanceUnit',
  'thicknessUnit',
  'pad',
  'columns',
  'wheelNames',
  'gaugeNames',
  'personNames',
  'gaugeId',
] as const satisfies readonly (keyof Understanding)[];

/**
 * How a sheet of this header was read before: by this technician, or, where nobody is said to have measured it, by all
 * who have such sheets, if they read them alike. Whose gauge it was is kept for the technician alone.
 */
export async function recall(
  em: EntityManager,
  signature: string,
  technicianId: string | null,
): Promise<Partial<Understanding> | undefined> {
  const rows = await rowsOf(
    em,
    z.object({ understanding: z.custom<Partial<Understanding>>() }),
    'select understanding from import_understanding where signature = ? and (?::uuid is null or technician_id = ?::uuid) order by at desc limit 50',
    [signature, technicianId, technicianId],
  );
  const known = rows.map(({ understanding }) => pick(understanding, technicianId !== null));
  const [latest] = known;
  if (!latest || new Set(known.map(alike)).size > 1) return undefined;
  return latest;
}

function pick(understanding: Partial<Understanding>, withGauge: boolean): Partial<Understanding> {
  const wanted = KEPT.filter((key) => withGauge || key !== 'gaugeId');
  return Object.fromEntries(wanted.flatMap((key) => (key in understanding ? [[key, understanding[key]]] : [])));
}

/** What must be the same in two people's sheets for them to be read alike. */
function alike({ dateOrder, distanceUnit, thicknessUnit, pad, columns }: Partial<Understanding>): string {
  return JSON.stringify([dateOrder, distanceUnit, thicknessUnit, pad, columns?.map(({ field }) => field)]);
}

/** Remembers what was stated of a sheet, for whoever measured it; of one that names them itself, for who took it in. */
export async function remember(
  em: EntityManager,
  { understanding, memory, header }: { understanding: Understanding; memory: Partial<Understanding>; header: string[] },
  actorId: string,
): Promise<void> {
  const { columns, gaugeNames, personNames, gaugeId } = understanding;
  const kept = { ...pick(memory, true), columns, gaugeNames, personNames, gaugeId };
  await em.upsert(ImportUnderstandingEntity, {
    technicianId: understanding.technicianId ?? actorId,
    signature: signatureOf(understanding.kind, header),
    understanding: kept,
    at: new Date(),
  });
}

/** Finds the sheet's names of gauges and people in the register; one not on record is asked for again. */
export async function matchRegister(
  em: EntityManager,
  records: readonly CsvRecord[],
  understanding: Understanding,
): Promise<void> {
  const gauges = await em.find(GaugeEntity, {});
  // A name that turned out to be somebody else's stands for them.
  const people = (await em.find(PersonEntity, {})).map(({ id, name, mergedInto }) => ({ id: mergedInto ?? id, name }));
  const known = (id: string | null, all: readonly { id: string }[]) => all.some((one) => one.id === id);
  if (!known(understanding.gaugeId, gauges)) understanding.gaugeId = null;
  if (!known(understanding.technicianId, people)) understanding.technicianId = null;
  const match = (field: string, names: Record<string, string>, all: readonly { id: string; name: string }[]) => {
    const kept = Object.entries(names).filter(([, id]) => known(id, all));
    const found = namesIn(records, understanding.columns, field).flatMap(({ text }) => {
      const same = all.filter(({ name }) => name.toLowerCase() === text.toLowerCase());
      return same.length === 1 && same[0] ? [[text, same[0].id] as const] : [];
    });
    return Object.fromEntries([...found, ...kept]);
  };
  understanding.gaugeNames = match('gauge', understanding.gaugeNames, gauges);
  understanding.personNames = match('technician', understanding.personNames, people);
}
