import { itemAt, type Random, seededRandom, valueAt } from '../numeric/index.ts';
import type { DepotPlan, DepotShop } from './search.ts';
import type { ShopLoad } from './shopLoad.ts';
import type { Visit } from './visits.ts';

/** How long a search goes on. */
export interface SearchUntil {
  /** Rounds of taking out and putting back. */
  rounds: number;
  seed: number;
  /** Share of the time that is over, asked now and then; 1 ends the search with what it has. */
  spent?: (() => number) | undefined;
}

/** How many vehicles are taken out at a time. */
const [FEWEST, MOST] = [2, 9];
/** Worse plans are gone on with by a chance of 1/e at so many times what a vehicle costs in the mean: at first, and at last. */
const [WARM, COLD] = [0.2, 0.002];
/** Share of the days that are passed over while putting back. */
const SKIPPED = 0.02;
const ASK_EVERY = 64;
/** How far from the middle, in working days, a vehicle without a visit is reckoned to be at most. */
const NOWHERE = 20;

/** Vehicles with their visits, as they are taken out and put back; `V` is what one vehicle has. */
export interface Parts<V> {
  /** What each vehicle has now. */
  readonly now: V[];
  /** The days on which each vehicle's visits lie; goes with what it has. */
  readonly places: readonly (readonly { day: number }[])[];
  /** Days there are. */
  readonly days: number;
  /** What all cost together beside what each costs by itself. */
  shared(): number;
  ownCost(vehicle: number, own: V): number;
  /** Whether what was promised of a vehicle is kept. */
  keepsLock(vehicle: number, own: V): boolean;
  takeOut(vehicle: number): void;
  putIn(vehicle: number, own: V): void;
  /** The best for a vehicle as things are, put in. @param skip whether a day is passed over this time */
  insert(vehicle: number, skip: () => boolean): void;
}

/**
 * Takes out the visits of a few vehicles near one day and puts each back at its best, again and again, passing over a day now
 * and then; a plan that is a little worse is gone on with, less and less. Sources, from memory: G. Schrimpf and others, Record
 * breaking optimization results using the ruin and recreate principle, Journal of Computational Physics 159 (2000); J. Christiaens
 * and G. Vanden Berghe, Slack induction by string removals, Transportation Science 54 (2020), for the days passed over.
 */
export function anneal<V>(parts: Parts<V>, { rounds, seed, spent }: SearchUntil): { best: V[]; cost: number } {
  const random = seededRandom(seed);
  const skip = () => random() < SKIPPED;
  const { now } = parts;
  const own = Float64Array.from(now, (one, vehicle) => parts.ownCost(vehicle, one));
  let cost = own.reduce((sum, one) => sum + one, parts.shared());
  let best = { best: [...now], cost };
  if (now.length === 0) return best;
  const near = new Near(parts.places, parts.days, random);
  let warmth = 0;
  for (let round = 0; round < rounds; round += 1) {
    if (round % ASK_EVERY === 0) {
      const gone = spent?.() ?? 0;
      if (gone >= 1) break;
      warmth = ((WARM * best.cost) / now.length) * (COLD / WARM) ** Math.max(round / rounds, gone);
    }
    const out = near.draw();
    const before = out.map((vehicle) => itemAt(now, vehicle));
    let next = cost - parts.shared();
    for (const vehicle of out) {
      parts.takeOut(vehicle);
      next -= valueAt(own, vehicle);
    }
    for (const vehicle of out) {
      parts.insert(vehicle, skip);
      const has = itemAt(now, vehicle);
      // A lock that others left no room for is no plan, whatever it saves.
      next += parts.keepsLock(vehicle, has) ? parts.ownCost(vehicle, has) : Infinity;
    }
    next += parts.shared();
    if (next <= cost || random() < Math.exp((cost - next) / Math.max(1e-9, warmth))) {
      cost = next;
      for (const vehicle of out) own[vehicle] = parts.ownCost(vehicle, itemAt(now, vehicle));
      if (cost < best.cost - 1e-9) best = { best: [...now], cost };
      continue;
    }
    for (const vehicle of out) parts.takeOut(vehicle);
    out.forEach((vehicle, i) => {
      parts.putIn(vehicle, itemAt(before, i));
    });
  }
  return best;
}

