import type { Gauge } from '@mile-mark/contract/gauges';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { GaugeEntity, type GaugeRow } from '../entities.ts';

export async function listGauges(em: EntityManager): Promise<Gauge[]> {
  return (await em.find(GaugeEntity, {}, { orderBy: { name: 'asc' } })).map((row: GaugeRow) => ({
    id: row.id,
    name: row.name,
    kind: row.kind,
    resolutionMm: row.resolutionUm / 1000,
    unit: row.unit as Gauge['unit'],
    calibrationDue: row.calibrationDue ?? null,
  }));
}
