import { valueAt } from '../numeric/index.ts';
import { METRES_PER_MILE, MPS_PER_MPH, STANDARD_GRAVITY } from '../units/index.ts';
import { workPerMile, type Duty, type DutySettings, type VehicleMasses } from './work.ts';

/** A drive as it was recorded: one value a sample, in order of time. */
export interface Trace {
  /** Seconds since its beginning, rising. */
  seconds: Float64Array;
  speedMps: Float64Array;
  altitudeM: Float64Array;
  /** Mass on the road, kg, where it was recorded. */
  massKg?: Float64Array | undefined;
}

/** A stop, slowdown or descent found in a trace; times in s from its start, speeds in m/s. */
export interface TraceEvent {
  kind: 'stop' | 'slowdown' | 'descent';
  fromSeconds: number;
  toSeconds: number;
  fromMps: number;
  toMps: number;
  /** Height lost, m. */
  heightM: number;
  /** Left for the friction brakes, J. */
  brakeJ: number;
}

/** What a trace holds, and the duty that stands for it. */
export interface TraceFindings {
  events: TraceEvent[];
  miles: number;
  seconds: number;
  massKg: number;
  /** Friction-brake work of the whole trace, J a mile, integrated sample by sample. */
  workJPerMile: number;
  /** The duty that stands for it; miles a day are those of the trace. */
  duty: Duty;
  /** Work per mile of that duty by the same formulas as any stated one, J. */
  dutyJPerMile: number;
  /** Stretches longer than this many seconds between samples; nothing is made up for them. */
  gaps: number;
}

/** Below this a vehicle stands, m/s. */
const STANDING_MPS = 0.5;
/** A slowdown is counted from this loss of speed on, m/s (5 mph; common practice, no source). */
const SLOWDOWN_MPS = 5 * MPS_PER_MPH;
/** Speed may rise this much within one slowdown, m/s: noise of the record. */
const NOISE_MPS = 0.7;
/** A descent is steeper than this (rise over run) and loses at least so many metres. */
const DESCENT_GRADE = 0.02;
const DESCENT_M = 10;
/** Altitude is averaged over this many seconds to either side: satellite altitude jumps. */
const SMOOTH_SECONDS = 10;
const GAP_SECONDS = 5;

/**
 * Finds stops, slowdowns and descents in a trace and integrates the work of the brakes:
 * F = −m·k·dv/dt − m·g·sin θ − c_rr·m·g·cos θ − ½·ρ·CdA·v², where it is above nought, over the way.
 *
 * @param payload mass to assume where the trace has none, kg
 * @param retarderShare share of the work taken by engine brake or retarder, 0 to 1
 * @returns events in order of time; throws a RangeError for less than two samples, unequal lengths or time that does not rise
 */
export function findInTrace(
  trace: Trace,
  masses: VehicleMasses,
  settings: DutySettings,
  { massKg, retarderShare }: { massKg: number; retarderShare: number },
): TraceFindings {
  const { seconds, speedMps } = trace;
  const n = seconds.length;
  if (n < 2 || speedMps.length !== n || trace.altitudeM.length !== n || (trace.massKg && trace.massKg.length !== n))
    throw new RangeError('a trace needs at least two samples, each with time, speed and altitude');
  for (let i = 1; i < n; i += 1)
    if (!(valueAt(seconds, i) > valueAt(seconds, i - 1))) throw new RangeError(`time does not rise at sample ${i + 1}`);
  const altitude = smoothed(seconds, trace.altitudeM);
  const workJ = new Float64Array(n);
  const grade = new Float64Array(n);
  let [metres, massSeconds, driving, gaps] = [0, 0, 0, 0];
  for (let i = 1; i < n; i += 1) {
    const dt = valueAt(seconds, i) - valueAt(seconds, i - 1);
    if (dt > GAP_SECONDS) {
      gaps += 1;
      continue;
    }
    const v = (valueAt(speedMps, i) + valueAt(speedMps, i - 1)) / 2;
    const way = v * dt;
    metres += way;
    const mass = trace.massKg?.[i] ?? massKg;
    massSeconds += mass * way;
    driving += dt;
    if (v <= STANDING_MPS / 2) continue;
    const slope = Math.max(-0.3, Math.min(0.3, (valueAt(altitude, i) - valueAt(altitude, i - 1)) / Math.max(way, 0.5)));
    grade[i] = slope;
    const angle = Math.atan(slope);
    const speeding = (valueAt(speedMps, i) - valueAt(speedMps, i - 1)) / dt;
    const force =
      -mass * settings.rotatingMass * speeding -
      mass * STANDARD_GRAVITY * Math.sin(angle) -
      settings.rolling * mass * STANDARD_GRAVITY * Math.cos(angle) -
      0.5 * settings.airDensity * settings.dragAreaM2 * v * v;
    workJ[i] = Math.max(0, force) * way * (1 - retarderShare);
  }
  const miles = metres / METRES_PER_MILE;
  const events = [...slowdownsIn(trace, workJ, altitude), ...descentsIn(trace, grade, altitude, workJ)].sort(
    (a, b) => a.fromSeconds - b.fromSeconds,
  );
  const mean = metres > 0 ? massSeconds / metres : massKg;
  const duty = dutyOfEvents(events, miles, mean, masses, retarderShare);
  return {
    events,
    miles,
    seconds: driving,
    massKg: mean,
    workJPerMile: miles > 0 ? workJ.reduce((sum, one) => sum + one, 0) / miles : 0,
    duty,
    dutyJPerMile: workPerMile(masses, duty, settings).totalJ,
    gaps,
  };
}

