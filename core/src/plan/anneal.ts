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

/**
 * Takes out the visits of a few vehicles near one day and puts each back at its best, again and again, passing over a day now
 * and then; a plan that is a little worse is gone on with, less and less. Sources, from memory: G. Schrimpf and others, Record
 * breaking optimization results using the ruin and recreate principle, Journal of Computational Physics 159 (2000); J. Christiaens
 * and G. Vanden Berghe, Slack induction by string removals, Transportation Science 54 (2020), for the days passed over.
 */
export function improve(shop: DepotShop, from: DepotPlan, { rounds, seed, spent }: SearchUntil): DepotPlan {
  const random = seededRandom(seed);
  const skip = () => random() < SKIPPED;
  const load = shop.load();
  const now = from.visits.map((own) => [...own]);
  now.forEach((own, vehicle) => {
    for (const visit of own) load.put(itemAt(shop.vehicles, vehicle), visit, 1);
  });
  const own = Float64Array.from(now, (visits, vehicle) => shop.ownCost(vehicle, visits));
  let cost = own.reduce((sum, one) => sum + one, load.overtimeCost());
  let best: DepotPlan = { visits: now.map((visits) => [...visits]), cost };
  if (shop.vehicles.length === 0) return best;
  const near = new Near(now, shop.problem.days.length, random);
  let warmth = 0;
  for (let round = 0; round < rounds; round += 1) {
    if (round % ASK_EVERY === 0) {
      const gone = spent?.() ?? 0;
      if (gone >= 1) break;
      warmth = ((WARM * best.cost) / now.length) * (COLD / WARM) ** Math.max(round / rounds, gone);
    }
    const out = near.draw();
    const before = out.map((vehicle) => itemAt(now, vehicle));
    let next = cost - load.overtimeCost();
    for (const vehicle of out) {
      takeOut(shop, load, now, vehicle);
      next -= valueAt(own, vehicle);
    }
    for (const vehicle of out) {
      const visits = shop.insert(vehicle, load, skip);
      now[vehicle] = visits;
      // A lock that others left no room for is no plan, whatever it saves.
      next += shop.keepsLock(vehicle, visits) ? shop.ownCost(vehicle, visits) : Infinity;
    }
    next += load.overtimeCost();
    if (next <= cost || random() < Math.exp((cost - next) / Math.max(1e-9, warmth))) {
      cost = next;
      for (const vehicle of out) own[vehicle] = shop.ownCost(vehicle, itemAt(now, vehicle));
      if (cost < best.cost - 1e-9) best = { visits: now.map((visits) => [...visits]), cost };
      continue;
    }
    for (const vehicle of out) takeOut(shop, load, now, vehicle);
    out.forEach((vehicle, i) => {
      now[vehicle] = itemAt(before, i);
      for (const visit of itemAt(before, i)) load.put(itemAt(shop.vehicles, vehicle), visit, 1);
    });
  }
  // Sums that were kept by differences are made anew.
  return { ...best, cost: shop.planCost(best.visits) };
}

function takeOut(shop: DepotShop, load: ShopLoad, now: Visit[][], vehicle: number): void {
  for (const visit of itemAt(now, vehicle)) load.put(itemAt(shop.vehicles, vehicle), visit, -1);
  now[vehicle] = [];
}

/** Draws vehicles whose visits lie near one day, in an order drawn anew; some that have none are among them. */
class Near {
  private readonly now: readonly (readonly Visit[])[];
  private readonly days: number;
  private readonly random: Random;

  constructor(now: readonly (readonly Visit[])[], days: number, random: Random) {
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
