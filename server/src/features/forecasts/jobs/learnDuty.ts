import { learnDutyProcess, measuredBlocks } from '@mile-mark/core';
import { dutySpansOf } from '../duty.ts';
import { DutyProcessEntity } from '../entities.ts';
import type { Fleet } from './learnAppraisers.ts';

/** Learns from the fleet's measured blocks how duty behaves in each class; a class with none keeps the assumption. */
export async function learnDuty({ em, records, today }: Fleet): Promise<void> {
  const measured = records
    .map((record) => ({ class: record.model.class, blocks: measuredBlocks(dutySpansOf(record), today) }))
    .filter(({ blocks }) => blocks.length > 0);
  const classes = [...new Set(measured.map((one) => one.class))].sort();
  if (classes.length === 0) return;
  await em.upsertMany(
    DutyProcessEntity,
    classes.map((name) => {
      const own = measured.filter((one) => one.class === name);
      const { blockSd, hazard, routeMean, routeSd } = learnDutyProcess(own.map(({ blocks }) => blocks));
      return {
        class: name,
        blockSd,
        hazard,
        routeMean,
        routeSd,
        vehicles: own.length,
        computedAt: new Date(),
      };
    }),
  );
}
