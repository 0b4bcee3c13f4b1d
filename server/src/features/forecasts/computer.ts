import {
  forecastVehicle,
  backtest,
  foresee,
  type ForeseenLook,
  type Later,
  processEvidence,
  type BacktestedReading,
  type DutyProcess,
  learnDutyProcess,
  type Lesson,
  lessonOf,
  type MeasuredBlock,
  appraiserEvidence,
  type AppraiserEvidence,
  type RiskPolicy,
  type VehicleForecast,
  type VehicleInput,
} from '@mile-mark/core';
import { type Pool, ThreadDied } from '../../platform/compute/pool.ts';
import type { Tasks } from '../../platform/compute/worker.ts';

interface ForecastTask {
  input: VehicleInput;
  policy: RiskPolicy;
}
interface ForeseeTask {
  known: VehicleInput;
  later: Later;
}
interface LessonTask {
  input: VehicleInput;
  groups: Record<number, string>;
}

interface ProcessTask {
  vehicles: MeasuredBlock[][];
  assumed: DutyProcess;
}

/** What this feature has threads do; each takes a part of the fleet. */
export const FORECAST_TASKS = {
  'forecasts/forecast': (part: ForecastTask[]): VehicleForecast[] =>
    part.map(({ input, policy }) => inNumbers(forecastVehicle(input, policy))),
  'forecasts/lessons': (part: LessonTask[]): Lesson[] =>
    part.map(({ input, groups }) => lessonOf(input, (axle) => groups[axle] ?? '')),
  'forecasts/appraisers': (part: VehicleInput[]): AppraiserEvidence[] => part.map(appraiserEvidence),
  'forecasts/dutyProcess': ({ vehicles, assumed }: ProcessTask): DutyProcess => learnDutyProcess(vehicles, assumed),
  'forecasts/process': (part: VehicleInput[]): number[][] => part.map(processEvidence),
  'forecasts/foresee': (part: ForeseeTask[]): ForeseenLook[][] => part.map(({ known, later }) => foresee(known, later)),
  'forecasts/backtest': (part: VehicleInput[]): BacktestedReading[][] => part.map(backtest),
} satisfies Tasks;

/** Where among a value's parts one is a number that is none, the outermost first. */
function placeOfNone(value: unknown): string[] | undefined {
  if (typeof value === 'number') return Number.isFinite(value) ? undefined : [];
  if (typeof value !== 'object' || value === null) return undefined;
  for (const [key, part] of Object.entries(value)) {
    const place = placeOfNone(part);
    if (place) return [key, ...place];
  }
  return undefined;
}

/** A forecast all of whose figures are figures. @throws Error naming one that is none */
export function inNumbers(forecast: VehicleForecast): VehicleForecast {
  const { odometerNowMi, milesPerDay, axles } = forecast;
  const figures: [string, number][] = [
    ['its odometer today', odometerNowMi],
    ['its miles a day', milesPerDay.mean],
    ...axles.flatMap(({ axle, markMiles, thinnestMm, limitMm, miles }): [string, number][] => [
      [`the mark of axle ${axle}`, markMiles],
      [`the thinnest pad of axle ${axle}`, thinnestMm],
      [`the limit of axle ${axle}`, limitMm],
      [`the median of axle ${axle}`, miles.p50],
    ]),
  ];
  const none = figures.find(([, value]) => !Number.isFinite(value));
  const name = none ? none[0] : placeOfNone(forecast)?.join(' ');
  if (name !== undefined) throw new Error(`${name} came out as no number`);
  return forecast;
}

/** Vehicles that could not be computed, and why; the others could have been. */
export class VehiclesFailed extends Error {
  readonly failures: readonly { item: unknown; message: string }[];
  constructor(failures: VehiclesFailed['failures']) {
    super(`could not be computed: ${failures.map(({ message }) => message).join('; ')}`);
    this.failures = failures;
  }
}

/** What a computation may be told, and tells, while it runs. */
export interface ComputeOptions {
  signal?: AbortSignal | undefined;
  progress?: (done: number, total: number) => void;
  /** A vehicle could not be computed, and why. */
  failed?: (unit: string, message: string) => void;
}

