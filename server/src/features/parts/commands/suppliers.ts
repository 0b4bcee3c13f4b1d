import { LockMode } from '@mikro-orm/core';
import type { NewSupplier, SupplierChange } from '@mile-mark/contract/parts';
import { z } from 'zod';
import { catalogueChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PartOfferEntity, SupplierEntity } from '../entities.ts';

type Entered = z.output<typeof SupplierChange>;

async function refuseTaken(em: EntityManager, name: string, own: string): Promise<void> {
  const taken = await firstRow(
    em,
    z.object({ id: z.string() }),
    'select id from supplier where lower(name) = lower(?)',
    [name],
  );
  if (taken && taken.id !== own)
    throw invalidField('name', `There is a supplier “${name}” already; another name is accepted.`);
}

const rowOf = ({ freightFreeMinor, ...own }: Entered) => ({ ...own, freightFreeMinor: freightFreeMinor ?? null });

/** Puts a supplier on record. */
export const addSupplier = command({
  name: 'addSupplier',
  action: 'supply',
  clientId: 'id',
  run: async ({ em, audit, emit }, { id, ...input }: z.output<typeof NewSupplier>) => {
    await refuseTaken(em, input.name, id);
    await em.insert(SupplierEntity, { id, ...rowOf(input) });
    await audit('put a supplier on record', `supplier/${id}`, { name: input.name });
    await emit(catalogueChanged({}));
    return { id };
  },
});

/** Changes a supplier's terms; prices on record are in its currency, so that one stays while there are any. */
export const changeSupplier = command({
  name: 'changeSupplier',
  action: 'supply',
  run: async ({ em, audit, emit }, { supplierId, ...input }: Entered & { supplierId: string }) => {
    const own = await em.findOne(SupplierEntity, { id: supplierId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!own) throw new ApiError('not_found', 'There is no such supplier on record.');
    await refuseTaken(em, input.name, supplierId);
    if (own.currency !== input.currency && (await em.count(PartOfferEntity, { supplierId })) > 0)
      throw invalidField('currency', `Its parts are priced in ${own.currency}; that is accepted.`);
    await em.nativeUpdate(SupplierEntity, { id: supplierId }, rowOf(input));
    await audit('changed a supplier', `supplier/${supplierId}`, { after: input });
    await emit(catalogueChanged({}));
    return { id: supplierId };
  },
});
