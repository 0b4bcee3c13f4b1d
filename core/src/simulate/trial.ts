import { believedBlocks, DEFAULT_DUTY_PROCESS, withLevelAhead } from '../duty/index.ts';
import { itemAt } from '../numeric/index.ts';
import { dayNumber } from '../units/index.ts';
import {
  classPrior,
  DEFAULT_NOISE,
  DEFAULT_WEAR_PROCESS,
  appraiserEvidence,
  byQuarter,
  driftOffsets,
  learnFrom,
  lessonOf,
  partsOfPeriod,
  poolDrift,
  withDrift,
  runHistory,
  UNKNOWN_APPRAISER,
  type Appraiser,
  type AppraiserPart,
  type VehicleInput,
  type WearPrior,
} from '../wear/index.ts';
import type { FleetVehicle, GrossKind, VirtualFleet } from './fleetPapers.ts';

/** A vehicle's papers as the filter takes them; appraisers and groups as learnt so far. */
export function fleetInput(
  vehicle: FleetVehicle,
  fleet: VirtualFleet,
  appraisers: Record<string, Appraiser>,
  priors: (group: string) => WearPrior | undefined,
): VehicleInput {
  return {
    axles: vehicle.axles.map((axle) => ({
      ...axle,
      prior: priors(vehicle.groups[axle.axle] ?? '') ?? classPrior(axle.newMm > 15 ? 'heavy' : 'light'),
    })),
    readings: vehicle.inspections.flatMap(({ date, miles, appraiser, readings }) =>
      readings.map(({ id, axle, side, pad, mm }) => ({
        id,
        date,
        miles,
        axle,
        side,
        pad,
        mm,
        unit: 'mm' as const,
        resolutionMm: appraiser.resolutionMm,
        technician: appraiser.name,
      })),
    ),
    fittings: vehicle.fittings,
    odometers: [{ date: fleet.from, miles: vehicle.startMiles }],
    ...dutyOf(vehicle, fleet),
    appraisers,
    unknownAppraiser: UNKNOWN_APPRAISER,
    noise: DEFAULT_NOISE,
    today: fleet.to,
  };
}

/** Duty with what may become of it and of the miles a day, as its fleet's processes have it; as it is, before they are learnt. */
function dutyOf(
  { duty, axles }: FleetVehicle,
  { to, processes }: VirtualFleet,
): Pick<VehicleInput, 'duty' | 'ahead' | 'pace'> {
  if (!processes) return { duty };
  const numbers = axles.map(({ axle }) => axle);
  const { measured = DEFAULT_DUTY_PROCESS, stated, pace } = processes;
  const { spans, ahead } = withLevelAhead(duty, to, numbers, measured, stated);
  return { duty: believedBlocks(spans, DEFAULT_WEAR_PROCESS.blockShare), ahead, pace };
}

/** How well the appraisers of a fleet were learnt, and its gross errors found. */
export interface AppraiserTrial {
  /** Correlation of estimated with true biases. */
  biasCorrelation: number;
  biasRmseMm: number;
  repeatabilityRmseMm: number;
  /** Share of true biases within their 90 % interval. */
  biasCoverage90: number;
  /** Gross readings doubted, and all, by kind. */
  gross: Record<GrossKind, { found: number; all: number }>;
  /** Swapped digits that move the figure by 1 mm and more; less is within what an appraiser may scatter. */
  digitsOver1Mm: { found: number; all: number };
  cleanDoubted: number;
  clean: number;
  readings: number;
}

/** Rounds over the fleet: the second and later know the appraisers of the round before. */
const ROUNDS = 3;
/** After this one it is asked how biases drifted. */
const DRIFT_ROUND = 1;
const QUARTER_DAYS = 91.31;

/** The papers of a fleet, whoever made it, as learning takes them. */
export interface FleetPapers {
  parts: AppraiserPart[];
  vehicles: {
    input: (appraisers: Record<string, Appraiser>, priors: (group: string) => WearPrior | undefined) => VehicleInput;
    /** Model-axle group of each axle. */
    groups: Record<number, string>;
    heavy: boolean;
  }[];
}

/** What a fleet's papers teach of its appraisers and of its groups. */
export interface LearntFleet {
  /** How far appraisers' biases were off their mean in a quarter, mm, by key of both. */
  drift: Map<string, number>;
  appraisers: Record<string, Appraiser>;
  priors: Map<string, WearPrior>;
}

/** Learns the appraisers and groups of a virtual fleet as the product does, from its papers alone. */
export function learnFleet(fleet: VirtualFleet): LearntFleet {
  return learnPapers({
    parts: fleet.appraisers.map(({ name }) => ({ key: name, technician: name, gauge: `gauge of ${name}` })),
    vehicles: fleet.vehicles.map((vehicle) => ({
      input: (appraisers, priors) => fleetInput(vehicle, fleet, appraisers, priors),
      groups: vehicle.groups,
      heavy: vehicle.axles.some(({ newMm }) => newMm > 15),
    })),
  });
}

