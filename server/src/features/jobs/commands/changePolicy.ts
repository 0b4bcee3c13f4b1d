import type { PolicyChange } from '@mile-mark/contract/jobs';
import { contradictions } from '@mile-mark/core';
import type { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { ModelEntity } from '../../register/index.ts';
import { ShopPolicyEntity } from '../entities.ts';
import { policyAt, shopPolicy } from '../queries/policy.ts';

const POLICY_LOCK = 460_060;
const CONTRADICTIONS = {
  'locker on grease': 'Thread locker and grease on one thread contradict each other; one of them has to go first.',
  'cap off with bleeder open':
    'With the bleeder open the reservoir’s cap stays on; settle one of the two otherwise first.',
} as const;

/** Settles a matter on which schools differ; what contradicts another setting is refused. */
export const changePolicy = command({
  name: 'changePolicy',
  action: 'register',
  revisionOf: async (em, { revision }: z.output<typeof PolicyChange>) => {
    await em.execute('select pg_advisory_xact_lock(?)', [POLICY_LOCK]);
    return { seen: revision, onRecord: (await shopPolicy(em)).revision };
  },
  run: async ({ em, actor, today, audit }, input: z.output<typeof PolicyChange>) => {
    const { matter, level, option, subject = '', reason } = input;
    let ofClass = level === 'class' ? subject : undefined;
    if (level === 'class' && !['pickup', 'van', 'heavy'].includes(subject))
      throw invalidField('subject', 'pickup, van or heavy is accepted.');
    if (level === 'model') {
      const model = await em.findOne(ModelEntity, { name: subject });
      if (!model) throw invalidField('subject', `There is no model ${subject} on record.`);
      ofClass = model.class;
    }
    const whole = await policyAt(em, { level, subject, class: ofClass }, { [matter]: option });
    const [found] = contradictions(whole);
    if (found) throw invalidField('option', CONTRADICTIONS[found.code]);
    const row = { matter, level, subject, option, reason: reason ?? null, personId: actor.id, settledOn: today };
    await em.insert(ShopPolicyEntity, { ...row, at: new Date() });
    await audit('settled what the shop does', `policy/${matter}`, { level, subject, option });
    return shopPolicy(em);
  },
});
