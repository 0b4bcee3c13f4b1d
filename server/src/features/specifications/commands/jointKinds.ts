import type { JointKindRow } from '@mile-mark/contract/specifications';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { JointKindEntity } from '../entities.ts';

/** Puts a kind of joint on the list. */
export const addJointKind = command({
  name: 'addJointKind',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit }, { id, name, brake, expected, hollow }: JointKindRow) => {
    const [there] = await em.execute<{ id: string }[]>('select id from joint_kind where lower(name) = lower(?)', [
      name,
    ]);
    if (there) throw invalidField('name', `“${name}” is on the list already; another name is accepted.`);
    await em.insert(JointKindEntity, { id, name, brake, expected, hollow });
    await audit('put a kind of joint on the list', `joint-kind/${id}`, { name });
    return { id };
  },
});
