import { itemAt, valueAt } from '../numeric/index.ts';
import { checkedPlan, isLarge, keyOf, leastSplit, packed } from './columns.ts';
import { hoursCuts } from './cuts.ts';
import { DayCuts, type DayBounds, type DayPart } from './dayCuts.ts';
import { patternCut } from './patternCuts.ts';
import { priceVisits, type Duals, type MasterRows, type TellVisit } from './pricing.ts';
import type { DepotPlan, DepotShop } from './search.ts';
import { DUAL, PRIMAL, WITHOUT_SEARCH, type Highs, type Model } from './solver.ts';
import { inOwnBays, neverCost, type Visit } from './visits.ts';

/** Columns that the branching is given at most. */
const MOST_COLUMNS = 40_000;
const HAIR = 1e-6;
/** Of the visits that are not in the solution, those whose reduced cost is less are weighed in a day's cut too; so many at most. */
const [NEAR, MOST_KINDS] = [100, 14];

/** How long a branching may take, and what need not be proved. */
interface BranchUntil {
  seconds: number;
  gap: number;
  stop?: (() => boolean) | undefined;
}

/** The linear programme over visits, to which columns and cuts are added; and the branching on it. */
export class Master {
  readonly columns: Visit[] = [];
  private readonly highs: Highs;
  private readonly shop: DepotShop;
  private readonly model: Model;
  /** Row of each axle, by vehicle and place. */
  private readonly axleRow: number[][] = [];
  /**
   * Row of each vehicle of three axles and more: of its sets of more than half its axles any two share one, so that at most
   * one of them is done; halves of three pairs are no plan.
   */
  private readonly largeRow: (number | undefined)[];
  private readonly rows: MasterRows;
  private readonly cuts: DayCuts;
  /** Rows as it was solved last. */
  private solvedRows = 0;
  private readonly overtimeMost: Float64Array;
  private readonly fixed: number;
  private readonly known = new Set<string>();
  private readonly upper: number[] = [];

  constructor(highs: Highs, shop: DepotShop, from: DepotPlan) {
    this.highs = highs;
    this.shop = shop;
    let row = 0;
    for (const { vehicle } of shop.vehicles) this.axleRow.push(vehicle.axles.map(() => row++));
    const assigned = row;
    this.largeRow = shop.vehicles.map(({ vehicle }) => (vehicle.axles.length > 2 ? row++ : undefined));
    const vehicleRows = row;
    const days = shop.problem.days.length;
    const { technician, certified, bays, off, overtime } = shop.load().bounds();
    this.overtimeMost = overtime;
    const block = () => (row += days) - days;
    this.rows = {
      technician: block(),
      certified: block(),
      bays: new Map([...bays.keys()].map((kind) => [kind, block()])),
      off: new Map([...off.keys()].map((name) => [name, block()])),
    };
    this.cuts = new DayCuts(days, row);
    for (let i = 0; i < vehicleRows; i += 1) this.upper.push(1);
    for (const bound of [technician, certified, ...bays.values(), ...off.values()]) this.upper.push(...bound);
    const entries: [number, number][][] = [];
    const costs: number[] = [];
    const most: number[] = [];
    shop.vehicles.forEach((own, v) =>
      own.axles.forEach((_one, i) => {
        entries.push([[itemAt(itemAt(this.axleRow, v), i), 1]]);
        costs.push(neverCost(own, 1 << i));
        // What is locked is placed; only where its lock can't be kept at all may it be left.
        const bit = own.locked & (1 << i);
        const held = bit !== 0 && shop.costsByDay(v, own.locked).some((cost) => cost < Infinity);
        most.push(held ? 0 : 1);
      }),
    );
    for (let day = 0; day < days; day += 1) {
      const starts = [this.rows.technician, this.rows.certified, ...this.rows.bays.values()];
      entries.push(starts.map((start) => [start + day, -1]));
      costs.push(shop.problem.prices.overtimePerHour);
      most.push(valueAt(overtime, day));
    }
    this.fixed = costs.length;
    this.model = highs.createModel(this.modelOf(entries, costs, most, assigned));
    this.model.options.set({ output_flag: false });
    this.add([...from.visits.flat(), ...this.alone()]);
  }

