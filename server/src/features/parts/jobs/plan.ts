import {
  bestOffer,
  dateOfDay,
  dayNumber,
  keptBack,
  orderQuantity,
  stockKey,
  successor,
  transfersFirst,
  type PartDemand,
  type QuantityReason,
} from '@mile-mark/core';
import { dayInWords } from '@mile-mark/contract/words';
import { z } from 'zod';
import type { Pool } from '../../../platform/compute/pool.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Catalogue, CatalogueOffer } from '../catalogue.ts';
import { fleetAhead } from '../kits.ts';
import { standingOf, type Standing } from '../queries/standing.ts';
import { TERMS } from '../terms.ts';
import { OrderLineEntity, PurchaseOrderEntity } from '../entities.ts';
import { demandOf } from './demandTask.ts';
import { noteKits } from './noteKits.ts';

/** What a depot is to order of a part, and why. */
interface Planned {
  demand: PartDemand;
  offer: CatalogueOffer | undefined;
  onHand: number;
  onOrder: number;
  units: number;
  why: string[];
  /** By when it has to be ordered. */
  latest: string | undefined;
}

/**
 * Computes demand and orders anew: what each depot will need of each part, when to order and how many, what to move
 * between depots before, and proposals by supplier. One at a time, whoever asks; a proposal that somebody edited stays.
 */
export async function planParts(em: EntityManager, pool: Pool, today: string, signal?: AbortSignal): Promise<void> {
  const standing = await standingOf(em, today);
  const { catalogue } = standing;
  const { axles, kits } = await fleetAhead(em, catalogue.parts, standing.jobs, today);
  const held = positionsOf(standing);
  const demands = await demandOf(pool, {
    axles,
    kits,
    leadDays: leadDaysOf(catalogue),
    positions: new Map([...held].map(([key, { onHand, onOrder }]) => [key, onHand + onOrder])),
    service: TERMS.service,
    weeks: TERMS.weeks,
  });
  signal?.throwIfAborted();
  const orderCosts = await orderCostsOf(em);
  const resting = await restingOf(em, today);
  const planned = demands
    .map((demand) => planOne(demand, catalogue, held, orderCosts, today))
    .map((one) => letRest(one, resting.get(stockKey(one.demand.depot, one.demand.part))));
  const { buys } = transfersFirst(planned.map(asStanding));
  const buying = new Map(buys.map(({ depot, part, wants }) => [stockKey(depot, part), wants]));
  await em.transactional(async (inner) => {
    await inner.execute(`select pg_advisory_xact_lock(hashtextextended('parts plan', 2))`);
    await savePlans(inner, planned, today);
    await saveProposals(
      inner,
      planned.filter(({ demand }) => buying.has(stockKey(demand.depot, demand.part))),
      today,
    );
    await noteKits(inner, standing);
  });
}

const asStanding = ({ demand, onHand, onOrder, units }: Planned) => ({
  depot: demand.depot,
  part: demand.part,
  onHand,
  onOrder,
  point: demand.point,
  keeps: keptBack(demand.point, demand.weeks),
  wants: units,
});

/** A proposal that was called off is not made again for so many days. */
const RESTS_DAYS = 7;

/** Parts of a depot whose proposal somebody called off lately, with the day from which they are proposed again. */
async function restingOf(em: EntityManager, today: string): Promise<Map<string, string>> {
  const rows = await rowsOf(
    em,
    z.object({ depot: z.string(), part: z.string(), again: z.string() }),
    `select o.depot_id as depot, l.part_id as part, max(o.called_off_on + ${RESTS_DAYS})::text as again
     from purchase_order o join order_line l on l.order_id = o.id
     where o.state = 'called off' and o.sent_at is null and o.called_off_on > ?::date - ${RESTS_DAYS} group by 1, 2`,
    [today],
  );
  return new Map(rows.map(({ depot, part, again }) => [stockKey(depot, part), again]));
}

function letRest(planned: Planned, again: string | undefined): Planned {
  if (again === undefined) return planned;
  return {
    ...planned,
    units: 0,
    why: [...planned.why, `Its proposal was called off; it is proposed again from ${dayInWords(again)} on.`],
  };
}