/** Altitude averaged over a window of time about each sample, m. */
function smoothed(seconds: Float64Array, altitude: Float64Array): Float64Array {
  const n = seconds.length;
  const result = new Float64Array(n);
  let [from, to, sum] = [0, 0, 0];
  for (let i = 0; i < n; i += 1) {
    const at = valueAt(seconds, i);
    while (to < n && valueAt(seconds, to) <= at + SMOOTH_SECONDS) sum += valueAt(altitude, to++);
    while (valueAt(seconds, from) < at - SMOOTH_SECONDS) sum -= valueAt(altitude, from++);
    result[i] = sum / (to - from);
  }
  return result;
}

/** Stops and slowdowns: from a highest speed down to a standstill, or to the lowest before it rises again. */
function slowdownsIn({ seconds, speedMps }: Trace, workJ: Float64Array, altitude: Float64Array): TraceEvent[] {
  const events: TraceEvent[] = [];
  let [top, low] = [0, 0];
  const close = () => {
    const [from, to] = [valueAt(speedMps, top), valueAt(speedMps, low)];
    const stop = to <= STANDING_MPS;
    if (low > top && from - to >= (stop ? 2 : SLOWDOWN_MPS)) {
      let brakeJ = 0;
      for (let i = top + 1; i <= low; i += 1) brakeJ += valueAt(workJ, i);
      events.push({
        kind: stop ? 'stop' : 'slowdown',
        fromSeconds: valueAt(seconds, top),
        toSeconds: valueAt(seconds, low),
        fromMps: from,
        toMps: stop ? 0 : to,
        heightM: valueAt(altitude, top) - valueAt(altitude, low),
        brakeJ,
      });
    }
  };
  for (let i = 1; i < seconds.length; i += 1) {
    const v = valueAt(speedMps, i);
    if (v > valueAt(speedMps, low) + NOISE_MPS) {
      close();
      [top, low] = [i, i];
    } else if (v >= valueAt(speedMps, top) && low === top) [top, low] = [i, i];
    else if (v < valueAt(speedMps, low)) low = i;
  }
  close();
  return events;
}

/** Stretches that go down steeper than a limit, short rises within bridged. */
function descentsIn(
  { seconds, speedMps }: Trace,
  grade: Float64Array,
  altitude: Float64Array,
  workJ: Float64Array,
): TraceEvent[] {
  const events: TraceEvent[] = [];
  let from = -1;
  let last = -1;
  const close = () => {
    if (from < 0) return;
    const heightM = valueAt(altitude, from) - valueAt(altitude, last);
    if (heightM >= DESCENT_M) {
      let brakeJ = 0;
      for (let i = from + 1; i <= last; i += 1) brakeJ += valueAt(workJ, i);
      events.push({
        kind: 'descent',
        fromSeconds: valueAt(seconds, from),
        toSeconds: valueAt(seconds, last),
        fromMps: valueAt(speedMps, from),
        toMps: valueAt(speedMps, last),
        heightM,
        brakeJ,
      });
    }
    from = -1;
  };
  for (let i = 1; i < seconds.length; i += 1) {
    if (valueAt(grade, i) < -DESCENT_GRADE) {
      if (from < 0) from = i - 1;
      last = i;
    } else if (from >= 0 && valueAt(seconds, i) - valueAt(seconds, last) > SMOOTH_SECONDS) close();
  }
  close();
  return events;
}

/** Speeds that stand for many by their energy: root mean squares. */
function dutyOfEvents(
  events: readonly TraceEvent[],
  miles: number,
  massKg: number,
  { tareKg, gvwrKg }: VehicleMasses,
  retarderShare: number,
): Duty {
  const of = (kind: TraceEvent['kind']) => events.filter((one) => one.kind === kind);
  const rms = (values: readonly number[]) =>
    values.length > 0 ? Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length) / MPS_PER_MPH : 0;
  const [stops, slowdowns, descents] = [of('stop'), of('slowdown'), of('descent')];
  const perMile = (count: number) => (miles > 0 ? count / miles : 0);
  return {
    stopsPerMile: perMile(stops.length),
    mphBeforeStop: rms((stops.length > 0 ? stops : slowdowns).map(({ fromMps }) => fromMps)),
    payloadShare: Math.max(0, Math.min(1.5, (massKg - tareKg) / Math.max(1, gvwrKg - tareKg))),
    descentMPerMile: perMile(descents.reduce((sum, { heightM }) => sum + heightM, 0)),
    retarderShare,
    towedKg: 0,
    slowdownsPerMile: perMile(slowdowns.length),
    slowdownFromMph: rms(slowdowns.map(({ fromMps }) => fromMps)),
    slowdownToMph: rms(slowdowns.map(({ toMps }) => toMps)),
    longestDescentM: Math.max(0, ...descents.map(({ heightM }) => heightM)),
  };
}