  /** Each set of axles on the day it is cheapest by itself: the first prices are told by these. */
  private alone(): Visit[] {
    return this.shop.vehicles.flatMap(({ sets }, vehicle) =>
      sets.slice(1).flatMap((_one, i): Visit[] => {
        const byDay = this.shop.costsByDay(vehicle, i + 1);
        const own = itemAt(this.shop.vehicles, vehicle);
        const here = byDay.map((cost, k) => (inOwnBays(own, i + 1, k) ? cost : Infinity));
        const day = here.reduce((best, cost, k) => (cost < valueAt(here, best) ? k : best), 0);
        const cost = valueAt(here, day);
        return cost < Infinity ? [{ vehicle, set: i + 1, day, outside: false, cost }] : [];
      }),
    );
  }

  private modelOf(entries: readonly [number, number][][], costs: number[], most: number[], assigned: number) {
    const { infinity } = this.highs;
    return {
      numCols: costs.length,
      numRows: this.cuts.rowCount,
      colCost: costs,
      colLower: costs.map(() => 0),
      colUpper: most,
      rowLower: this.upper.map((_one, i) => (i < assigned ? 1 : -infinity)),
      rowUpper: this.upper,
      matrix: { format: 'csc' as const, numRows: this.cuts.rowCount, numCols: costs.length, ...packed(entries) },
    };
  }

  private entriesOf({ vehicle, set, day, outside }: Visit): [number, number][] {
    const own = itemAt(this.shop.vehicles, vehicle);
    const entries = itemAt(this.axleRow, vehicle).flatMap((row, i): [number, number][] =>
      (set >> i) & 1 ? [[row, 1]] : [],
    );
    const large = this.largeRow[vehicle];
    if (large !== undefined && isLarge(set, own.axles.length)) entries.push([large, 1]);
    const off = this.rows.off.get(own.vehicle.class);
    const bay = this.rows.bays.get(own.vehicle.bay);
    for (const use of itemAt(own.sets, set).uses) {
      const at = day + use.day;
      if (off !== undefined) entries.push([off + at, 1]);
      if (outside) continue;
      entries.push([this.rows.technician + at, use.hours], ...this.cuts.entries(at, own.vehicle.bay, use));
      if (use.certifiedHours > 0) entries.push([this.rows.certified + at, use.certifiedHours]);
      if (bay !== undefined) entries.push([bay + at, use.hours]);
    }
    return entries;
  }

  add(visits: readonly Visit[]): void {
    const fresh = visits.filter((visit) => {
      const key = keyOf(visit);
      if (this.known.has(key)) return false;
      this.known.add(key);
      return true;
    });
    if (fresh.length === 0) return;
    const { infinity } = this.highs;
    this.model.addCols({
      cost: Float64Array.from(fresh, ({ cost }) => cost),
      lower: new Float64Array(fresh.length),
      upper: new Float64Array(fresh.length).fill(infinity),
      matrix: {
        format: 'csc',
        numRows: this.cuts.rowCount,
        numCols: fresh.length,
        ...packed(fresh.map((visit) => this.entriesOf(visit))),
      },
    });
    this.columns.push(...fresh);
  }

  solve(): { objective: number; duals: Duals } {
    // What has only more columns is still feasible, what has more rows is still priced right: each has its simplex.
    this.model.options.set({ simplex_strategy: this.cuts.rowCount === this.solvedRows ? PRIMAL : DUAL });
    this.model.run();
    this.solvedRows = this.cuts.rowCount;
    return { objective: this.model.getObjectiveValue(), duals: this.model.getSolution().rowDual };
  }

