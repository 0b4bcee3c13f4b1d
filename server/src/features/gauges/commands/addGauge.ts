import type { NewGauge } from '@mile-mark/contract/gauges';
import { command } from '../../../platform/command/command.ts';
import { GaugeEntity } from '../entities.ts';

export const addGauge = command({
  name: 'addGauge',
  action: 'measure',
  clientId: 'id',
  run: async ({ em, audit }, { resolutionMm, calibrationDue, ...gauge }: NewGauge) => {
    const resolutionUm = resolutionMm * 1000;
    await em.insert(GaugeEntity, { ...gauge, resolutionUm, calibrationDue: calibrationDue ?? null });
    await audit('put a gauge on record', `gauge/${gauge.id}`, { name: gauge.name });
    return { id: gauge.id };
  },
});
