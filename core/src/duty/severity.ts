import { itemAt, valueAt } from '../numeric/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import { wearingWork } from './temperature.ts';
import { workPerMile, type Duty, type DutySettings, type VehicleMasses } from './work.ts';

/**
 * Severity of an axle's duty: its friction-brake work per mile, weighed by what heat does to wear, over that of the
 * model's reference duty (1 for the reference itself).
 *
 * @param brakeShare the axle's share of the braking, 0 to 1; where left out, the whole vehicle's work counts and heat does not
 * @returns dimensionless, > 0; throws a RangeError where a figure of duty or masses is not a number; a reference or a duty that asks nothing of the brakes counts as 0.02 of the other
 */
export function severity(
  masses: VehicleMasses,
  duty: Duty,
  reference: Duty,
  settings: DutySettings,
  brakeShare?: number,
): number {
  const work = (one: Duty) =>
    brakeShare === undefined
      ? workPerMile(masses, one, settings).totalJ
      : wearingWork(masses, one, settings, brakeShare);
  const [asked, base] = [work(duty), work(reference)];
  if (!Number.isFinite(asked) || !Number.isFinite(base))
    throw new RangeError('a figure of the duty or the masses is missing');
  if (base <= 0) return asked <= 0 ? 1 : LEAST;
  return Math.max(LEAST, asked / base);
}

/** No duty spares the brakes more than this: parking and corrosion wear pads too (common practice, no source). */
const LEAST = 0.02;

/** The axle's share of the work, J per mile. */
export function axleWork(totalJ: number, brakeShare: number): number {
  return totalJ * brakeShare;
}

/** A stretch of time under one duty. */
export interface DutySpan {
  from: IsoDate;
  /** First day after the span; undefined: until further notice. */
  to?: IsoDate | undefined;
  severity: number;
  /** Severity of single axles, by number, where it differs: their rotors get hotter, or less hot. */
  byAxle?: Record<number, number> | undefined;
  /** Whether it was measured over its days, and not stated of them. */
  measured?: boolean | undefined;
  /** Whether it only says more exactly what the span before it states: no other duty begins. */
  continues?: boolean | undefined;
  /** Of a measured block: severity of the route it was driven on, and what was measured of it, whatever is believed of that. */
  block?: { route: number; told: number } | undefined;
}

/** Severity of a span for an axle; without an axle, or where it does not differ, the span's own. */
function severityIn(span: DutySpan, axle: number | undefined): number {
  return axle === undefined ? span.severity : (span.byAxle?.[axle] ?? span.severity);
}

/** An odometer on a day. */
export interface OdometerPoint {
  date: IsoDate;
  miles: number;
}

/** What is driven over a span: distance, the same weighted by severity, and time. */
export interface Exposure {
  /** Miles driven. */
  miles: number;
  /** Duty-weighted miles: ∫ severity d(miles). */
  weightedMiles: number;
  days: number;
}

/**
 * Duty-weighted miles between two odometer points, the miles laid evenly over the days between them.
 *
 * Days before the first span count under the first span's severity; without any span severity is 1.
 *
 * @param spans in order of date, not overlapping
 * @param from earlier point
 * @param to later point; same-day points carry all miles under that day's duty
 * @param axle whose severity counts; the vehicle's where left out
 */
export function exposureBetween(
  spans: readonly DutySpan[],
  from: OdometerPoint,
  to: OdometerPoint,
  axle?: number,
): Exposure {
  const start = dayNumber(from.date);
  const days = Math.max(0, dayNumber(to.date) - start);
  const miles = Math.max(0, to.miles - from.miles);
  if (spans.length === 0) return { miles, weightedMiles: miles, days };
  if (days === 0) return { miles, weightedMiles: miles * severityOn(spans, start, axle), days };
  const opens = opensOf(spans);
  let weightedDays = 0;
  for (let k = spanOn(opens, start); k < spans.length; k += 1) {
    const closes = k === spans.length - 1 ? Infinity : valueAt(opens, k + 1);
    const overlap = Math.min(start + days, closes) - Math.max(start, k === 0 ? -Infinity : valueAt(opens, k));
    if (overlap > 0) weightedDays += overlap * severityIn(itemAt(spans, k), axle);
    if (closes >= start + days) break;
  }
  return { miles, weightedMiles: (miles * weightedDays) / days, days };
}

const OPENS = new WeakMap<readonly DutySpan[], Float64Array>();

/** First days of spans; kept, as one history asks for them hundreds of times. */
function opensOf(spans: readonly DutySpan[]): Float64Array {
  const kept = OPENS.get(spans);
  if (kept) return kept;
  const opens = Float64Array.from(spans, ({ from }) => dayNumber(from));
  OPENS.set(spans, opens);
  return opens;
}

/** The last span that had begun on a day; the first one before all. */
function spanOn(opens: Float64Array, day: number): number {
  let [low, high] = [0, opens.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (valueAt(opens, middle) <= day) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Severity on a day number; a gap between spans counts under the span before it. */
export function severityOn(spans: readonly DutySpan[], day: number, axle?: number): number {
  const current = spans[spans.length === 0 ? 0 : spanOn(opensOf(spans), day)];
  return current ? severityIn(current, axle) : 1;
}

/** How many other duties began after a day, up to another; a span that only continues one begins none. */
export function dutiesBegun(spans: readonly DutySpan[], after: IsoDate, until: IsoDate): number {
  let begun = 0;
  for (let k = Math.max(1, spanOn(opensOf(spans), dayNumber(after))); k < spans.length; k += 1) {
    const { from, continues } = itemAt(spans, k);
    if (from > until) break;
    if (from > after && !continues) begun += 1;
  }
  return begun;
}
