import { runWithChanges, withDrift, type WearChange } from '../wear/index.ts';
import { vehicleOn } from './forecastTrial.ts';
import type { FleetVehicle, VirtualFleet } from './fleetPapers.ts';
import { fleetInput, learnFleet } from './trial.ts';

/** How changes of wear were found in a virtual fleet, inspection by inspection. */
export interface ChangeTrial {
  /** Slides that seized and had three looks before new pads freed them, and how many were told by the first, second, third. */
  seized: number;
  seizedByLook: [number, number, number];
  /** Slides told that had not seized. */
  falseSeized: number;
  wheelEndInspections: number;
  /** Routes that changed without anybody saying so, had three looks since, and how many were told by the first, second, third. */
  routes: number;
  routesByLook: [number, number, number];
  /** Vehicles told to have another route that had none, and other changes told that were none. */
  falseRoutes: number;
  falseOthers: number;
  vehicleInspections: number;
}

/** Goes through every inspection of a fleet as it was entered, before pads were changed that day. */
export function tryChanges(fleet: VirtualFleet): ChangeTrial {
  const { appraisers, priors, drift } = learnFleet(fleet);
  const trial: ChangeTrial = {
    seized: 0,
    seizedByLook: [0, 0, 0],
    falseSeized: 0,
    wheelEndInspections: 0,
    routes: 0,
    routesByLook: [0, 0, 0],
    falseRoutes: 0,
    falseOthers: 0,
    vehicleInspections: 0,
  };
  for (const vehicle of fleet.vehicles) {
    const told = vehicle.inspections.map(({ date, readings }) => {
      trial.vehicleInspections += 1;
      trial.wheelEndInspections += readings.length / 2;
      const known = vehicleOn(vehicle, date);
      const fittings = known.fittings.filter((one) => one.date < date);
      const input = withDrift(
        fleetInput({ ...known, fittings }, { ...fleet, to: date }, appraisers, (group) => priors.get(group)),
        drift,
      );
      return { date, changes: runWithChanges(input).changes };
    });
    scoreSeized(trial, vehicle, told);
    scoreRoute(trial, vehicle, told);
    const others = told.flatMap(({ date, changes }) =>
      changes
        .filter(({ kind, axle }) => (kind === 'wheel' || kind === 'axle') && !touched(vehicle, date, axle))
        .map(nameOf),
    );
    trial.falseOthers += new Set(others).size;
  }
  return trial;
}

type Told = { date: string; changes: WearChange[] }[];

const nameOf = ({ kind, axle, side }: WearChange) => `${kind} ${axle ?? ''} ${side ?? ''}`;

/** Whether something really is the matter with this axle. */
function touched({ seized }: FleetVehicle, date: string, axle: number | undefined): boolean {
  return seized !== undefined && seized.axle === axle && date >= seized.from;
}

function scoreSeized(trial: ChangeTrial, { seized, inspections }: FleetVehicle, told: Told): void {
  const right = ({ kind, axle, side, more }: WearChange) =>
    kind === 'apart' && axle === seized?.axle && side === seized?.side && more === 'inner';
  const wrong = told.flatMap(({ date, changes }) =>
    changes.filter((one) => one.kind === 'apart' && !(right(one) && date >= (seized?.from ?? ''))).map(nameOf),
  );
  trial.falseSeized += new Set(wrong).size;
  if (!seized) return;
  const looks = inspections
    .filter(
      ({ date, readings }) =>
        date > seized.from && date <= (seized.freed ?? '9') && readings.some(({ axle }) => axle === seized.axle),
    )
    .map(({ date }) => date);
  if (looks.length < 3) return;
  trial.seized += 1;
  const first = told.find(({ changes }) => changes.some(right))?.date ?? '9';
  countByLook(trial.seizedByLook, looks, first);
}

function scoreRoute(trial: ChangeTrial, { unstated, inspections }: FleetVehicle, told: Told): void {
  const first = told.find(
    ({ date, changes }) => changes.some(({ kind }) => kind === 'route') && date > (unstated?.from ?? '9'),
  );
  const early = told.some(
    ({ date, changes }) => date <= (unstated?.from ?? '9') && changes.some(({ kind }) => kind === 'route'),
  );
  if (early) trial.falseRoutes += 1;
  if (!unstated) return;
  const looks = inspections.filter(({ date }) => date > unstated.from).map(({ date }) => date);
  if (looks.length < 3) return;
  trial.routes += 1;
  countByLook(trial.routesByLook, looks, first?.date ?? '9');
}

function countByLook(count: [number, number, number], looks: readonly string[], first: string): void {
  for (const k of [0, 1, 2] as const) if (first <= (looks[k] ?? '')) count[k] += 1;
}
