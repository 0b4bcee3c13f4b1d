import {
  DEFAULT_PACE_PROCESS,
  learnDutyProcess,
  learnStatedProcess,
  measuredBlocks,
  paceBlocks,
  risingOdometers,
  statedDuties,
} from '../duty/index.ts';
import { padPlaces } from '../measure/index.ts';
import { itemAt, normalQuantile, sortedQuantile } from '../numeric/index.ts';
import { dateOfDay, dayNumber, type IsoDate } from '../units/index.ts';
import {
  calibrate,
  foresee,
  FORESEEN_FROM_DAYS,
  foretellPassage,
  forecastVehicle,
  learnWearProcess,
  NEAR_MI,
  processEvidence,
  teachersOfProcess,
  withDrift,
  withProcess,
  type CalibrationLook,
  type Quantiles,
  type VehicleInput,
  type WearProcess,
  type Widening,
} from '../wear/index.ts';
import { seizedFactor } from './fleet.ts';
import { TRUTH, type FleetProcesses, type FleetVehicle, type VirtualFleet } from './fleetPapers.ts';
import { fleetInput, learnFleet } from './trial.ts';

/** How forecasts of a virtual fleet came out against its truth. */
export interface ForecastTrial {
  forecasts: number;
  /** Median absolute error of the miles that were left, miles: of the method, two simple ones, and one that knows the present exactly. */
  medianErrorMi: number;
  twoPointErrorMi: number;
  leastSquaresErrorMi: number;
  oracleErrorMi: number;
  /** Median of error ÷ true life of the axle's pads from new at the present rate. */
  relativeError: number;
  within80: number;
  within90: number;
  within80Days: number;
  within90Days: number;
  /** Pinball loss, mean over seven quantiles, miles. */
  pinballMi: number;
  oraclePinballMi: number;
}

const SHARES = { p05: 0.05, p10: 0.1, p25: 0.25, p50: 0.5, p75: 0.75, p90: 0.9, p95: 0.95 } as const;
type Share = keyof typeof SHARES;

interface Outcome {
  trueMi: number;
  trueDays: number;
  lifeMi: number;
  miles: Quantiles;
  days: Quantiles;
  twoPointMi: number;
  leastSquaresMi: number;
  oracle: Quantiles;
}

/** The fleet's papers as they stood on a day. */
export function knownOn(fleet: VirtualFleet, date: IsoDate): VirtualFleet {
  return { ...fleet, to: date, vehicles: fleet.vehicles.map((vehicle) => vehicleOn(vehicle, date)) };
}

/** A vehicle's papers as they stood on a day. */
export function vehicleOn(vehicle: FleetVehicle, date: IsoDate): FleetVehicle {
  return {
    ...vehicle,
    duty: vehicle.duty.filter(({ from, to, measured }) => (measured ? (to ?? '') <= date : from <= date)),
    inspections: vehicle.inspections.filter((one) => one.date <= date),
    fittings: vehicle.fittings.filter((one) => one.date <= date),
  };
}

/** Shares of the record after which a fleet is learnt from anew: what is learnt holds until the next. */
const LEARNT_AFTER = [0.5, 0.75] as const;

/**
 * Forecasts every measured axle at every inspection of the fleet's second half from what was on paper that day (what the
 * fleet teaches taken from its first half, then from its first three quarters), and compares with the odometer and day at
 * which its pads would have reached the limit.
 */
export function tryForecasts(fleet: VirtualFleet, draws = 512): ForecastTrial {
  const [from, to] = [dayNumber(fleet.from), dayNumber(fleet.to)];
  const days = LEARNT_AFTER.map((share) => dateOfDay(Math.round(from + share * (to - from))));
  const outcomes = days.flatMap((day, k) => {
    const asItStood = taughtBy(knownOn(fleet, day));
    const until = days[k + 1] ?? '9';
    return fleet.vehicles.flatMap((vehicle) =>
      vehicle.inspections.flatMap(({ date }, index) =>
        date > day && date <= until ? outcomesOf(vehicle, index, asItStood(vehicle, date), draws) : [],
      ),
    );
  });
  return summarise(outcomes);
}

/** Papers of any day as a forecast takes them, under what a fleet has taught by its last day. */
function taughtBy(fleet: VirtualFleet): (vehicle: FleetVehicle, date: IsoDate) => VehicleInput {
  const processes = processesOf(fleet);
  const { appraisers, priors, drift } = learnFleet({ ...fleet, processes });
  const known = (vehicle: FleetVehicle, to: IsoDate) => {
    const papers = vehicleOn(vehicle, to);
    return withDrift(
      fleetInput(papers, { ...fleet, to, processes }, appraisers, (group) => priors.get(group)),
      drift,
    );
  };
  const scatterOf = scatterAfter(fleet, known);
  const inputOf: PapersOn = (vehicle, date) => withProcess(known(vehicle, date), scatterOf(vehicle));
  const wideningOf = wideningAfter(fleet, inputOf);
  return (vehicle, date) => ({ ...inputOf(vehicle, date), widening: wideningOf(vehicle) });
}

