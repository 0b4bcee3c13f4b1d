import { itemAt } from '../numeric/index.ts';
import { anneal, type Parts } from './anneal.ts';
import { offRoadMost, type PlannedVisit, type PlanProblem, type PlanVehicle } from './model.ts';
import { DepotShop } from './search.ts';
import { searchDepot, type SolveUntil } from './solve.ts';
import type { ShopLoad } from './shopLoad.ts';
import type { Visit } from './visits.ts';

/** A vehicle that another depot does. */
export interface Loan {
  vehicle: string;
  from: string;
  to: string;
  /** Days, from today, on which alone it may be off the road there; undefined where its own depot does not bound its class. */
  only?: readonly number[] | undefined;
}

/** Who is lent, and what the depots cost together with and without that, by search. */
export interface Lending {
  loans: Loan[];
  alone: number;
  together: number;
}

export interface LendAsk {
  /** Each depot's problem, of its own vehicles. */
  homes: readonly PlanProblem[];
  /** Vehicles as each would be at another depot: `depot` is that one, `lent` its own and what going there costs. */
  guests: readonly PlanVehicle[];
  /** What a loan must save at least. */
  least: number;
  /** Where the published plan has vehicles, and what it costs to have one of them done elsewhere than there. */
  before?: readonly { vehicle: string; depot: string; change: number }[] | undefined;
}

/** Class of a vehicle at a depot that is not its own: that depot's caps are for its own vehicles. */
const GUEST = 'lent';
/** Working days before and after the one it was tried on, which a lent vehicle whose class is bounded is left. */
const AROUND = 2;
/** Rounds of the search over all depots by vehicle. */
const ROUNDS_EACH = 100;

/** A depot with its own vehicles and all that could come, as it is loaded. */
interface House {
  id: string;
  shop: DepotShop;
  load: ShopLoad;
  at: Map<string, number>;
}

/** Where a vehicle may be done: at its own depot, or at another. */
interface Place {
  house: House;
  /** Its index there. */
  index: number;
}

/** Where a vehicle is done, with its visits there. */
interface Stay {
  place: Place;
  visits: Visit[];
  /** Places of its own depot's cap that it takes while it is elsewhere: days from today. */
  taken: number[];
}

/**
 * Decides which vehicles another depot does, before each is planned alone: depots share nothing else. All depots are searched
 * together (`anneal`): what is put back goes to whatever depot is best for it, the transfer counted. The depots are then
 * searched alone, with those loans and without any; where the loans do not save so much as is asked, nobody is lent. What is
 * left is that a search is no proof: a loan that would pay may be missed.
 *
 * A class that its own depot bounds is bounded elsewhere too: such a loan is for a few days only, and takes a place of its
 * depot on each of them.
 *
 * @throws RangeError where a guest is of no depot, or of none that it could go to
 */
export function lendVehicles(ask: LendAsk, until: SolveUntil): Lending {
  const depots = Math.max(1, ask.homes.length);
  const share = { ...until, seconds: until.seconds / (4 * depots) };
  const search = (problems: readonly PlanProblem[]) =>
    problems.map((problem) => searchDepot(problem, idOf(problem), share));
  const sum = (costs: readonly { cost: number }[]) => costs.reduce((total, { cost }) => total + cost, 0);
  const before = search(ask.homes);
  const alone = sum(before);
  const nobody = { loans: [], alone, together: alone };
  if (ask.guests.length === 0) return nobody;
  const parts = new FleetParts(
    ask,
    before.flatMap(({ visits }) => visits),
  );
  const begun = until.now();
  const { best } = anneal<Stay>(parts, {
    rounds: ROUNDS_EACH * parts.now.length,
    seed: until.seed,
    spent: () => (until.stop?.() ? 1 : (until.now() - begun) / Math.max(1e-9, until.seconds / 2)),
  });
  const loans = parts.loansOf(best);
  if (loans.length === 0) return nobody;
  const together = sum(search(withLoans(ask, loans)));
  const gain = alone + changed(ask, []) - together - changed(ask, loans);
  return gain > ask.least ? { loans, alone, together } : nobody;
}

/** What it costs that vehicles are done elsewhere than where the published plan has them. */
function changed({ homes, before = [] }: LendAsk, loans: readonly Loan[]): number {
  const at = new Map(homes.flatMap(({ vehicles }) => vehicles.map(({ id, depot }) => [id, depot] as const)));
  for (const { vehicle, to } of loans) at.set(vehicle, to);
  return before.reduce((sum, { vehicle, depot, change }) => sum + (at.get(vehicle) === depot ? 0 : change), 0);
}

const idOf = ({ depots }: PlanProblem): string => itemAt(depots, 0).id;

