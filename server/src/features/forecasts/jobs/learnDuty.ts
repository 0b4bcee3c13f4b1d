import { type DutyProcess, measuredBlocks } from '@mile-mark/core';
import { dutySpansOf } from '../duty.ts';
import { DutyProcessEntity } from '../entities.ts';
import type { Fleet } from './learnAppraisers.ts';

/** Less than this is no change: of a scatter or a hazard as a share of it, of a level in the logarithm. */
const SETTLED = 0.02;

/** What was known, where what is learnt now is as good as the same: a block more leaves every forecast as it is. */
function settled(known: DutyProcess | undefined, learnt: DutyProcess): DutyProcess {
  if (!known) return learnt;
  const share = (key: 'blockSd' | 'hazard' | 'routeSd') =>
    Math.abs(learnt[key] - known[key]) <= SETTLED * known[key] ? known[key] : learnt[key];
  const level = Math.abs(learnt.routeMean - known.routeMean) <= SETTLED ? known.routeMean : learnt.routeMean;
  return { blockSd: share('blockSd'), hazard: share('hazard'), routeMean: level, routeSd: share('routeSd') };
}

/** Learns from the fleet's measured blocks how duty behaves in each class; a class with none keeps the assumption. */
export async function learnDuty({ em, computer, records, today }: Fleet): Promise<void> {
  const measured = records
    .map((record) => ({ class: record.model.class, blocks: measuredBlocks(dutySpansOf(record), today) }))
    .filter(({ blocks }) => blocks.length > 0);
  const classes = [...new Set(measured.map((one) => one.class))].sort();
  if (classes.length === 0) return;
  const before = await em.fork({ keepTransactionContext: true }).find(DutyProcessEntity, {});
  const rows = await Promise.all(
    classes.map(async (name) => {
      const own = measured.filter((one) => one.class === name).map(({ blocks }) => blocks);
      const known = before.find((row) => row.class === name);
      const { blockSd, hazard, routeMean, routeSd } = settled(known, await computer.dutyProcess(own));
      return { class: name, blockSd, hazard, routeMean, routeSd, vehicles: own.length, computedAt: new Date() };
    }),
  );
  await em.upsertMany(DutyProcessEntity, rows);
}
