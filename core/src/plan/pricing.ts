import { itemAt, valueAt } from '../numeric/index.ts';
import { isLarge } from './columns.ts';
import type { DayCuts } from './dayCuts.ts';
import type { DepotShop } from './search.ts';
import { inOwnBays } from './visits.ts';

/** Told of each visit there could be: what it costs, and its reduced cost. */
export type TellVisit = (
  vehicle: number,
  set: number,
  day: number,
  outside: boolean,
  cost: number,
  reduced: number,
) => void;

/** A dual for each row, and where the rows of a kind begin. */
export type Duals = Float64Array;

/** First rows of hours by day: technicians, certified, each kind of bay; and of classes off the road. */
export interface MasterRows {
  technician: number;
  certified: number;
  bays: Map<string, number>;
  off: Map<string, number>;
}

/** What visits are priced in: the depot, and where its rows stand. */
interface Priced {
  shop: DepotShop;
  rows: MasterRows;
  axleRow: readonly number[][];
  largeRow: readonly (number | undefined)[];
  cuts: DayCuts;
}

/** Reduced cost of every visit there could be, told one after the other. */
export function priceVisits({ shop, rows, axleRow, largeRow, cuts }: Priced, duals: Duals, tell: TellVisit): void {
  const priceOf = cuts.prices(duals);
  shop.vehicles.forEach((own, vehicle) => {
    const axles = itemAt(axleRow, vehicle);
    const off = rows.off.get(own.vehicle.class);
    const bay = rows.bays.get(own.vehicle.bay);
    for (let set = 1; set < own.sets.length; set += 1) {
      const byDay = shop.costsByDay(vehicle, set);
      const outsideCost = shop.outsideCost(vehicle, set);
      const large = largeRow[vehicle];
      const gained = axles.reduce(
        (sum, row, i) => sum + ((set >> i) & 1 ? valueAt(duals, row) : 0),
        large !== undefined && isLarge(set, axles.length) ? valueAt(duals, large) : 0,
      );
      const { uses } = itemAt(own.sets, set);
      for (let day = 0; day < byDay.length; day += 1) {
        const cost = valueAt(byDay, day);
        if (cost === Infinity) continue;
        let [hours, away] = [0, 0];
        for (const use of uses) {
          const at = day + use.day;
          if (off !== undefined) away -= valueAt(duals, off + at);
          hours -= use.hours * valueAt(duals, rows.technician + at);
          hours -= use.certifiedHours * valueAt(duals, rows.certified + at);
          if (bay !== undefined) hours -= use.hours * valueAt(duals, bay + at);
          hours -= priceOf(at, own.vehicle.bay, use);
        }
        if (inOwnBays(own, set, day)) tell(vehicle, set, day, false, cost, cost - gained + hours + away);
        if (outsideCost < Infinity)
          tell(vehicle, set, day, true, cost + outsideCost, cost + outsideCost - gained + away);
      }
    }
  });
}
