import { measuredBlocks } from '@mile-mark/core';
import { dutySpansOf } from '../duty.ts';
import { DutyProcessEntity } from '../entities.ts';
import type { Fleet } from './learnAppraisers.ts';

/** Learns from the fleet's measured blocks how duty behaves in each class; a class with none keeps the assumption. */
export async function learnDuty({ em, computer, records, today }: Fleet): Promise<void> {
  const measured = records
    .map((record) => ({ class: record.model.class, blocks: measuredBlocks(dutySpansOf(record), today) }))
    .filter(({ blocks }) => blocks.length > 0);
  const classes = [...new Set(measured.map((one) => one.class))].sort();
  if (classes.length === 0) return;
  const rows = await Promise.all(
    classes.map(async (name) => {
      const own = measured.filter((one) => one.class === name).map(({ blocks }) => blocks);
      const { blockSd, hazard, routeMean, routeSd } = await computer.dutyProcess(own);
      return { class: name, blockSd, hazard, routeMean, routeSd, vehicles: own.length, computedAt: new Date() };
    }),
  );
  await em.upsertMany(DutyProcessEntity, rows);
}
