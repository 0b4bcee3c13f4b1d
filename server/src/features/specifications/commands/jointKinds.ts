import type { JointKindRow } from '@mile-mark/contract/specifications';
import { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { invalidField } from '../../../platform/errors.ts';
import { JointKindEntity } from '../entities.ts';

/** Puts a kind of joint on the list. */
export const addJointKind = command({
  name: 'addJointKind',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit }, { id, name, brake, expected, hollow }: JointKindRow) => {
    const [there] = await rowsOf(
      em,
      z.object({ id: z.string() }),
      'select id from joint_kind where lower(name) = lower(?)',
      [name],
    );
    if (there) throw invalidField('name', `“${name}” is on the list already; another name is accepted.`);
    await em.insert(JointKindEntity, { id, name, brake, expected, hollow });
    await audit('put a kind of joint on the list', `joint-kind/${id}`, { name });
    return { id };
  },
});
