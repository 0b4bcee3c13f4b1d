import { appraiserKeyOf, type ReadingInput, type ReadingJudgement, runHistory } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { loadForecastContext, loadVehicleRecords, vehicleInputOf } from '../forecasts/index.ts';

/** Judges readings of one vehicle that are not in yet among those that are. */
export async function judgeAmongRecord(
  em: EntityManager,
  vehicleId: string,
  added: ReadingInput[],
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const [record] = await loadVehicleRecords(em, [vehicleId]);
  const context = await loadForecastContext(em);
  if (!record) return new Map();
  const input = vehicleInputOf(record, context, today);
  const appraisers = Object.fromEntries(added.map(appraiserKeyOf).map((key) => [key, context.appraiserOf(key)]));
  const { judgements } = runHistory({
    ...input,
    appraisers: { ...input.appraisers, ...appraisers },
    readings: [...input.readings, ...added],
  });
  return new Map(judgements.map((judgement) => [judgement.id, judgement]));
}
