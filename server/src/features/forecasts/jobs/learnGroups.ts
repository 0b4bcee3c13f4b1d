import { classPrior, groupPrior, learnSpread, type WearPrior } from '@mile-mark/core';
import { type InputContext, vehicleInputOf } from '../input.ts';
import type { Fleet } from './learnAppraisers.ts';

/** The level of wear of one model's axle, as the fleet taught it. */
export interface GroupLevel {
  modelId: string;
  axle: number;
  prior: WearPrior;
  /** Vehicles that say something of it. */
  vehicles: number;
}

/** Learns each group's level, and how much vehicles differ, from the whole fleet's readings; nothing is saved. */
export async function groupsOf({ computer, records, today }: Fleet, context: InputContext): Promise<GroupLevel[]> {
  const open = { ...context, priors: () => undefined };
  const evidence = await computer.evidence(records, (record) => ({
    input: vehicleInputOf(record, open, today),
    groups: Object.fromEntries(record.axles.map(({ axle }) => [axle, `${record.model.id}/${axle}`])),
  }));
  const spread = learnSpread(evidence);
  const models = new Map(records.map(({ model, axles }) => [model.id, { model, axles }]));
  return [...models.values()].flatMap(({ model, axles }) =>
    axles.map(({ axle }) => {
      const own = evidence.filter(({ group }) => group === `${model.id}/${axle}`);
      const wearClass = model.class === 'heavy' ? 'heavy' : 'light';
      const prior = own.length > 0 ? groupPrior(wearClass, own, spread) : classPrior(wearClass);
      return { modelId: model.id, axle, prior, vehicles: own.length };
    }),
  );
}