/** Days from an order to the shelf, at whom the shop would buy. */
function leadDaysOf({ offers }: Catalogue): Map<string, number> {
  return new Map([...offers].flatMap(([part, own]) => (own[0] ? [[part, own[0].lead_days] as const] : [])));
}

/** On hand and on order by the part that is ordered: what it took the place of is used up first, and counts with it. */
function positionsOf({ catalogue, stock, incoming }: Standing): Map<string, { onHand: number; onOrder: number }> {
  const byId = new Map(catalogue.parts.map((part) => [part.id, part]));
  const last = (id: string) => {
    const part = byId.get(id);
    return part ? successor(part, byId).id : id;
  };
  const held = new Map<string, { onHand: number; onOrder: number }>();
  const at = (depot: string, part: string) => {
    const key = stockKey(depot, last(part));
    const own = held.get(key) ?? { onHand: 0, onOrder: 0 };
    held.set(key, own);
    return own;
  };
  for (const [key, units] of stock) {
    const [depot = '', part = ''] = key.split('/');
    at(depot, part).onHand += units;
  }
  for (const { depot, part, units } of incoming) at(depot, part).onOrder += units;
  return held;
}

async function orderCostsOf(em: EntityManager): Promise<Map<string, number>> {
  const rows = await rowsOf(
    em,
    z.object({ id: z.string(), cost: z.number() }),
    'select id, order_cost_minor as cost from supplier',
  );
  return new Map(rows.map(({ id, cost }) => [id, cost]));
}

function planOne(
  demand: PartDemand,
  catalogue: Catalogue,
  held: ReadonlyMap<string, { onHand: number; onOrder: number }>,
  orderCosts: ReadonlyMap<string, number>,
  today: string,
): Planned {
  const { onHand, onOrder } = held.get(stockKey(demand.depot, demand.part)) ?? { onHand: 0, onOrder: 0 };
  const offers = catalogue.offers.get(demand.part) ?? [];
  const part = catalogue.byId.get(demand.part);
  const best = bestOffer(
    offers.map((one) => ({
      part: one.part_id,
      supplier: one.supplier_id,
      price: one.price_minor,
      currency: one.currency,
      leadDays: one.lead_days,
    })),
    demand.sufficesUntil ?? Infinity,
  );
  const offer = offers.find(({ supplier_id }) => supplier_id === best?.supplier);
  const base = { demand, offer, onHand, onOrder };
  if (!offer)
    return {
      ...base,
      units: 0,
      why: [...demandInWords(demand, onHand, onOrder), 'Nobody on record sells it.'],
      latest: undefined,
    };
  const { units, why } = orderQuantity(
    { position: onHand + onOrder, point: demand.point, perYear: demand.perYear },
    {
      price: offer.price_minor,
      orderCost: orderCosts.get(offer.supplier_id) ?? 0,
      holdingShare: TERMS.holdingShare,
      pack: offer.pack,
      least: offer.least,
      shelfDays: part?.shelf_days ?? undefined,
      budget: undefined,
    },
  );
  return {
    ...base,
    units,
    why: [...demandInWords(demand, onHand, onOrder), ...why.map((reason) => reasonInWords(reason))],
    latest: latestOrder(demand, offer.lead_days, today),
  };
}

/** By when it has to go out: the lead time before the day from which stock and orders no longer suffice, today at the soonest. */
function latestOrder({ sufficesUntil }: PartDemand, leadDays: number, today: string): string | undefined {
  if (sufficesUntil === undefined) return undefined;
  return dateOfDay(dayNumber(today) + Math.max(0, sufficesUntil - leadDays));
}

const figure = (value: number) => (value < 10 ? value.toFixed(1) : Math.round(value).toString());

function demandInWords(demand: PartDemand, onHand: number, onOrder: number): string[] {
  const { lead, point, axles, perYear } = demand;
  return [
    `${axles} ${axles === 1 ? 'axle' : 'axles'} here may take it within ${TERMS.weeks} weeks; in the mean ${figure(perYear)} a year.`,
    `Over ${lead.days} days (lead time, and a day until it is looked at) ${figure(lead.mean)} in the mean, at most ${lead.p95} nineteen times in twenty.`,
    `Reorder point ${point}: that many suffice over the lead time with ${Math.round(TERMS.service * 100)} %. On hand ${onHand}, on order ${onOrder}.`,
  ];
}