/** The same from any fleet's papers: what each round teaches the next asks with. */
export function learnPapers({ parts, vehicles }: FleetPapers): LearntFleet {
  let appraisers: Record<string, Appraiser> = {};
  let priors = new Map<string, WearPrior>();
  let drift = new Map<string, number>();
  const heavy = new Set(vehicles.filter((one) => one.heavy).flatMap(({ groups }) => Object.values(groups)));
  for (let round = 0; round < ROUNDS; round += 1) {
    const lessons = vehicles.map(({ input, groups }) =>
      lessonOf(
        withDrift(
          input(appraisers, (group) => priors.get(group)),
          drift,
        ),
        (axle) => groups[axle] ?? '',
      ),
    );
    const learnt = learnFrom(lessons, {
      parts,
      present: (key) => appraisers[key] ?? UNKNOWN_APPRAISER,
      classOf: (group) => (heavy.has(group) ? 'heavy' : 'light'),
    });
    priors = new Map([...learnt.groups].map(([group, { prior }]) => [group, prior]));
    appraisers = Object.fromEntries(
      learnt.appraisers.appraisers.map(({ key, biasMm, biasSdMm, repeatabilityMm }) => [
        key,
        { biasMm, biasSdMm, repeatabilityMm },
      ]),
    );
    const known = (key: string) => appraisers[key] ?? UNKNOWN_APPRAISER;
    if (round === DRIFT_ROUND)
      drift = driftOf(
        vehicles.map(({ input }) =>
          byQuarter(
            input(appraisers, (group) => priors.get(group)),
            known,
          ),
        ),
        parts,
        known,
      );
  }
  return { appraisers, priors, drift };
}

/** How far biases were off their mean from quarter to quarter. */
function driftOf(
  vehicles: readonly VehicleInput[],
  parts: readonly AppraiserPart[],
  known: (key: string) => Appraiser,
): Map<string, number> {
  const evidence = vehicles.map(appraiserEvidence);
  const partOf = new Map(parts.map((part) => [part.key, part]));
  const keys = [...new Set(evidence.flatMap((one) => one.appraisers))].sort();
  const periods = keys.flatMap((key) => {
    const { appraiser, quarter } = partsOfPeriod(key);
    const part = partOf.get(appraiser);
    return part ? [{ ...part, key, whole: appraiser, period: Math.round(dayNumber(quarter) / QUARTER_DAYS) }] : [];
  });
  return driftOffsets(poolDrift(periods, evidence, known));
}

/** Scores what was learnt of a virtual fleet against its truth. */
export function tryAppraisers(fleet: VirtualFleet): AppraiserTrial {
  const { appraisers, priors, drift } = learnFleet(fleet);
  const pairs = fleet.appraisers.map((truth) => ({ truth, learnt: appraisers[truth.name] ?? UNKNOWN_APPRAISER }));
  const gross: AppraiserTrial['gross'] = {
    plate: { found: 0, all: 0 },
    inches: { found: 0, all: 0 },
    digits: { found: 0, all: 0 },
    stray: { found: 0, all: 0 },
  };
  const digitsOver1Mm = { found: 0, all: 0 };
  let [clean, cleanDoubted] = [0, 0];
  for (const vehicle of fleet.vehicles) {
    const truth = new Map(vehicle.inspections.flatMap(({ readings }) => readings.map((one) => [one.id, one])));
    const { judgements } = runHistory(
      withDrift(
        fleetInput(vehicle, fleet, appraisers, (group) => priors.get(group)),
        drift,
      ),
    );
    for (const { id, suspicion } of judgements) {
      const kind = truth.get(id)?.gross;
      if (kind) {
        gross[kind].all += 1;
        gross[kind].found += suspicion ? 1 : 0;
        const reading = truth.get(id);
        if (kind === 'digits' && reading && Math.abs(reading.mm - reading.trueMm) >= 1) {
          digitsOver1Mm.all += 1;
          digitsOver1Mm.found += suspicion ? 1 : 0;
        }
      } else {
        clean += 1;
        cleanDoubted += suspicion ? 1 : 0;
      }
    }
  }
  const rmse = (errors: readonly number[]) =>
    Math.sqrt(errors.reduce((sum, one) => sum + one * one, 0) / errors.length);
  return {
    biasCorrelation: correlation(
      pairs.map(({ truth }) => truth.biasMm),
      pairs.map(({ learnt }) => learnt.biasMm),
    ),
    biasRmseMm: rmse(pairs.map(({ truth, learnt }) => learnt.biasMm - truth.biasMm)),
    repeatabilityRmseMm: rmse(pairs.map(({ truth, learnt }) => learnt.repeatabilityMm - truth.repeatabilityMm)),
    biasCoverage90:
      pairs.filter(({ truth, learnt }) => Math.abs(learnt.biasMm - truth.biasMm) <= 1.645 * learnt.biasSdMm).length /
      pairs.length,
    gross,
    digitsOver1Mm,
    cleanDoubted,
    clean,
    readings: clean + Object.values(gross).reduce((sum, { all }) => sum + all, 0),
  };
}

function correlation(x: readonly number[], y: readonly number[]): number {
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [mx, my] = [mean(x), mean(y)];
  const sum = (of: (i: number) => number) => x.reduce((total, _, i) => total + of(i), 0);
  const dx = (i: number) => itemAt(x, i) - mx;
  const dy = (i: number) => itemAt(y, i) - my;
  return sum((i) => dx(i) * dy(i)) / Math.sqrt(sum((i) => dx(i) ** 2) * sum((i) => dy(i) ** 2));
}
