import { normalQuantile, sortedQuantile } from '../numeric/index.ts';
import { padPlaces, resolutionVariance } from '../measure/index.ts';
import { runHistory } from './history.ts';
import type { ReadingInput, VehicleInput } from './types.ts';

/** One reading as it was backtested from what stood on record before it, by the filter and by two simple methods. */
export interface BacktestedReading {
  id: string;
  date: string;
  /** Miles since this pad was looked at before. */
  milesAhead: number;
  /** Reading less what was backtested, mm. */
  errorMm: number;
  /** One standard deviation of the reading about what was backtested, mm. */
  sdMm: number;
  /** The same by a line through the last two points of the pad, mm. */
  twoPointErrorMm: number;
  /** The same by least squares through all points of the pad since it was fitted, mm. */
  leastSquaresErrorMm: number;
}

interface Point {
  miles: number;
  mm: number;
}

/**
 * Foretells every reading of a vehicle that has a history: each from earlier dates alone. New pads count as a point
 * at nominal thickness; a pad needs two points before a line can be drawn. Appraisers and groups are those learnt from the
 * whole record, to which the reading itself has given its small part.
 */
export function backtest(input: VehicleInput): BacktestedReading[] {
  const { judgements } = runHistory(input);
  const byId = new Map(input.readings.map((reading) => [reading.id, reading]));
  return judgements.flatMap(({ id, expectedMm, expectedSdMm }): BacktestedReading[] => {
    const reading = byId.get(id);
    if (!reading) return [];
    const points = pointsBefore(input, reading);
    const last = points.at(-1);
    const twoPoint = lineThrough(points.slice(-2));
    const leastSquares = lineThrough(points);
    if (!last || !twoPoint || !leastSquares) return [];
    return [
      {
        id,
        date: reading.date,
        milesAhead: reading.miles - last.miles,
        errorMm: reading.mm - expectedMm,
        sdMm: Math.sqrt(expectedSdMm ** 2 + resolutionVariance(reading.resolutionMm)),
        twoPointErrorMm: reading.mm - twoPoint(reading.miles),
        leastSquaresErrorMm: reading.mm - leastSquares(reading.miles),
      },
    ];
  });
}

/** What two simple methods say of the miles left of an axle's present pads. */
export interface SimplePassage {
  twoPointMi: number;
  leastSquaresMi: number;
}

/** A line that does not fall says nothing; it is taken as this many miles. */
const NO_END_MI = 200_000;

/**
 * Miles from an odometer to the service limit by the line of each pad, the first pad counting; undefined where no
 * pad of the axle has two points.
 */
export function foretellPassage(input: VehicleInput, axle: number, miles: number): SimplePassage | undefined {
  const spec = input.axles.find((one) => one.axle === axle);
  if (!spec) return undefined;
  const lines = padPlaces([axle]).flatMap(({ side, pad }) => {
    const points = pointsBefore(input, { axle, side, pad, date: input.today }, true);
    const [twoPoint, leastSquares] = [lineThrough(points.slice(-2)), lineThrough(points)];
    return twoPoint && leastSquares ? [{ twoPoint, leastSquares }] : [];
  });
  if (lines.length === 0) return undefined;
  const end = (line: (at: number) => number) => {
    const [here, perMile] = [line(miles), line(miles) - line(miles + 1)];
    if (perMile <= 0) return here <= spec.limitMm ? 0 : NO_END_MI;
    return Math.min(NO_END_MI, (here - spec.limitMm) / perMile);
  };
  return {
    twoPointMi: Math.min(...lines.map(({ twoPoint }) => end(twoPoint))),
    leastSquaresMi: Math.min(...lines.map(({ leastSquares }) => end(leastSquares))),
  };
}

/** Points of the same pad on earlier dates since it was fitted, the fitting itself first. */
function pointsBefore(
  input: VehicleInput,
  reading: Pick<ReadingInput, 'axle' | 'side' | 'pad' | 'date'>,
  thatDayToo = false,
): Point[] {
  const sooner = (date: string) => date < reading.date || (thatDayToo && date === reading.date);
  const fitted = input.fittings
    .filter(({ axle, date }) => axle === reading.axle && sooner(date))
    .sort((a, b) => a.date.localeCompare(b.date))
    .at(-1);
  const newMm = input.axles.find(({ axle }) => axle === reading.axle)?.newMm ?? 0;
  const looks = input.readings
    .filter(
      (one) =>
        one.axle === reading.axle &&
        one.side === reading.side &&
        one.pad === reading.pad &&
        sooner(one.date) &&
        (!fitted || one.date > fitted.date),
    )
    .sort((a, b) => a.miles - b.miles)
    .map(({ miles, mm }) => ({ miles, mm }));
  return fitted ? [{ miles: fitted.miles, mm: newMm }, ...looks] : looks;
}

/** Least-squares line through points of at least two odometers; undefined otherwise. */
function lineThrough(points: readonly Point[]): ((miles: number) => number) | undefined {
  const n = points.length;
  const meanX = points.reduce((sum, { miles }) => sum + miles, 0) / n;
  const meanY = points.reduce((sum, { mm }) => sum + mm, 0) / n;
  const sxx = points.reduce((sum, { miles }) => sum + (miles - meanX) ** 2, 0);
  if (n < 2 || sxx < 1) return undefined;
  const slope = points.reduce((sum, { miles, mm }) => sum + (miles - meanX) * (mm - meanY), 0) / sxx;
  return (miles) => meanY + slope * (miles - meanX);
}

/** How a set of backtested readings came out. */
export interface BacktestSummary {
  readings: number;
  /** Median absolute error, mm. */
  medianMm: number;
  twoPointMedianMm: number;
  leastSquaresMedianMm: number;
  /** Share of readings within the interval that was to hold 50, 80 and 90 %. */
  within50: number;
  within80: number;
  within90: number;
}

/** @returns undefined where nothing was backtested */
export function summariseBacktest(backtested: readonly BacktestedReading[]): BacktestSummary | undefined {
  if (backtested.length === 0) return undefined;
  const median = (of: (one: BacktestedReading) => number) =>
    sortedQuantile(Float64Array.from(backtested, (one) => Math.abs(of(one))).sort(), 0.5);
  const within = (share: number) => {
    const z = normalQuantile(0.5 + share / 2);
    return backtested.filter(({ errorMm, sdMm }) => Math.abs(errorMm) <= z * sdMm).length / backtested.length;
  };
  return {
    readings: backtested.length,
    medianMm: median(({ errorMm }) => errorMm),
    twoPointMedianMm: median(({ twoPointErrorMm }) => twoPointErrorMm),
    leastSquaresMedianMm: median(({ leastSquaresErrorMm }) => leastSquaresErrorMm),
    within50: within(0.5),
    within80: within(0.8),
    within90: within(0.9),
  };
}
