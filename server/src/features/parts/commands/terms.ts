import type { PartsTermsChange } from '@mile-mark/contract/parts';
import type { z } from 'zod';
import { catalogueChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { PartsTermsEntity, SupplierEntity } from '../entities.ts';
import { partsTerms } from '../queries/terms.ts';

/** Changes what orders rest on; demand and proposals are computed anew. */
export const changePartsTerms = command({
  name: 'changePartsTerms',
  action: 'supply',
  revisionOf: async (em, { revision }: z.output<typeof PartsTermsChange>) => {
    const [row] = await em.execute<{ revision: number }[]>('select revision from parts_terms for update');
    return { seen: revision, onRecord: row?.revision ?? 0 };
  },
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof PartsTermsChange>) => {
    const { service, holdingShare, budget } = input;
    if (budget && (await em.count(SupplierEntity, { currency: budget.currency })) === 0)
      throw invalidField('budget.currency', `No supplier sells in ${budget.currency}; a currency of one is accepted.`);
    const before = await partsTerms(em, today);
    await em.nativeUpdate(
      PartsTermsEntity,
      { id: true },
      {
        service,
        holdingShare,
        budgetMinor: budget?.minor ?? null,
        budgetCurrency: budget?.currency ?? null,
        revision: before.revision + 1,
        personId: actor.id,
        changedOn: today,
      },
    );
    await audit('changed what orders rest on', 'parts/terms', { before, after: { service, holdingShare, budget } });
    await emit(catalogueChanged({}));
    return partsTerms(em, today);
  },
});