/** A vehicle's papers as they stood on a day, as a forecast takes them. */
type PapersOn = (vehicle: FleetVehicle, date: IsoDate) => VehicleInput;

/** How wear scatters, as the vehicles of each class with most readings teach it by a fleet's last day. */
function scatterAfter(fleet: VirtualFleet, known: PapersOn): (vehicle: FleetVehicle) => WearProcess {
  const [light, heavy] = [false, true].map((which) => {
    const inputs = fleet.vehicles.filter((one) => isHeavy(one) === which).map((one) => known(one, fleet.to));
    const teachers = teachersOfProcess(inputs.map((input) => ({ input, readings: input.readings.length })));
    return learnWearProcess(teachers.map(({ input }) => processEvidence(input)));
  }) as [WearProcess, WearProcess];
  return (vehicle) => (isHeavy(vehicle) ? heavy : light);
}

/** What came of the forecasts of a vehicle's axles at one of its inspections. */
function outcomesOf(vehicle: FleetVehicle, index: number, input: VehicleInput, draws: number): Outcome[] {
  const { date, miles } = vehicle.inspections[index] as FleetVehicle['inspections'][number];
  const { axles } = forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws });
  return axles.flatMap((axle): Outcome[] => {
    if (axle.evidence.readings === 0) return [];
    const simple = foretellPassage(input, axle.axle, miles);
    const truth = truePassage(vehicle, index, axle.axle);
    if (!simple || !truth) return [];
    return [
      {
        ...truth,
        miles: eachShare((share) => axle.miles[share] - miles),
        days: eachShare((share) => dayNumber(axle.dates[share]) - dayNumber(date)),
        ...simple,
      },
    ];
  });
}

/** Whether a vehicle is of the heavy class, as its pads tell. */
const isHeavy = ({ axles }: FleetVehicle) => axles.some(({ newMm }) => newMm > 15);

/**
 * By how much intervals are widened from a fleet's last day on: forecasts of it are made again as of half a year and a year
 * before, and held against its looks since, as the product does it.
 */
function wideningAfter(fleet: VirtualFleet, inputOf: PapersOn): (vehicle: FleetVehicle) => Widening {
  const looks = new Map<string, CalibrationLook[]>();
  for (const vehicle of fleet.vehicles)
    for (const days of FORESEEN_FROM_DAYS) {
      const then = dateOfDay(dayNumber(fleet.to) - days);
      for (const { axle, milesAhead, z } of foresee(inputOf(vehicle, then), inputOf(vehicle, fleet.to))) {
        const key = `${isHeavy(vehicle)}/${milesAhead <= NEAR_MI}`;
        looks.set(key, [...(looks.get(key) ?? []), { of: `${vehicle.id}/${axle}`, z }]);
      }
    }
  const factorOf = (heavy: boolean, near: boolean) => calibrate(looks.get(`${heavy}/${near}`) ?? []).factor;
  const [light, heavy] = [false, true].map((one) => ({ near: factorOf(one, true), far: factorOf(one, false) })) as [
    Widening,
    Widening,
  ];
  return (vehicle) => (isHeavy(vehicle) ? heavy : light);
}

/** How duty and miles a day behave, as blocks, duties that are stated and odometers teach it. */
function processesOf({ vehicles, from, to }: VirtualFleet): FleetProcesses {
  const blocks = vehicles.map(({ duty }) => measuredBlocks(duty, to)).filter(({ length }) => length > 0);
  const paces = vehicles.map(({ inspections, startMiles }) =>
    paceBlocks(risingOdometers([{ date: from, miles: startMiles }, ...inspections])),
  );
  return {
    measured: blocks.length > 0 ? learnDutyProcess(blocks) : undefined,
    stated: learnStatedProcess(vehicles.map(({ duty }) => statedDuties(duty, to))),
    pace: learnDutyProcess(paces, DEFAULT_PACE_PROCESS),
  };
}

function eachShare(of: (share: Share) => number): Quantiles {
  const keys = Object.keys(SHARES) as Share[];
  return Object.fromEntries(keys.map((share) => [share, of(share)])) as unknown as Quantiles;
}

type Truth = Pick<Outcome, 'trueMi' | 'trueDays' | 'lifeMi' | 'oracle'>;