/** A guest's place in the other depot's problem, and on the days that its loan leaves it. */
export function guestOf(guest: PlanVehicle, only: readonly number[] | undefined, days: readonly number[]): PlanVehicle {
  const shut = only === undefined ? [] : days.flatMap((day, i) => (only.includes(day) ? [] : [i]));
  return { ...guest, class: GUEST, closed: new Set([...guest.closed, ...shut]) };
}

/** Places of a depot's caps that its lent vehicles take, by working day. @param classOf of each of them */
export function placesLent(
  loans: readonly Loan[],
  classOf: (vehicle: string) => string,
  days: readonly number[],
): Record<string, number[]> {
  const taken: Record<string, number[]> = {};
  for (const { vehicle, only } of loans) {
    if (only === undefined) continue;
    const own = (taken[classOf(vehicle)] ??= days.map(() => 0));
    days.forEach((day, i) => {
      if (only.includes(day)) own[i] = (own[i] ?? 0) + 1;
    });
  }
  return taken;
}

/** Every depot's problem once who is lent is decided. */
export function withLoans({ homes, guests }: Pick<LendAsk, 'homes' | 'guests'>, loans: readonly Loan[]): PlanProblem[] {
  const lent = new Map(loans.map((loan) => [loan.vehicle, loan]));
  return homes.map((home) => {
    const id = idOf(home);
    const classes = new Map(home.vehicles.map((one) => [one.id, one.class]));
    const out = loans.filter(({ from }) => from === id);
    return {
      ...home,
      depots: home.depots.map((depot) => ({
        ...depot,
        lentOff: placesLent(out, (vehicle) => classes.get(vehicle) ?? '', home.days),
      })),
      vehicles: [
        ...home.vehicles.filter((one) => !lent.has(one.id)),
        ...guests
          .filter((guest) => guest.depot === id && lent.get(guest.id)?.to === id)
          .map((guest) => guestOf(guest, lent.get(guest.id)?.only, home.days)),
      ],
    };
  });
}

function houseOf(home: PlanProblem, guests: readonly PlanVehicle[]): House {
  const id = idOf(home);
  const coming = guests.filter(({ depot }) => depot === id).map((guest) => guestOf(guest, undefined, home.days));
  const problem = { ...home, vehicles: [...home.vehicles, ...coming] };
  const shop = new DepotShop(problem, itemAt(problem.depots, 0));
  return { id, shop, load: shop.load(), at: new Map(problem.vehicles.map((one, i) => [one.id, i])) };
}

/** Every depot's vehicles at once, each at its own or at another. */
class FleetParts implements Parts<Stay> {
  readonly now: Stay[];
  readonly places: { day: number }[][];
  readonly days: number;
  private readonly houses: readonly House[];
  /** Where each vehicle may be done, its own depot first. */
  private readonly options: Place[][];
  /** Where each vehicle's published visits are, and what it costs to do it elsewhere. */
  private readonly before: readonly ({ depot: string; change: number } | undefined)[];
  /** Places taken of a class's cap on days on which its own depot does not work. */
  private readonly beside = new Map<string, number>();

  constructor({ homes, guests, before = [] }: LendAsk, told: readonly PlannedVisit[]) {
    this.houses = homes.map((home) => houseOf(home, guests));
    const placeOf = (depot: string, vehicle: string): Place => {
      const house = this.houses.find(({ id }) => id === depot);
      const index = house?.at.get(vehicle);
      if (!house || index === undefined) throw new RangeError(`${vehicle} can’t be done at ${depot}`);
      return { house, index };
    };
    const all = homes.flatMap(({ vehicles }) => vehicles);
    const at = new Map(all.map(({ id }, i) => [id, i]));
    this.before = all.map(({ id }) => before.find(({ vehicle }) => vehicle === id));
    this.days = Math.max(0, ...homes.flatMap(({ days }) => days));
    this.options = all.map(({ id, depot }) => [placeOf(depot, id)]);
    for (const { id, depot, lent } of guests) {
      const own = at.get(id);
      if (own === undefined || all[own]?.depot !== lent?.from)
        throw new RangeError(`${id} is not of ${lent?.from ?? 'any depot'}`);
      this.options[own]?.push(placeOf(depot, id));
    }
    const plans = new Map(this.houses.map((house) => [house, house.shop.planOf(told).visits]));
    this.places = all.map(() => []);
    this.now = this.options.map((options) => {
      const place = itemAt(options, 0);
      return { place, visits: plans.get(place.house)?.[place.index] ?? [], taken: [] };
    });
    [...this.now].forEach((own, vehicle) => {
      this.putIn(vehicle, own);
    });
  }

  shared(): number {
    return this.houses.reduce((sum, { load }) => sum + load.overtimeCost(), 0);
  }

  ownCost(vehicle: number, { place, visits }: Pick<Stay, 'place' | 'visits'>): number {
    const before = this.before[vehicle];
    const change = before && before.depot !== place.house.id ? before.change : 0;
    return place.house.shop.ownCost(place.index, visits) + change;
  }

