import type { KitPart } from '../inspect/index.ts';
import type { Side } from '../measure/index.ts';
import { fitsAt, type Place } from './kit.ts';
import type { Part } from './part.ts';

/** What a depot has of a part, and what it wants. */
export interface Standing {
  depot: string;
  part: string;
  onHand: number;
  onOrder: number;
  /** Units that let it wait for an order: below, it asks. */
  point: number;
  /** Units it keeps for itself: nobody gives away what it would have to buy again soon. */
  keeps: number;
  /** Units it would order, were there no other depot. */
  wants: number;
}

/** Units that go from one depot to another before any are bought. */
export interface Transfer {
  part: string;
  from: string;
  to: string;
  units: number;
}

/**
 * Transfers between depots before purchases: a depot that is short takes from those that have more than they keep for
 * themselves, the fullest first, and never below that.
 *
 * @returns transfers, and what each depot still has to buy
 */
export function transfersFirst(standings: readonly Standing[]): { transfers: Transfer[]; buys: Standing[] } {
  const transfers: Transfer[] = [];
  const left = standings.map((one) => ({ ...one }));
  for (const short of left) {
    if (short.wants === 0) continue;
    const givers = left
      .filter(({ part, depot }) => part === short.part && depot !== short.depot)
      .map((giver) => ({ giver, spare: giver.onHand - giver.keeps }))
      .filter(({ spare }) => spare > 0)
      .sort((a, b) => b.spare - a.spare);
    for (const { giver, spare } of givers) {
      const missing = short.point - short.onHand - short.onOrder;
      const units = Math.min(spare, missing);
      if (units <= 0) break;
      transfers.push({ part: short.part, from: giver.depot, to: short.depot, units });
      giver.onHand -= units;
      short.onHand += units;
    }
    if (short.onHand + short.onOrder >= short.point) short.wants = 0;
  }
  return { transfers, buys: left.filter(({ wants }) => wants > 0) };
}

/** What one supplier asks for a part. */
export interface Offer {
  part: string;
  supplier: string;
  price: number;
  currency: string;
  leadDays: number;
}

/** The offer to take: the cheapest of those that come within the time there is, or else the soonest. */
export function bestOffer(offers: readonly Offer[], daysLeft: number): Offer | undefined {
  const inTime = offers.filter(({ leadDays }) => leadDays <= daysLeft);
  const [best] =
    inTime.length > 0
      ? inTime.sort((a, b) => a.price - b.price || a.leadDays - b.leadDays)
      : [...offers].sort((a, b) => a.leadDays - b.leadDays || a.price - b.price);
  return best;
}

/** A need that an order is to meet. */
export interface OpenNeed {
  job: string;
  unit: string;
  kind: KitPart;
  place: Place;
  side: Side | 'both';
}

/** What is odd about an order's line, beside the jobs that need parts. */
export type LineDoubt =
  /** No job or axle it fits needs it, but another axle or side does need its kind: the wrong one may have been typed. */
  | { code: 'other axle' | 'other side'; needed: OpenNeed }
  /** Nothing on the road at that depot takes it. */
  | { code: 'fits nothing here' };

/**
 * Holds a line against the needs that are open: two sets for the rear and none for the front is said before it is sent.
 *
 * @param needs open needs of the depot
 * @param places all wheel ends of the depot's vehicles
 */
export function lineDoubts(part: Part, needs: readonly OpenNeed[], places: readonly Place[]): LineDoubt[] {
  if (part.fits.length === 0) return [];
  const of = (place: Place, side: Side | 'both') => part.fits.some((fit) => fitsAt(fit, place, side));
  const here = places.some((place) => of(place, 'left') || of(place, 'right') || of(place, 'both'));
  if (!here) return [{ code: 'fits nothing here' }];
  const sameKind = needs.filter(({ kind }) => kind === part.kind);
  if (sameKind.length === 0 || sameKind.some(({ place, side }) => of(place, side))) return [];
  const otherSide = sameKind.find(({ place }) => of(place, 'left') || of(place, 'right'));
  const models = new Set(part.fits.map(({ model }) => model));
  const otherAxle = sameKind.find(({ place }) => models.has(place.model));
  if (otherSide) return [{ code: 'other side', needed: otherSide }];
  return otherAxle ? [{ code: 'other axle', needed: otherAxle }] : [];
}

/** Weeks for which a depot keeps what it will need itself (an assumption, no source). */
const KEPT_WEEKS = 8;

/** What a depot keeps: twice its reorder point, and at least what it will need in eight weeks in the mean, in whole units. */
export function kept(point: number, weeks: readonly { mean: number }[]): number {
  const needed = weeks.slice(0, KEPT_WEEKS).reduce((sum, { mean }) => sum + mean, 0);
  return Math.max(2 * point, Math.ceil(needed - 1e-6));
}

/** Whether a part may take another's place wherever that one fits: same kind, and no place of it left out. */
export function standsIn(part: Part, substitute: Part): boolean {
  if (part.kind !== substitute.kind) return false;
  if (substitute.fits.length === 0) return true;
  return (
    part.fits.length > 0 &&
    part.fits.every((own) =>
      substitute.fits.some(
        (fit) =>
          (fit.model === undefined || fit.model === own.model) &&
          (fit.axle === undefined || fit.axle === own.axle) &&
          (fit.side === 'both' || fit.side === own.side) &&
          (fit.rotorMm === undefined || fit.rotorMm === own.rotorMm),
      ),
    )
  );
}
