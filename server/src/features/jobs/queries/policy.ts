import type { ShopPolicyView } from '@mile-mark/contract/jobs';
import { MatterName, PolicyLevel } from '@mile-mark/contract/jobs';
import { MATTER_WHENS } from '@mile-mark/contract/words';
import { MATTER_NAMES, MATTERS, policyFor, type ShopPolicy } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const PolicySql = z.object({
  matter: MatterName,
  level: PolicyLevel,
  subject: z.string(),
  option: z.string(),
  reason: z.string().nullable(),
  by: z.string(),
  on: z.string(),
});
type PolicySql = z.output<typeof PolicySql>;

/** Everything the shop settled, newest first. */
async function settledOf(em: EntityManager): Promise<PolicySql[]> {
  return rowsOf(
    em,
    PolicySql,
    `select s.matter, s.level, s.subject, s.option, s.reason, p.name as by, s.settled_on::text as on
     from shop_policy s join person p on p.id = s.person_id order by s.serial desc`,
  );
}

function layer(settled: readonly PolicySql[], level: PolicySql['level'], subject: string): Partial<ShopPolicy> {
  const own = settled.filter((one) => one.level === level && one.subject.toLowerCase() === subject.toLowerCase());
  // Newest first: the first of a matter counts, so the older ones go in before it.
  return Object.fromEntries([...own].reverse().map(({ matter, option }) => [matter, option]));
}

/** What the shop does for a vehicle: the fleet's settings, over them those of its class, over them those of its model. */
export async function policyOfModel(em: EntityManager, model: { name: string; class: string }): Promise<ShopPolicy> {
  const settled = await settledOf(em);
  return policyFor([
    layer(settled, 'fleet', ''),
    layer(settled, 'class', model.class),
    layer(settled, 'model', model.name),
  ]);
}

/** The policy of a level by itself and those it stands on, for a change to be judged. */
export async function policyAt(
  em: EntityManager,
  at: { level: PolicySql['level']; subject: string; class: string | undefined },
  change: Partial<ShopPolicy>,
): Promise<ShopPolicy> {
  const settled = await settledOf(em);
  const layers = [layer(settled, 'fleet', '')];
  if (at.class !== undefined) layers.push(layer(settled, 'class', at.class));
  if (at.level !== 'fleet') layers.push(layer(settled, at.level, at.subject));
  return policyFor([...layers, change]);
}

export async function shopPolicy(em: EntityManager): Promise<ShopPolicyView> {
  const settings = await settledOf(em);
  const fleet = policyFor([layer(settings, 'fleet', '')]);
  return {
    matters: MATTER_NAMES.map((matter) => ({
      matter,
      options: [...MATTERS[matter]],
      fleet: fleet[matter],
      whens: [MATTER_WHENS[matter]],
    })),
    settings,
    revision: settings.length + 1,
  };
}
