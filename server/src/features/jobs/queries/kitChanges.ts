import { JOB_ACTIONS, KIT_PARTS, type KitChange } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const ChangeSql = z.object({
  model_id: z.string(),
  axle: z.number(),
  kind: z.enum(KIT_PARTS),
  action: z.enum(JOB_ACTIONS),
  quantity: z.number().nullable(),
  reason: z.string(),
  by: z.string(),
  on: z.string(),
  at_us: z.number(),
});
/** A change of a kit as it stands on record. */
export type KitChangeRow = z.output<typeof ChangeSql>;

/** Every change of kits, in the order in which they were made. */
export const kitChanges = (em: EntityManager): Promise<KitChangeRow[]> =>
  rowsOf(
    em,
    ChangeSql,
    `select c.model_id, c.axle, c.kind, c.action, c.quantity, c.reason, p.name as by, c.changed_on::text as on,
       (extract(epoch from c.at) * 1000000)::float as at_us
     from kit_change c join person p on p.id = c.person_id order by c.serial`,
  );

/** A model's kits at a moment: which changes count, and how many were made before, as the kits' version. */
export interface KitVersion {
  version: number;
  changes: (KitChange & { row: KitChangeRow })[];
}

/**
 * @param rows every change, in order
 * @param untilUs microseconds since 1970 at which work began; what was changed later is not of that job
 */
export function kitVersion(rows: readonly KitChangeRow[], modelId: string, untilUs?: number | null): KitVersion {
  const own = rows.filter((row) => row.model_id === modelId && (untilUs == null || row.at_us <= untilUs));
  const last = new Map(own.map((row) => [`${row.axle}/${row.kind}/${row.action}`, row]));
  return {
    version: own.length + 1,
    changes: [...last.values()].flatMap((row) => {
      const { axle, kind, action, quantity } = row;
      return quantity === null ? [] : [{ axle, kind, action, quantity, row }];
    }),
  };
}

/** When work on a job began, as `kitVersion` takes it. */
export const BEGAN_US = `(select (extract(epoch from min(m.at)) * 1000000)::float from job_move m where m.job_id = j.id and m.verb = 'start')`;
