import type { PlanTermsChange, Shop, ShopChange } from '@mile-mark/contract/plan';
import type { z } from 'zod';
import { shopChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PersonEntity } from '../../people/index.ts';
import { DepotEntity } from '../../register/index.ts';
import { DepotShopEntity, PlanTermsEntity } from '../entities.ts';
import { openDepots, shopView } from '../queries/shop.ts';

async function depotIdOf(em: EntityManager, name: string): Promise<string> {
  const depot = await em.findOne(DepotEntity, { name });
  if (!depot) throw new ApiError('not_found', `There is no depot ${name} on record.`);
  return depot.id;
}

type Change = z.output<typeof ShopChange> & { depot: string };

/** States how a depot's shop works by the week. */
export const changeShop = command({
  name: 'changeShop',
  action: 'plan',
  revisionOf: async (em, { depot, revision }: Change) => {
    await em.execute(`select pg_advisory_xact_lock(hashtextextended('depot shop', 3))`);
    const row = await em.findOne(DepotShopEntity, { depotId: await depotIdOf(em, depot) });
    return { seen: revision, onRecord: row?.revision ?? 1 };
  },
  run: async ({ em, actor, today, audit, emit }, { depot, revision: _seen, ...week }: Change): Promise<Shop> => {
    const depotId = await depotIdOf(em, depot);
    const known = new Set((await em.find(PersonEntity, { leftOn: null })).map(({ id }) => id));
    week.people.forEach(({ personId }, i) => {
      if (!known.has(personId)) throw invalidField(`people.${i}.personId`, 'A person who is on record is accepted.');
    });
    const before = await em.findOne(DepotShopEntity, { depotId });
    await em.upsert(DepotShopEntity, {
      depotId,
      week,
      revision: (before?.revision ?? 1) + 1,
      personId: actor.id,
      changedOn: today,
    });
    await audit('stated how a shop works', `depot/${depotId}`, { before: before?.week ?? null, after: week });
    await emit(shopChanged({}));
    return shopView(em.fork({ keepTransactionContext: true, clear: true }), today);
  },
});

/** Ways by the depots' ids. */
async function waysById(em: EntityManager, travel: TermsChange['travel']): Promise<TermsChange['travel']> {
  const ids = new Map([...(await openDepots(em))].map(([id, name]) => [name, id]));
  return travel.map(({ between, ...way }, i) => ({
    ...way,
    between: between.map((name, k) => {
      const id = ids.get(name);
      if (id === undefined) throw invalidField(`travel.${i}.between.${k}`, `There is no depot ${name} on record.`);
      return id;
    }),
  }));
}

type TermsChange = z.output<typeof PlanTermsChange>;

/** Changes what plans weigh. */
export const changePlanTerms = command({
  name: 'changePlanTerms',
  action: 'plan',
  revisionOf: async (em, { revision }: TermsChange) => {
    await em.execute(`select pg_advisory_xact_lock(hashtextextended('plan terms', 3))`);
    return { seen: revision, onRecord: (await em.findOne(PlanTermsEntity, { id: true }))?.revision ?? 1 };
  },
  run: async ({ em, actor, today, audit, emit }, { revision: _seen, ...stated }: TermsChange): Promise<Shop> => {
    const terms = { ...stated, travel: await waysById(em, stated.travel) };
    const before = await em.findOne(PlanTermsEntity, { id: true });
    await em.upsert(PlanTermsEntity, {
      id: true,
      terms,
      revision: (before?.revision ?? 1) + 1,
      personId: actor.id,
      changedOn: today,
    });
    await audit('changed what plans weigh', 'plan/terms', { before: before?.terms ?? null, after: terms });
    await emit(shopChanged({}));
    return shopView(em.fork({ keepTransactionContext: true, clear: true }), today);
  },
});
