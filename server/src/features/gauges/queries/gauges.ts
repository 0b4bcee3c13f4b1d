import type { Gauge } from '@mile-mark/contract/gauges';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { GaugeEntity } from '../entities.ts';

/** Every gauge; a column that the contract names alike needs nothing here. */
export async function listGauges(em: EntityManager): Promise<Gauge[]> {
  const gauges = await em.find(GaugeEntity, {}, { orderBy: { name: 'asc' } });
  return gauges.map(({ resolutionUm, unit, calibrationDue = null, ...row }) => ({
    ...row,
    resolutionMm: resolutionUm / 1000,
    unit: unit as Gauge['unit'],
    calibrationDue,
  }));
}
