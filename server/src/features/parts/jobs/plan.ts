import {
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
import type { PartsTerms } from '@mile-mark/contract/parts';
import { offerInTime, type Catalogue } from '../catalogue.ts';
import { fleetAhead } from '../kits.ts';
import { standingOf, type Standing } from '../queries/standing.ts';
import { partsTerms, WEEKS } from '../queries/terms.ts';
import { demandOf } from './demandTask.ts';
import { noteKits } from './noteKits.ts';
import type { Planned } from './planned.ts';
import { saveProposals } from './proposals.ts';

/**
 * Computes demand and orders anew: what each depot will need of each part, when to order and how many, what to move
 * between depots before, and proposals by supplier. One at a time, whoever asks; a proposal that somebody edited stays.
 */
export async function planParts(em: EntityManager, pool: Pool, today: string, signal?: AbortSignal): Promise<void> {
  const standing = await standingOf(em, today);
  const { catalogue } = standing;
  const { axles, kits } = await fleetAhead(em, catalogue.parts, standing.jobs, today);
  const held = positionsOf(standing);
  const terms = await partsTerms(em, today);
  const demands = await demandOf(pool, {
    axles,
    kits,
    leadDays: leadDaysOf(catalogue),
    positions: new Map([...held].map(([key, { onHand, onOrder }]) => [key, onHand + onOrder])),
    service: terms.service,
    weeks: WEEKS,
  });
  signal?.throwIfAborted();
  const orderCosts = await orderCostsOf(em);
  const resting = await restingOf(em, today);
  const planned = demands
    .map((demand) => planOne(demand, { catalogue, held, orderCosts, terms, today }))
    .map((one) => letRest(one, resting.get(stockKey(one.demand.depot, one.demand.part))));
  const { buys } = transfersFirst(planned.map(asStanding));
  const buying = new Set(buys.map(({ depot, part }) => stockKey(depot, part)));
  const bought = withinBudget(
    planned.filter(({ demand }) => buying.has(stockKey(demand.depot, demand.part))),
    { catalogue, held, orderCosts, terms, today },
  );
  const final = planned.map((one) => bought.get(stockKey(one.demand.depot, one.demand.part)) ?? one);
  await em.transactional(async (inner) => {
    await inner.execute(`select pg_advisory_xact_lock(hashtextextended('parts plan', 2))`);
    await savePlans(inner, final, terms, today);
    await saveProposals(inner, [...bought.values()], today);
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

/** What an order quantity stands on beside the demand. */
interface Around {
  catalogue: Catalogue;
  held: ReadonlyMap<string, { onHand: number; onOrder: number }>;
  orderCosts: ReadonlyMap<string, number>;
  terms: PartsTerms;
  today: string;
}

/** Purchases as far as the month's budget goes, what has to go out first before the rest; the budget binds in its currency. */
function withinBudget(buying: readonly Planned[], around: Around): Map<string, Planned> {
  const { budget } = around.terms;
  let left = budget ? budget.minor - budget.spentMinor : Infinity;
  return new Map(
    [...buying]
      .sort((a, b) => ((a.latest ?? '9') < (b.latest ?? '9') ? -1 : 1))
      .map((one) => {
        const { depot, part } = one.demand;
        if (!budget || one.offer?.currency !== budget.currency) return [stockKey(depot, part), one];
        const bounded = planOne(one.demand, around, Math.max(0, left));
        left -= bounded.units * one.offer.price_minor;
        return [stockKey(depot, part), bounded];
      }),
  );
}

function planOne(demand: PartDemand, { catalogue, held, orderCosts, terms, today }: Around, budget?: number): Planned {
  const { onHand, onOrder } = held.get(stockKey(demand.depot, demand.part)) ?? { onHand: 0, onOrder: 0 };
  const part = catalogue.byId.get(demand.part);
  const offer = offerInTime(catalogue, demand.part, demand.sufficesUntil ?? Infinity);
  const base = { demand, offer, onHand, onOrder };
  if (!offer)
    return {
      ...base,
      units: 0,
      why: [...demandInWords(demand, onHand, onOrder, terms), 'Nobody on record sells it.'],
      latest: undefined,
    };
  const { units, why } = orderQuantity(
    { position: onHand + onOrder, point: demand.point, perYear: demand.perYear },
    {
      price: offer.price_minor,
      orderCost: orderCosts.get(offer.supplier_id) ?? 0,
      holdingShare: terms.holdingShare,
      pack: offer.pack,
      least: offer.least,
      shelfDays: part?.shelf_days ?? undefined,
      budget,
    },
  );
  return {
    ...base,
    units,
    why: [...demandInWords(demand, onHand, onOrder, terms), ...why.map((reason) => reasonInWords(reason))],
    latest: latestOrder(demand, offer.lead_days, today),
  };
}

/** By when it has to go out: the lead time before the day from which stock and orders no longer suffice, today at the soonest. */
function latestOrder({ sufficesUntil }: PartDemand, leadDays: number, today: string): string | undefined {
  if (sufficesUntil === undefined) return undefined;
  return dateOfDay(dayNumber(today) + Math.max(0, sufficesUntil - leadDays));
}

const figure = (value: number) => (value < 10 ? value.toFixed(1) : Math.round(value).toString());

function demandInWords(demand: PartDemand, onHand: number, onOrder: number, { service }: PartsTerms): string[] {
  const { lead, point, axles, perYear } = demand;
  return [
    `${axles} ${axles === 1 ? 'axle' : 'axles'} here may take it within ${WEEKS} weeks; in the mean ${figure(perYear)} a year.`,
    `Over ${lead.days} days (lead time, and a day until it is looked at) ${figure(lead.mean)} in the mean, at most ${lead.p95} nineteen times in twenty.`,
    `Reorder point ${point}: that many suffice over the lead time with ${Number((service * 100).toFixed(1))} %. On hand ${onHand}, on order ${onOrder}.`,
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
      return `${reason.units}, what the month’s budget leaves.`;
  }
}

async function savePlans(
  em: EntityManager,
  planned: readonly Planned[],
  { service }: PartsTerms,
  today: string,
): Promise<void> {
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
          lead: { ...demand.lead, service, onHand, onOrder, sufficesUntil: demand.sufficesUntil ?? null },
          reorder_point: demand.point,
          order_units: units,
          why,
        })),
      ),
    ],
  );
}
