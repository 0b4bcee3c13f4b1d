import { handKeyOf, type ReadingInput, type ReadingJudgement, runHistory } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { loadForecastGround, loadVehicleRecords, vehicleInputOf } from '../forecasts/index.ts';

/** Judges readings of one vehicle that are not in yet among those that are. */
export async function judgeAmongRecord(
  em: EntityManager,
  vehicleId: string,
  added: ReadingInput[],
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const [record] = await loadVehicleRecords(em, [vehicleId]);
  const ground = await loadForecastGround(em);
  if (!record) return new Map();
  const input = vehicleInputOf(record, ground, today);
  const hands = Object.fromEntries(added.map(handKeyOf).map((key) => [key, ground.handOf(key)]));
  const { judgements } = runHistory({
    ...input,
    hands: { ...input.hands, ...hands },
    readings: [...input.readings, ...added],
  });
  return new Map(judgements.map((judgement) => [judgement.id, judgement]));
}