  keepsLock(_vehicle: number, { place, visits }: Stay): boolean {
    return place.house.shop.keepsLock(place.index, visits);
  }

  takeOut(vehicle: number): void {
    const own = itemAt(this.now, vehicle);
    this.shift(vehicle, own, -1);
    this.now[vehicle] = { ...own, visits: [], taken: [] };
    this.places[vehicle] = [];
  }

  putIn(vehicle: number, own: Stay): void {
    this.shift(vehicle, own, 1);
    this.now[vehicle] = own;
    const { days } = own.place.house.shop.problem;
    this.places[vehicle] = own.visits.map(({ day }) => ({ day: itemAt(days, day) }));
  }

  insert(vehicle: number, skip: () => boolean): void {
    let [least, best]: [number, Stay | undefined] = [Infinity, undefined];
    for (const place of itemAt(this.options, vehicle)) {
      const { house, index } = place;
      const before = house.load.overtimeCost();
      const visits = house.shop.insert(index, house.load, skip);
      const cost = this.ownCost(vehicle, { place, visits }) + house.load.overtimeCost() - before;
      house.load.putAll(itemAt(house.shop.vehicles, index), visits, -1);
      const taken = this.takenBy(vehicle, place, visits);
      if (best !== undefined && (cost >= least || taken === undefined)) continue;
      [least, best] = [cost, { place, visits, taken: taken ?? [] }];
    }
    if (best) this.putIn(vehicle, best);
  }

  /** Loans of vehicles that are elsewhere, each with the days that are left to it where its class is bounded. */
  loansOf(stays: readonly Stay[]): Loan[] {
    this.now.forEach((_one, vehicle) => {
      this.takeOut(vehicle);
    });
    stays.forEach((own, vehicle) => {
      this.putIn(vehicle, own);
    });
    return stays.flatMap(({ place, visits, taken }, vehicle): Loan[] => {
      const home = this.homeOf(vehicle);
      if (place.house === home.house) return [];
      const loan = { vehicle: this.vehicleOf(home).id, from: home.house.id, to: place.house.id };
      if (!this.isBounded(home)) return [loan];
      const { days } = place.house.shop.problem;
      const near = visits.flatMap((visit) => days.slice(Math.max(0, visit.day - AROUND), visit.day + AROUND + 1));
      const more = [...new Set(near)].filter((day) => !taken.includes(day) && this.placesLeft(home, day) >= 1);
      for (const day of more) this.take(home, day, 1);
      return [{ ...loan, only: [...taken, ...more].sort((a, b) => a - b) }];
    });
  }

  private homeOf(vehicle: number): Place {
    return itemAt(itemAt(this.options, vehicle), 0);
  }

  private vehicleOf({ house, index }: Place): PlanVehicle {
    return itemAt(house.shop.vehicles, index).vehicle;
  }

  private isBounded(home: Place): boolean {
    return home.house.shop.depot.offRoad[this.vehicleOf(home).class] !== undefined;
  }

  private shift(vehicle: number, { place: { house, index }, visits, taken }: Stay, sign: 1 | -1): void {
    house.load.putAll(itemAt(house.shop.vehicles, index), visits, sign);
    for (const day of taken) this.take(this.homeOf(vehicle), day, sign);
  }

  /** Days on which visits take a place of the vehicle's own depot; undefined where one has none left, or nothing is done. */
  private takenBy(vehicle: number, place: Place, visits: readonly Visit[]): number[] | undefined {
    const home = this.homeOf(vehicle);
    if (place.house === home.house) return [];
    if (visits.length === 0) return undefined;
    if (!this.isBounded(home)) return [];
    const { days } = place.house.shop.problem;
    const { sets } = itemAt(place.house.shop.vehicles, place.index);
    const taken = visits.flatMap(({ set, day }) => days.slice(day, day + itemAt(sets, set).uses.length));
    return taken.every((day) => this.placesLeft(home, day) >= 1) ? taken : undefined;
  }

  private placesLeft(home: Place, day: number): number {
    const { shop, load } = home.house;
    const { class: name } = this.vehicleOf(home);
    const at = shop.problem.days.indexOf(day);
    if (at >= 0) return load.placesLeft(name, at);
    return offRoadMost(shop.depot, name, -1) - (this.beside.get(`${home.house.id}/${name}/${day}`) ?? 0);
  }

  private take(home: Place, day: number, sign: 1 | -1): void {
    const { class: name } = this.vehicleOf(home);
    const at = home.house.shop.problem.days.indexOf(day);
    if (at >= 0) {
      home.house.load.lend(name, at, sign);
      return;
    }
    const key = `${home.house.id}/${name}/${day}`;
    this.beside.set(key, (this.beside.get(key) ?? 0) + sign);
  }
}