/** Computes over the fleet. Results are in the order of the items. @throws VehiclesFailed where only some could not be computed */
export interface Computer {
  forecasts<T>(
    items: readonly T[],
    inputOf: (item: T) => ForecastTask,
    options?: ComputeOptions,
  ): Promise<VehicleForecast[]>;
  /** What each vehicle teaches of its models and of the appraisers that measured it. */
  lessons<T>(items: readonly T[], inputOf: (item: T) => LessonTask, options?: ComputeOptions): Promise<Lesson[]>;
  /** What each vehicle says of the appraisers alone. */
  appraisers<T>(
    items: readonly T[],
    inputOf: (item: T) => VehicleInput,
    options?: ComputeOptions,
  ): Promise<AppraiserEvidence[]>;
  /** How measured duty, or miles a day, behave in a class, from its vehicles' blocks. */
  dutyProcess(vehicles: MeasuredBlock[][], assumed: DutyProcess): Promise<DutyProcess>;
  /** What each vehicle says of how wear scatters. */
  process<T>(items: readonly T[], inputOf: (item: T) => VehicleInput, options?: ComputeOptions): Promise<number[][]>;
  /** Later looks at each vehicle held against what was foreseen of them. */
  foresee<T>(
    items: readonly T[],
    inputOf: (item: T) => ForeseeTask,
    options?: ComputeOptions,
  ): Promise<ForeseenLook[][]>;
  /** Every reading of each vehicle backtested from those before it. */
  backtest<T>(
    items: readonly T[],
    inputOf: (item: T) => VehicleInput,
    options?: ComputeOptions,
  ): Promise<BacktestedReading[][]>;
}

/** What went wrong, without where. */
const saidBy = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).replace(/^compute thread: /, '');

/** Fewer vehicles than this are somebody's who waits for them: they go before the parts of a fleet. */
const FEW = 4;
/** Vehicles of a part: whoever goes first waits for no more than these. */
const CHUNK = 5;

/** Inputs are made from items as their turn comes: those of a large fleet are never all in memory at once. */
export function createComputer(pool: Pool): Computer {
  const inChunks =
    <I, R>(task: Exclude<keyof typeof FORECAST_TASKS, 'forecasts/dutyProcess'>) =>
    async <T>(items: readonly T[], inputOf: (item: T) => I, options: ComputeOptions = {}): Promise<R[]> => {
      const results: R[][] = [];
      const failures: { item: T; message: string }[] = [];
      const { signal } = options;
      const first = items.length < FEW;
      const compute = async (part: readonly T[]) => (await pool.run(task, part.map(inputOf), { signal, first })) as R[];
      /** The vehicles of a part one by one, where together they could not be computed. */
      const alone = async (part: readonly T[], reason: unknown): Promise<R[]> => {
        const own: R[] = [];
        for (const item of part)
          try {
            own.push(...(await compute([item])));
          } catch (error) {
            signal?.throwIfAborted();
            // A thread that ended under a vehicle is its fault where another can be had for nothing, and nobody's where not.
            if (error instanceof ThreadDied && !(await compute([]).catch(() => undefined))) throw reason;
            failures.push({ item, message: saidBy(error) });
          }
        return own;
      };
      let next = 0;
      let done = 0;
      // No more under way than threads can do, and one waiting.
      const lane = async () => {
        while (next * CHUNK < items.length) {
          const own = next;
          next += 1;
          const part = items.slice(own * CHUNK, (own + 1) * CHUNK);
          try {
            results[own] = await compute(part);
          } catch (error) {
            signal?.throwIfAborted();
            results[own] = await alone(part, error);
          }
          done += part.length;
          options.progress?.(done, items.length);
        }
      };
      await Promise.all(Array.from({ length: pool.threads + 1 }, lane));
      // In their own order, whichever thread came to them first.
      failures.sort((a, b) => items.indexOf(a.item) - items.indexOf(b.item));
      if (failures.length > 0) throw new VehiclesFailed(failures);
      return results.flat();
    };
  return {
    forecasts: inChunks('forecasts/forecast'),
    lessons: inChunks('forecasts/lessons'),
    appraisers: inChunks('forecasts/appraisers'),
    dutyProcess: async (vehicles, assumed) =>
      (await pool.run('forecasts/dutyProcess', { vehicles, assumed })) as DutyProcess,
    process: inChunks('forecasts/process'),
    foresee: inChunks('forecasts/foresee'),
    backtest: inChunks('forecasts/backtest'),
  };
}
