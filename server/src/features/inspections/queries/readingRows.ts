import { metresToMiles } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ALL_READINGS, ReadingListRow } from '../../forecasts/index.ts';

/** Columns of the readings as CSV, in order. */
export const READING_COLUMNS = [
  'id',
  'unit',
  'date',
  'odometer_mi',
  'axle',
  'side',
  'pad',
  'thickness_mm',
  'typed',
  'technician',
  'gauge',
  'entered_by',
  'entered_at',
  'supersedes',
  'superseded_by',
  'reason',
] as const;

/** All readings as rows for a CSV, in order of vehicle and date. */
export async function readingRows(em: EntityManager): Promise<Record<string, string | number>[]> {
  const found = await rowsOf(
    em,
    ReadingListRow,
    `${ALL_READINGS} order by v.unit, r.measured_on, r.axle, r.side, r.pad`,
  );
  return found.map((row) => ({
    id: row.id,
    unit: row.unit,
    date: row.date,
    odometer_mi: Math.round(metresToMiles(row.odometer_m) * 10) / 10,
    axle: row.axle,
    side: row.side,
    pad: row.pad,
    thickness_mm: row.thickness_um === null ? '' : row.thickness_um / 1000,
    typed: row.typed,
    technician: row.technician,
    gauge: row.gauge,
    entered_by: row.entered_by,
    entered_at: row.entered_at,
    supersedes: row.supersedes_id ?? '',
    superseded_by: row.superseded_by ?? '',
    reason: row.reason ?? '',
  }));
}
