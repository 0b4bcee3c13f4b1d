import { LockMode } from '@mikro-orm/core';
import type { NewPart, PartChange } from '@mile-mark/contract/parts';
import { partFaults, type Part, type PartFault } from '@mile-mark/core';
import { z } from 'zod';
import { catalogueChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField, type FieldError } from '../../../platform/errors.ts';
import { idByName } from '../../register/index.ts';
import { loadCatalogue } from '../catalogue.ts';
import { PartEntity, PartFitEntity, PartOfferEntity, SupplierEntity } from '../entities.ts';

type Entered = z.output<typeof PartChange>;

/** Puts a part in the catalogue. */
export const addPart = command({
  name: 'addPart',
  action: 'supply',
  clientId: 'id',
  run: async ({ em, audit, emit }, input: z.output<typeof NewPart>) => {
    await refuseTaken(em, input.number, undefined);
    await writePart(em, input.id, input, undefined);
    await audit('put a part in the catalogue', `part/${input.id}`, { number: input.number });
    await emit(catalogueChanged({}));
    return { id: input.id };
  },
});

/** Changes a part; what it was stays in the audit. */
export const changePart = command({
  name: 'changePart',
  action: 'supply',
  revisionOf: async (em, { partId, revision }: Entered & { partId: string }) => {
    const part = await em.findOne(PartEntity, { id: partId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!part) throw new ApiError('not_found', 'There is no such part in the catalogue.');
    return { seen: revision, onRecord: part.revision };
  },
  run: async ({ em, audit, emit }, { partId, ...input }: Entered & { partId: string }) => {
    await refuseTaken(em, input.number, partId);
    const before = await em.findOneOrFail(PartEntity, { id: partId }, { refresh: true });
    await writePart(em, partId, input, before.revision);
    await audit('changed a part', `part/${partId}`, { before: { ...before }, after: input });
    await emit(catalogueChanged({}));
    return { id: partId };
  },
});

async function refuseTaken(em: EntityManager, number: string, own: string | undefined): Promise<void> {
  const taken = await firstRow(em, z.object({ id: z.string() }), 'select id from part where upper(number) = upper(?)', [
    number,
  ]);
  if (taken && taken.id !== own)
    throw invalidField('number', `Part ${number} is in the catalogue already; another number is accepted.`);
}

async function writePart(
  em: EntityManager,
  id: string,
  input: Omit<Entered, 'revision'>,
  revision: number | undefined,
): Promise<void> {
  const { fits, offers, measures, supersededBy, ...own } = input;
  const { parts } = await loadCatalogue(em);
  const next =
    supersededBy === undefined
      ? undefined
      : parts.find(({ number }) => number.toUpperCase() === supersededBy.toUpperCase());
  if (supersededBy !== undefined && !next && supersededBy.toUpperCase() !== input.number.toUpperCase())
    throw invalidField(
      'supersededBy',
      `There is no part ${supersededBy} in the catalogue; one of its numbers is accepted.`,
    );
  const fitRows = await fitsOf(em, fits);
  const supersededId = next?.id ?? (supersededBy === undefined ? null : id);
  refuseFaults(
    {
      id,
      number: own.number,
      kind: own.kind,
      pieces: own.pieces,
      content: own.content,
      rank: own.rank,
      supersededBy: supersededId ?? undefined,
      fits: fitRows.map(({ modelId, axle, side, rotorMm }) => ({
        model: modelId ?? undefined,
        axle: axle ?? undefined,
        side,
        rotorMm: rotorMm ?? undefined,
      })),
    },
    parts,
  );
  const row = {
    number: own.number.toUpperCase(),
    maker: own.maker,
    makerNumber: own.makerNumber ?? null,
    name: own.name,
    kind: own.kind,
    pieces: own.pieces,
    content: own.content ?? null,
    rank: own.rank,
    shelfDays: own.shelfDays ?? null,
    exchangeMinor: own.exchangeMinor ?? null,
    diameterMm: measures.diameterMm ?? null,
    heightMm: measures.heightMm ?? null,
    thicknessMm: measures.thicknessMm ?? null,
    holes: measures.holes ?? null,
    retired: own.retired,
    supersededBy: supersededId,
    revision: (revision ?? 0) + 1,
  };
  if (revision === undefined) await em.insert(PartEntity, { id, ...row });
  else {
    await em.nativeUpdate(PartEntity, { id }, row);
    await em.nativeDelete(PartFitEntity, { partId: id });
    await em.nativeDelete(PartOfferEntity, { partId: id });
  }
  if (fitRows.length > 0)
    await em.insertMany(
      PartFitEntity,
      fitRows.map((fit) => ({ id: crypto.randomUUID(), partId: id, ...fit })),
    );
  await writeOffers(em, id, offers);
}

async function fitsOf(em: EntityManager, fits: Entered['fits']) {
  const rows: {
    modelId: string | null;
    axle: number | null;
    side: 'both' | 'left' | 'right';
    rotorMm: number | null;
  }[] = [];
  for (const [i, { model, axle, side, rotorMm }] of fits.entries()) {
    const modelId = model === undefined ? null : await idByName(em, 'model', model);
    if (modelId === undefined)
      throw invalidField(
        `fits.${i}.model`,
        `There is no model “${model ?? ''}” on record; one of the list is accepted.`,
      );
    if (modelId !== null && axle !== undefined) {
      const there = await firstRow(
        em,
        z.object({ n: z.number() }),
        'select count(*)::int as n from model_axle where model_id = ? and axle = ?',
        [modelId, axle],
      );
      if (there?.n === 0)
        throw invalidField(`fits.${i}.axle`, `${model ?? ''} has no axle ${axle}; one of its axles is accepted.`);
    }
    rows.push({ modelId, axle: axle ?? null, side, rotorMm: rotorMm ?? null });
  }
  return rows;
}

async function writeOffers(em: EntityManager, partId: string, offers: Entered['offers']): Promise<void> {
  for (const [i, { supplier, supplierNumber, leadDays, ...offer }] of offers.entries()) {
    const own = await em.findOne(SupplierEntity, { name: supplier });
    if (!own)
      throw invalidField(
        `offers.${i}.supplier`,
        `There is no supplier “${supplier}” on record; one of the list is accepted.`,
      );
    if (own.currency !== offer.currency)
      throw invalidField(`offers.${i}.currency`, `${supplier} sells in ${own.currency}; a price in that is accepted.`);
    await em.insert(PartOfferEntity, {
      partId,
      supplierId: own.id,
      supplierNumber: supplierNumber ?? null,
      leadDays: leadDays ?? null,
      ...offer,
    });
  }
}

function refuseFaults(part: Part, parts: readonly Part[]): void {
  const errors = partFaults(part, parts).map((fault): FieldError => ({
    field: fault.field,
    message: faultInWords(fault, part),
  }));
  if (errors.length > 0) throw new ApiError('invalid', errors[0]?.message, errors);
}

function faultInWords(fault: PartFault, { number, kind }: Part): string {
  switch (fault.code) {
    case 'pieces':
      return `A ${kind} comes by ${fault.accepted.join(', ').replace(/, (\d+)$/, ' or $1')}; that is accepted.`;
    case 'content':
      return `What a unit holds is said of fluid, cleaner, grease, film and thread locker; a ${kind} is counted.`;
    case 'fits nothing':
      return 'At least one model that it fits is needed.';
    case 'itself':
      return `${number} can’t take its own place; another number is accepted.`;
    case 'in a circle':
      return `${number} → ${fault.through.join(' → ')} goes round in a circle; a number that ends it is accepted.`;
    case 'other kind':
      return `What takes the place of a ${kind} is a ${kind}.`;
  }
}
