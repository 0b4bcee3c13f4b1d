import { milesToMetres, type OdometerEntry } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { insertRows } from '../../../platform/db/insertRows.ts';
import { inChunks } from '../../../platform/db/inChunks.ts';
import { InspectionEntity, paceAmong, ReadingEntity, usualPaces } from '../../inspections/index.ts';
import { entryNow, instrumentsOf, odometersOfMany } from '../../register/index.ts';
import type { ReadingRecord } from '../readingRecord.ts';
import type { Commit } from './commit.ts';

/** Puts readings on record, one inspection for what one person measured with one gauge at one odometer on one day. */
export async function commitReadings(
  em: EntityManager,
  records: readonly ReadingRecord[],
  { personId, importId, watch }: Commit,
): Promise<string[]> {
  const looks = new Map<string, ReadingRecord[]>();
  for (const record of records) {
    const key = [record.vehicleId, record.technicianId, record.gaugeId, record.date, record.odometerM].join('/');
    const own = looks.get(key);
    if (own) own.push(record);
    else looks.set(key, [record]);
  }
  // An odometer that rises with the days is put in in their order.
  const inOrder = [...looks.values()].sort((a, b) => ((a[0]?.date ?? '') < (b[0]?.date ?? '') ? -1 : 1));
  const vehicleIds = [...new Set(records.map(({ vehicleId }) => vehicleId))];
  const paces = await pacesOf(em, vehicleIds);
  const enteredAt = new Date();
  const rows = inOrder.map((own) => {
    const first = own[0] as ReadingRecord;
    const { vehicleId, odometerM } = first;
    const shared = {
      vehicleId,
      technicianId: first.technicianId as string,
      measuredOn: first.date,
      odometerM,
      enteredBy: personId,
      enteredAt,
    };
    const id = randomUUID();
    const inspection = {
      id,
      ...shared,
      gaugeId: first.gaugeId as string,
      odometerTyped: first.odometerTyped,
      note: [...new Set(own.map(({ note }) => note).filter(Boolean))].join('; ') || null,
      importId,
      ...paces(vehicleId, { date: first.date, metres: odometerM }),
    };
    const readings = own.map(({ axle, side, pad, mm, typed, unit }) => ({
      id: randomUUID(),
      inspectionId: id,
      ...shared,
      axle,
      side,
      pad,
      thicknessUm: Math.round(mm * 1000),
      typed,
      unit,
    }));
    return { inspection, readings };
  });
  await inChunks(rows, { signal: watch.signal }, async (chunk) => {
    await insertRows(
      em,
      InspectionEntity,
      chunk.map(({ inspection }) => inspection),
    );
    const readings = chunk.flatMap((own) => own.readings);
    await insertRows(em, ReadingEntity, readings);
    watch.onDone?.(readings.length);
  });
  return vehicleIds;
}

/** Whether each look came sooner than its vehicle drives, among those on record and those of the file before it. */
async function pacesOf(em: EntityManager, vehicleIds: readonly string[]) {
  const usual = await usualPaces(em, vehicleIds);
  const onRecord = await odometersOfMany(em, vehicleIds);
  const now = await instrumentsOf(em, vehicleIds);
  return (vehicleId: string, shown: OdometerEntry) => {
    const entry = entryNow(now, vehicleId, shown);
    const known = onRecord.get(vehicleId) ?? [];
    const pace = paceAmong(known, entry, usual.get(vehicleId));
    // Later looks of the file are held against this one; those on record after it stay after it.
    const at = known.findIndex(({ date }) => date > entry.date);
    known.splice(at < 0 ? known.length : at, 0, entry);
    onRecord.set(vehicleId, known);
    return {
      usualMilesPerDay: pace?.usualPerDay ?? null,
      expectedOdometerM: pace ? Math.round(milesToMetres(pace.expectedMi)) : null,
    };
  };
}
