import { appraiserKeyOf, type ReadingInput, type ReadingJudgement, runHistory, type Suspicion } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { inTurns, type Watch } from '../../platform/inTurns.ts';
import { loadForecastContext, loadVehicleRecords, vehicleInputOf } from '../forecasts/index.ts';

/** So many vehicles' records are held at a time. */
const VEHICLES_AT_ONCE = 250;

/** Judges readings of one vehicle that are not in yet among those that are. */
export async function judgeAmongRecord(
  em: EntityManager,
  vehicleId: string,
  added: ReadingInput[],
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const judged = new Map<string, ReadingJudgement>();
  await judgeEach(em, new Map([[vehicleId, added]]), today, {}, (judgement) => judged.set(judgement.id, judgement));
  return judged;
}

/** What is suspected of readings of many vehicles, by the reading's id. Others are answered meanwhile. */
export async function suspicionsAmongRecord(
  em: EntityManager,
  added: ReadonlyMap<string, ReadingInput[]>,
  today: string,
  watch: Watch,
): Promise<Map<string, Suspicion>> {
  const suspicions = new Map<string, Suspicion>();
  await judgeEach(em, added, today, watch, ({ id, suspicion }) => suspicion && suspicions.set(id, suspicion));
  return suspicions;
}

async function judgeEach(
  em: EntityManager,
  added: ReadonlyMap<string, ReadingInput[]>,
  today: string,
  watch: Watch,
  keep: (judgement: ReadingJudgement) => void,
): Promise<void> {
  const ids = [...added.keys()];
  for (let from = 0; from < ids.length; from += VEHICLES_AT_ONCE) {
    const [context, records] = await Promise.all([
      loadForecastContext(em),
      loadVehicleRecords(em, ids.slice(from, from + VEHICLES_AT_ONCE)),
    ]);
    await inTurns(
      records,
      (record) => {
        const own = added.get(record.id) ?? [];
        const input = vehicleInputOf(record, context, today);
        const appraisers = Object.fromEntries(own.map(appraiserKeyOf).map((key) => [key, context.appraiserOf(key)]));
        const { judgements } = runHistory({
          ...input,
          appraisers: { ...input.appraisers, ...appraisers },
          readings: [...input.readings, ...own],
        });
        judgements.forEach(keep);
      },
      watch,
    );
  }
}