/** Makes a depot's plan better (`anneal`). */
export function improve(shop: DepotShop, from: DepotPlan, until: SearchUntil): DepotPlan {
  const { best } = anneal(new DepotParts(shop, from), until);
  // Sums that were kept by differences are made anew.
  return { visits: best, cost: shop.planCost(best) };
}

/** The visits of one depot's vehicles. */
class DepotParts implements Parts<Visit[]> {
  readonly now: Visit[][];
  readonly places: readonly (readonly Visit[])[];
  readonly days: number;
  private readonly shop: DepotShop;
  private readonly load: ShopLoad;

  constructor(shop: DepotShop, from: DepotPlan) {
    this.shop = shop;
    this.load = shop.load();
    this.now = from.visits.map(() => []);
    this.places = this.now;
    this.days = shop.problem.days.length;
    from.visits.forEach((own, vehicle) => {
      this.putIn(vehicle, own);
    });
  }

  shared(): number {
    return this.load.overtimeCost();
  }

  ownCost(vehicle: number, own: Visit[]): number {
    return this.shop.ownCost(vehicle, own);
  }

  keepsLock(vehicle: number, own: Visit[]): boolean {
    return this.shop.keepsLock(vehicle, own);
  }

  takeOut(vehicle: number): void {
    this.load.putAll(itemAt(this.shop.vehicles, vehicle), itemAt(this.now, vehicle), -1);
    this.now[vehicle] = [];
  }

  putIn(vehicle: number, own: Visit[]): void {
    this.load.putAll(itemAt(this.shop.vehicles, vehicle), own, 1);
    this.now[vehicle] = own;
  }

  insert(vehicle: number, skip: () => boolean): void {
    this.now[vehicle] = this.shop.insert(vehicle, this.load, skip);
  }
}

/** Draws vehicles whose visits lie near one day, in an order drawn anew; some that have none are among them. */
class Near {
  private readonly now: readonly (readonly { day: number }[])[];
  private readonly days: number;
  private readonly random: Random;

  constructor(now: readonly (readonly { day: number }[])[], days: number, random: Random) {
    this.now = now;
    this.days = days;
    this.random = random;
  }

  draw(): number[] {
    const { now, random, days } = this;
    const count = Math.min(now.length, FEWEST + Math.floor(random() * (MOST - FEWEST + 1)));
    const about = itemAt(now, Math.floor(random() * now.length));
    const centre = about[Math.floor(random() * about.length)]?.day ?? Math.floor(random() * days);
    const nearest: { vehicle: number; away: number }[] = [];
    for (let vehicle = 0; vehicle < now.length; vehicle += 1) {
      let away = NOWHERE * random();
      const visits = itemAt(now, vehicle);
      if (visits.length > 0) {
        away = Infinity;
        for (const { day } of visits) away = Math.min(away, Math.abs(day - centre));
      }
      away += 3 * random();
      if (nearest.length === count && away >= (nearest.at(-1)?.away ?? Infinity)) continue;
      let at = nearest.length === count ? count - 1 : nearest.length;
      for (; at > 0 && (nearest[at - 1]?.away ?? 0) > away; at -= 1) nearest[at] = itemAt(nearest, at - 1);
      nearest[at] = { vehicle, away };
    }
    const drawn = nearest.map(({ vehicle }) => vehicle);
    for (let i = drawn.length - 1; i > 0; i -= 1) {
      const k = Math.floor(random() * (i + 1));
      [drawn[i], drawn[k]] = [itemAt(drawn, k), itemAt(drawn, i)];
    }
    return drawn;
  }
}
