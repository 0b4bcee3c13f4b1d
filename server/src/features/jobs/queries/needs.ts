import type { CardStep, JobNeeds } from '@mile-mark/contract/jobs';
import { kitOf, paceOf, toolsOf, type Told } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { JobState } from './card.ts';

/** The shop's own pace at each step of a class of vehicle, as a multiple of the usual, and how many jobs taught it. */
export type Paces = ReadonlyMap<string, Told & { jobs: number }>;

const TimeSql = z.object({ step: z.string(), n: z.number(), sumLn: z.number(), sumLn2: z.number() });

export async function pacesOf(em: EntityManager, vehicleClass: string): Promise<Paces> {
  const rows = await rowsOf(
    em,
    TimeSql,
    `select step, n, sum_ln as "sumLn", sum_ln2 as "sumLn2" from step_time where class = ?`,
    [vehicleClass],
  );
  return new Map(rows.map(({ step, ...sums }) => [step, { ...paceOf(sums), jobs: sums.n }]));
}

/** What a job takes: parts by its scope and build, tools by its steps, wrenches by its torques, time by what was learnt. */
export function needsOf(
  { axles, policy, steps: core, model, kitChanges }: JobState,
  steps: readonly CardStep[],
  paces: Paces,
): JobNeeds {
  const torques = steps.flatMap(({ torque }) => torque);
  const byJoint = new Map(torques.map((one) => [`${one.joint}/${one.with}`, one]));
  return {
    minutes: steps.reduce((sum, { minutes }) => sum + minutes, 0),
    timedJobs: Math.max(0, ...[...paces.values()].map(({ jobs }) => jobs)),
    kit: kitOf(axles, policy, kitChanges).map((line) => ({
      ...line,
      axle: line.axle ?? null,
      amount: line.amount ?? null,
    })),
    freshJoints: [...new Set(torques.flatMap(({ joint, oneTimeUse }) => (oneTimeUse ? [joint] : [])))],
    tools: toolsOf(core, axles),
    wrenches: [...byJoint.values()].map(({ joint, with: wrench, socket }) => ({ joint, with: wrench, socket })),
    lifting: { grossKg: model.gvwrKg, points: model.liftingPoints ?? null },
  };
}