/** Where the axle's pads, as they were left at an inspection, would have reached the limit; behind where they had. */
function truePassage(vehicle: FleetVehicle, index: number, axle: number): Truth | undefined {
  const visit = vehicle.inspections[index];
  const spec = vehicle.axles.find((one) => one.axle === axle);
  if (!visit || !spec) return undefined;
  const places = padPlaces(vehicle.axles.map((one) => one.axle));
  const own = places.flatMap((place, p) => (place.axle === axle ? [p] : []));
  const start = dayNumber(visit.date);
  const here = vehicle.road.findIndex(({ day }) => day > start);
  const ahead = vehicle.road.slice(here);
  const factor = (p: number, day: number) =>
    seizedFactor(vehicle.seized, places[p] as (typeof places)[number], dateOfDay(day), visit.date);
  const severity = vehicle.road[Math.max(0, here - 1)]?.severity ?? 1;
  const rates = own.map((p) => ((vehicle.ratesMm[p] ?? 0) * severity * factor(p, start)) / 1000);
  const left = own.map((p) => (visit.leftMm[p] ?? 0) - spec.limitMm);
  const lifeMi = Math.min(...rates.map((rate) => (spec.newMm - spec.limitMm) / rate));
  const steady = Math.min(...left.map((mm, i) => mm / itemAt(rates, i)));
  const perDay = vehicle.road[here] && ahead[1] ? (ahead[1].miles - visit.miles) / (ahead[1].day - start) : 50;
  const oracle = oracleQuantiles(steady, perDay);
  if (Math.min(...left) <= 0) return { trueMi: steady, trueDays: steady / perDay, lifeMi, oracle };
  let at = { day: start, miles: visit.miles };
  const thickness = own.map((p) => visit.leftMm[p] ?? 0);
  for (const { day, miles, wearMm } of ahead) {
    let reached = Infinity;
    own.forEach((p, i) => {
      const wear = (wearMm[p] ?? 0) * factor(p, at.day);
      const before = itemAt(thickness, i);
      if (before - wear <= spec.limitMm) reached = Math.min(reached, (before - spec.limitMm) / wear);
      thickness[i] = before - wear;
    });
    if (reached <= 1)
      return {
        trueMi: at.miles + reached * (miles - at.miles) - visit.miles,
        trueDays: at.day + reached * (day - at.day) - start,
        lifeMi,
        oracle,
      };
    at = { day, miles };
  }
  return undefined;
}

/** What one can say who knows thickness and rate exactly, and not what is ahead: scatter of severity per 28 days. */
function oracleQuantiles(steadyMi: number, perDay: number): Quantiles {
  const periods = Math.max(0.25, steadyMi / perDay / 28);
  const sd = Math.sqrt(TRUTH.severityOff ** 2 / periods + TRUTH.shock ** 2 / Math.max(0.25, steadyMi / 1000));
  return eachShare((share) => (steadyMi <= 0 ? steadyMi : steadyMi * Math.exp(sd * normalQuantile(SHARES[share]))));
}

function summarise(outcomes: readonly Outcome[]): ForecastTrial {
  const median = (of: (one: Outcome) => number) => sortedQuantile(Float64Array.from(outcomes, of).sort(), 0.5);
  const share = (of: (one: Outcome) => boolean) => outcomes.filter(of).length / outcomes.length;
  const within = (truth: number, quantiles: Quantiles, low: Share, high: Share) =>
    truth >= quantiles[low] && truth <= quantiles[high];
  const pinball = (of: (one: Outcome) => Quantiles) => {
    let sum = 0;
    for (const one of outcomes)
      for (const [key, p] of Object.entries(SHARES) as [Share, number][]) {
        const over = one.trueMi - of(one)[key];
        sum += Math.max(p * over, (p - 1) * over);
      }
    return sum / outcomes.length / Object.keys(SHARES).length;
  };
  return {
    forecasts: outcomes.length,
    medianErrorMi: median(({ trueMi, miles }) => Math.abs(trueMi - miles.p50)),
    twoPointErrorMi: median(({ trueMi, twoPointMi }) => Math.abs(trueMi - twoPointMi)),
    leastSquaresErrorMi: median(({ trueMi, leastSquaresMi }) => Math.abs(trueMi - leastSquaresMi)),
    oracleErrorMi: median(({ trueMi, oracle }) => Math.abs(trueMi - oracle.p50)),
    relativeError: median(({ trueMi, miles, lifeMi }) => Math.abs(trueMi - miles.p50) / lifeMi),
    within80: share(({ trueMi, miles }) => within(trueMi, miles, 'p10', 'p90')),
    within90: share(({ trueMi, miles }) => within(trueMi, miles, 'p05', 'p95')),
    within80Days: share(({ trueDays, days }) => within(trueDays, days, 'p10', 'p90')),
    within90Days: share(({ trueDays, days }) => within(trueDays, days, 'p05', 'p95')),
    pinballMi: pinball(({ miles }) => miles),
    oraclePinballMi: pinball(({ oracle }) => oracle),
  };
}