function reasonInWords(reason: QuantityReason): string {
  switch (reason.code) {
    case 'economic':
      return `${reason.units} at a time cost least a year: √(2 × demand × cost of an order ÷ cost of a year on the shelf).`;
    case 'to the reorder point':
      return `${reason.units}, so that stock and orders reach the reorder point.`;
    case 'shelf life':
      return `${reason.units}, no more than is used in the ${reason.days} days it keeps.`;
    case 'least order':
      return `${reason.units}, the least the supplier sends.`;
    case 'pack':
      return `${reason.units}, in packs of ${reason.pack}.`;
    case 'budget':
      return `${reason.units}, what the budget leaves.`;
  }
}

async function savePlans(em: EntityManager, planned: readonly Planned[], today: string): Promise<void> {
  await em.execute('delete from part_plan');
  await em.execute(
    `insert into part_plan (part_id, depot_id, computed_on, weeks, lead, reorder_point, order_units, why)
     select part_id, depot_id, ?::date, weeks, lead, reorder_point, order_units, why
     from jsonb_to_recordset(?::jsonb) as t(part_id uuid, depot_id uuid, weeks jsonb, lead jsonb, reorder_point int, order_units int, why jsonb)`,
    [
      today,
      JSON.stringify(
        planned.map(({ demand, units, why, onHand, onOrder }) => ({
          part_id: demand.part,
          depot_id: demand.depot,
          weeks: demand.weeks,
          lead: { ...demand.lead, onHand, onOrder, sufficesUntil: demand.sufficesUntil ?? null },
          reorder_point: demand.point,
          order_units: units,
          why,
        })),
      ),
    ],
  );
}

/**
 * Proposals by supplier and depot. One that says the same stays as it is; one that changes keeps its number and gets a new
 * revision; one that somebody edited is theirs.
 */
async function saveProposals(em: EntityManager, buying: readonly Planned[], today: string): Promise<void> {
  const kept = await rowsOf(em, ProposalSql, PROPOSALS);
  const there = new Map(kept.map((one) => [`${one.supplier_id} ${one.depot_id}`, one]));
  const wanted = new Map<string, (Planned & { offer: CatalogueOffer })[]>();
  for (const one of buying) {
    const { offer, units, demand } = one;
    if (!offer || units === 0) continue;
    const key = `${offer.supplier_id} ${demand.depot}`;
    wanted.set(key, [...(wanted.get(key) ?? []), { ...one, offer }]);
  }
  for (const key of new Set([...there.keys(), ...wanted.keys()])) {
    const [old, lines = []] = [there.get(key), wanted.get(key)];
    if (old?.edited) continue;
    const content = lines.map(({ demand, units }) => `${demand.part} ${units}`).sort();
    if (old && content.join() === old.content.join()) continue;
    if (old) await em.nativeDelete(OrderLineEntity, { orderId: old.id });
    if (lines.length === 0) {
      if (old) await em.nativeDelete(PurchaseOrderEntity, { id: old.id });
      continue;
    }
    const [supplierId = '', depotId = ''] = key.split(' ');
    const orderId = old?.id ?? crypto.randomUUID();
    if (old) await em.nativeUpdate(PurchaseOrderEntity, { id: orderId }, { revision: old.revision + 1, madeOn: today });
    else await em.insert(PurchaseOrderEntity, { id: orderId, supplierId, depotId, state: 'proposed', madeOn: today });
    await em.insertMany(
      OrderLineEntity,
      lines.map(({ demand, units, why, latest, offer }) => ({
        id: crypto.randomUUID(),
        orderId,
        partId: demand.part,
        units,
        priceMinor: offer.price_minor,
        currency: offer.currency,
        why,
        latest: latest ?? null,
        promisedOn: null,
        insteadId: null,
        ended: null,
      })),
    );
  }
}

const ProposalSql = z.object({
  id: z.string(),
  supplier_id: z.string(),
  depot_id: z.string(),
  edited: z.boolean(),
  revision: z.number(),
  content: z.array(z.string()),
});
const PROPOSALS = `
  select o.id, o.supplier_id, o.depot_id, o.edited, o.revision,
    array(select l.part_id || ' ' || l.units from order_line l where l.order_id = o.id order by 1) as content
  from purchase_order o where o.state = 'proposed' for update`;
