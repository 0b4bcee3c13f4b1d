import type { NewGauge } from '@mile-mark/contract/gauges';
import { command } from '../../../platform/command/command.ts';
import { GaugeEntity } from '../entities.ts';

export const addGauge = command({
  name: 'addGauge',
  action: 'measure',
  clientId: 'id',
  run: async ({ em, audit }, { id, name, kind, resolutionMm, unit, calibrationDue }: NewGauge) => {
    await em.insert(GaugeEntity, {
      id,
      name,
      kind,
      resolutionUm: resolutionMm * 1000,
      unit,
      calibrationDue: calibrationDue ?? null,
    });
    await audit('put a gauge on record', `gauge/${id}`, { name });
    return { id };
  },
});