  /** Cuts the solution off where whole visits can't make it, day by day. @returns how many cuts were added */
  cut(): number {
    const { colValue, colDual, rowDual } = this.model.getSolution();
    const { model, highs, cuts } = this;
    this.dropIdle(rowDual);
    const overtimeAt = this.fixed - this.shop.problem.days.length;
    let added = 0;
    this.partsOf(colValue, colDual).forEach((all, day) => {
      const there = all.filter(({ share }) => share > HAIR);
      if (there.every(({ share }) => share > 1 - HAIR)) return;
      const near = all
        .filter(({ share, reduced }) => share <= HAIR && reduced < NEAR)
        .sort((a, b) => a.reduced - b.reduced)
        .slice(0, Math.max(0, MOST_KINDS - there.length));
      const overtime = valueAt(colValue, overtimeAt + day);
      const bounds = this.boundsOf(day);
      const byPattern = patternCut(highs, bounds, [...there, ...near], overtime);
      for (const cut of [...hoursCuts(bounds, there, overtime), ...(byPattern ? [byPattern] : [])]) {
        const entries = all.flatMap((part): [number, number][] => {
          const weight = cut.weight(part.bay, part);
          return weight > 0 ? [[part.column, weight]] : [];
        });
        if (cut.overtime > 0) entries.push([overtimeAt + day, -cut.overtime]);
        model.addRow(-highs.infinity, cut.most, {
          indices: entries.map(([column]) => column),
          values: entries.map(([, value]) => value),
        });
        cuts.add(day, cut);
        added += 1;
      }
    });
    return added;
  }

  private boundsOf(day: number): DayBounds {
    const at = (row: number) => this.upper[row + day] ?? 0;
    return {
      technician: at(this.rows.technician),
      certified: at(this.rows.certified),
      bays: new Map([...this.rows.bays].map(([kind, row]) => [kind, at(row)])),
      overtime: valueAt(this.overtimeMost, day),
    };
  }

  /** What each visit in the model takes of each day. */
  private partsOf(colValue: Float64Array, colDual: Float64Array) {
    const parts = this.shop.problem.days.map((): (DayPart & { column: number; reduced: number })[] => []);
    this.columns.forEach(({ vehicle, set, day, outside }, i) => {
      if (outside) return;
      const column = this.fixed + i;
      const own = itemAt(this.shop.vehicles, vehicle);
      const { bay } = own.vehicle;
      const [share, reduced] = [valueAt(colValue, column), valueAt(colDual, column)];
      for (const { day: k, hours, certifiedHours } of itemAt(own.sets, set).uses)
        parts[day + k]?.push({ column, bay, hours, certifiedHours, share, reduced });
    });
    return parts;
  }

  /** Takes cuts out of the model that nothing rests on. */
  private dropIdle(rowDual: Float64Array): void {
    const { model } = this;
    const { rowStatus, colStatus } = model.getBasis();
    const { basic } = this.highs.constants.basisStatus;
    const out = this.cuts.dropIdle((row) => valueAt(rowDual, row) === 0 && rowStatus[row] === basic);
    if (out.length === 0) return;
    const gone = new Set(out);
    model.deleteRows({ kind: 'set', indices: Int32Array.from(out) });
    model.setBasis({ colStatus, rowStatus: rowStatus.filter((_status, row) => !gone.has(row)) });
  }

  /** Reduced cost of every visit there could be, told one after the other. */
  private reduced(duals: Duals, tell: TellVisit): void {
    const { shop, rows, axleRow, largeRow, cuts } = this;
    priceVisits({ shop, rows, axleRow, largeRow, cuts }, duals, tell);
  }

  /**
   * The best visit of each set that would lower the cost, by how much all vehicles together could lower it at most, and how
   * many visits could be of a plan that is better by so much as there is to gain.
   */
  price(duals: Duals, gain = 0): { entering: Visit[]; below: number; near: number } {
    const best = this.shop.vehicles.map(({ sets }) => ({
      reduced: new Float64Array(sets.length),
      visits: [] as (Visit | undefined)[],
    }));
    let near = 0;
    this.reduced(duals, (vehicle, set, day, outside, cost, reduced) => {
      if (reduced <= gain) near += 1;
      if (reduced >= -HAIR) return;
      const own = itemAt(best, vehicle);
      if (reduced >= valueAt(own.reduced, set)) return;
      own.reduced[set] = reduced;
      own.visits[set] = { vehicle, set, day, outside, cost };
    });
    return {
      entering: best.flatMap(({ visits }) => visits.flatMap((visit) => visit ?? [])),
      below: best.reduce((sum, { reduced }) => sum + leastSplit(reduced), 0),
      near,
    };
  }

