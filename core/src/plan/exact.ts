import loadTyped from 'highs';
import { Master } from './master.ts';
import type { DepotPlan, DepotShop } from './search.ts';

// The package's types give its loader as a namespace where it is a function.
const load = loadTyped as unknown as typeof loadTyped.default;

/** When to stop, and who asks. */
export interface ExactUntil {
  seconds: number;
  /** Share of the cost that need not be proved. */
  gap: number;
  /** A clock, seconds. */
  now: () => number;
  stop?: (() => boolean) | undefined;
  /** Visits that could still be of a better plan, from which on it is branched on them instead of cut on. */
  few?: number | undefined;
}

/** A depot's plan with what was proved of it: no plan costs less than the bound. */
export interface ProvedPlan {
  plan: DepotPlan;
  bound: number;
  columns: number;
}

/** Rounds of pricing and cutting at most. */
const MOST_ROUNDS = 1000;
/** Below so many visits, branching is quicker than cutting on. */
const FEW = 4000;
/** Rounds that may bring less than so much of what is left to prove. */
const PATIENT_ROUNDS = 20;
const LEAST_GAIN = 0.02;
/** Cuts are made once what could enter lowers the bound by no more than this share of the cost. */
const NEARLY = 0.002;

/**
 * A depot's best plan by column generation and branch and cut: a column is a visit (vehicle, set of axles, day, inside or
 * outside); each axle is in one or not placed; hours a day are bounded with overtime at its price. Columns enter by their
 * reduced cost; the bound is the linear programme's, lowered by the best that is not in it (Lagrange); those whose reduced
 * cost lies beyond incumbent − bound can't be of a better plan and are left out of the branching. Where no column enters any
 * more, the days' hours are cut (`cuts.ts`), and it begins anew.
 * Source: C. Barnhart and others, Branch-and-price: column generation for solving huge integer programs, Operations
 * Research 46 (1998), from memory.
 */
export async function provePlan(shop: DepotShop, from: DepotPlan, until: ExactUntil): Promise<ProvedPlan> {
  const { now } = until;
  const end = now() + until.seconds;
  const master = new Master(await load(), shop, from);
  try {
    let bound = -Infinity;
    const closed = () => from.cost - bound <= until.gap * from.cost;
    const stalls = new Stalls();
    const over = () => now() >= end || until.stop?.() === true;
    for (let round = 0; round < MOST_ROUNDS && !over(); round += 1) {
      const { objective, duals } = master.solve();
      const { entering, below, near } = master.price(duals, from.cost - bound);
      bound = Math.max(bound, objective + below);
      if (closed() || near <= (until.few ?? FEW) || stalls.at(bound, from.cost - bound)) break;
      // Cut where what could still enter matters little: waiting for the last of it only takes longer.
      const cuts = below >= -NEARLY * from.cost ? master.cut() : 0;
      master.add(entering);
      if (cuts === 0 && entering.length === 0) break;
    }
    if (closed() || over()) return { plan: from, bound: Math.min(bound, from.cost), columns: master.columns.length };
    const { objective, duals } = master.solve();
    // Where pricing had not come to its end, what could still enter lowers what is proved.
    const base = objective + master.price(duals).below;
    const { within, cut } = master.within(duals, from.cost - base);
    const found = master.branch(within, from, { ...until, seconds: Math.max(0.5, end - now()) });
    const proved = Math.min(found.bound, base + cut);
    const plan = found.plan && found.plan.cost < from.cost ? found.plan : from;
    return { plan, bound: Math.min(plan.cost, Math.max(bound, proved)), columns: within.length };
  } finally {
    master.dispose();
  }
}

/** Tells when cutting no longer pays: many rounds brought little of what is left to prove. */
class Stalls {
  private readonly bounds: number[] = [];

  at(bound: number, left: number): boolean {
    this.bounds.push(bound);
    const before = this.bounds.at(-1 - PATIENT_ROUNDS);
    return before !== undefined && bound - before < LEAST_GAIN * left;
  }
}
