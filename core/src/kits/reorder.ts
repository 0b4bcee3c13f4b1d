import { expectedShort, unitsFor } from './demand.ts';

/**
 * Stock and orders below which a new order goes out: the least number that covers demand over the lead time with the chance
 * of the service level (type 1 service: the share of order cycles without a shortage).
 * Source: S. Nahmias, Production and Operations Analysis, lot-size–reorder-point systems (from memory).
 *
 * @param leadDemand distribution of the demand over lead time and review, units
 */
export function reorderPoint(leadDemand: Float64Array, serviceLevel: number): number {
  return unitsFor(leadDemand, serviceLevel);
}

/**
 * The share of demand met from the shelf where orders of so many units go out at that point (type 2 service):
 * 1 − n(R) ÷ Q. Source: as above, from memory.
 */
export function fillRate(leadDemand: Float64Array, point: number, quantity: number): number {
  return 1 - expectedShort(leadDemand, point) / quantity;
}

/**
 * The order quantity that costs least a year, √(2·D·S ÷ H).
 * Source: F. W. Harris, How Many Parts to Make at Once (1913).
 *
 * @param perYear demand, units a year
 * @param orderCost what an order costs, whatever is in it
 * @param holding what a unit on the shelf costs a year, same currency
 */
export function economicQuantity(perYear: number, orderCost: number, holding: number): number {
  if (!(perYear >= 0 && orderCost >= 0 && holding > 0))
    throw new RangeError('demand, order cost and holding cost are needed');
  return Math.sqrt((2 * perYear * orderCost) / holding);
}

export interface Terms {
  /** Price of a unit; any currency, the same as the order cost’s. */
  price: number;
  orderCost: number;
  /** Cost of a year on the shelf as a share of the price. */
  holdingShare: number;
  /** Units come in multiples of this, ≥ 1. */
  pack: number;
  /** Least order, units. */
  least: number;
  /** Days it keeps on the shelf; undefined where it does not expire. */
  shelfDays: number | undefined;
  /** The most that may be spent on it now; undefined where nothing binds. */
  budget: number | undefined;
}

/** What bounded an order quantity, in the order in which it did. */
export type QuantityReason =
  | { code: 'economic'; units: number; perYear: number }
  | { code: 'to the reorder point'; units: number }
  | { code: 'shelf life'; units: number; days: number }
  | { code: 'least order'; units: number }
  | { code: 'pack'; units: number; pack: number }
  | { code: 'budget'; units: number };

/**
 * How many to order, and why: the economic quantity, never less than lifts stock and orders over the reorder point, never
 * more than is used before it expires, in whole packs, within the budget. Nought where stock and orders suffice.
 *
 * @param position on hand and on order, less what is promised
 * @param perYear expected demand a year
 * @throws RangeError where pack < 1 or price ≤ 0
 */
export function orderQuantity(
  { position, point, perYear }: { position: number; point: number; perYear: number },
  terms: Terms,
): { units: number; why: QuantityReason[] } {
  const { price, orderCost, holdingShare, pack, least, shelfDays, budget } = terms;
  if (!(Number.isInteger(pack) && pack >= 1)) throw new RangeError('a pack holds one unit or more');
  if (!(price > 0)) throw new RangeError('a price is over nought');
  if (position >= point) return { units: 0, why: [] };
  const why: QuantityReason[] = [];
  let units = Math.max(1, Math.round(economicQuantity(perYear, orderCost, holdingShare * price)));
  why.push({ code: 'economic', units, perYear });
  const bound = (reason: QuantityReason) => {
    if (reason.units === units) return;
    units = reason.units;
    why.push(reason);
  };
  if (shelfDays !== undefined)
    bound({
      code: 'shelf life',
      units: Math.min(units, Math.max(1, Math.floor((perYear * shelfDays) / 365.25) - Math.max(0, position))),
      days: shelfDays,
    });
  bound({ code: 'to the reorder point', units: Math.max(units, point - position) });
  bound({ code: 'least order', units: Math.max(units, least) });
  bound({ code: 'pack', units: Math.ceil(units / pack) * pack, pack });
  if (budget !== undefined && units * price > budget)
    bound({ code: 'budget', units: Math.floor(budget / price / pack) * pack });
  return { units, why };
}