  /**
   * Visits that could be of a plan that is better by as much as there is to gain, the nearest ones where they are too many.
   *
   * @returns them, and by how much any plan with another one lies above the bound
   */
  within(duals: Duals, gain: number): { within: Visit[]; cut: number } {
    const found: { visit: Visit; reduced: number }[] = [];
    this.reduced(duals, (vehicle, set, day, outside, cost, reduced) => {
      if (reduced <= gain + HAIR) found.push({ visit: { vehicle, set, day, outside, cost }, reduced });
    });
    if (found.length <= MOST_COLUMNS) return { within: found.map(({ visit }) => visit), cut: gain };
    found.sort((a, b) => a.reduced - b.reduced);
    return {
      within: found.slice(0, MOST_COLUMNS).map(({ visit }) => visit),
      cut: found[MOST_COLUMNS]?.reduced ?? gain,
    };
  }

  /** Branch and cut on the visits that are left, from the plan that is known. */
  branch(
    within: readonly Visit[],
    from: DepotPlan,
    { seconds, gap, stop }: BranchUntil,
  ): { plan: DepotPlan | undefined; bound: number } {
    const start = new Set(from.visits.flat().map(keyOf));
    const missing = from.visits.flat().filter((visit) => !within.some((one) => keyOf(one) === keyOf(visit)));
    const visits = [...within, ...missing];
    this.add(visits);
    const kept = new Set(visits.map(keyOf));
    const { model, highs } = this;
    const { integer, continuous } = highs.constants.variableType;
    this.columns.forEach((visit, i) => {
      if (!kept.has(keyOf(visit))) model.changeColBounds(this.fixed + i, 0, 0);
    });
    const axles = this.axleRow.flat().length;
    const types = Array.from({ length: this.fixed + this.columns.length }, (_, i) =>
      i < axles || i >= this.fixed ? integer : continuous,
    );
    model.changeColsIntegrality({ kind: 'range', from: 0, to: types.length - 1 }, types);
    model.options.set({ mip_rel_gap: gap, time_limit: model.getRunTime() + seconds, ...WITHOUT_SEARCH });
    const values = this.columns.map((visit) => (start.has(keyOf(visit)) ? 1 : 0));
    const placed = this.shop.vehicles.map((_own, v) => (from.visits[v] ?? []).reduce((bits, { set }) => bits | set, 0));
    const unplaced = this.shop.vehicles.flatMap(({ axles: own }, v) =>
      own.map((_one, i) => (((placed[v] ?? 0) >> i) & 1 ? 0 : 1)),
    );
    const load = this.shop.load();
    from.visits.flat().forEach((visit) => load.put(itemAt(this.shop.vehicles, visit.vehicle), visit, 1));
    const overtime = this.shop.problem.days.map((_day, day) => load.overtimeAt(day));
    model.setSolution({ colValue: [...unplaced, ...overtime, ...values] });
    model.run({
      [highs.constants.callbackType.mipInterrupt]: (event: { interrupt: () => void }) => {
        if (stop?.()) event.interrupt();
      },
    });
    const { colValue } = model.getSolution();
    const bound = Number(model.info.get('mip_dual_bound'));
    const chosen: Visit[][] = this.shop.vehicles.map(() => []);
    this.columns.forEach((visit, i) => {
      if (valueAt(colValue, this.fixed + i) > 0.5) itemAt(chosen, visit.vehicle).push(visit);
    });
    return { plan: checkedPlan(this.shop, chosen), bound };
  }

  dispose(): void {
    this.model.dispose();
  }
}
