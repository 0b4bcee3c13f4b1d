import {
  forecastFrom,
  runWithChanges,
  wearFan,
  type RiskPolicy,
  type VehicleInput,
  type WearFan,
} from '@mile-mark/core';

/** What would be if: the vehicle as it is, and the same with other duty, limit or risk ahead. */
export interface IfTask {
  /** Changes whenever the vehicle's record does: its history is then run anew. */
  key: string;
  axle: number;
  input: VehicleInput;
  policy: RiskPolicy;
  asItIs: { input: VehicleInput; policy: RiskPolicy };
}

interface IfMark {
  markDate: string;
  markMiles: number;
  medianDate: string;
  ruledBy: 'risk' | 'cost';
  belowNow: number;
}

export type IfAnswer =
  { ok: true; now: IfMark; then: IfMark; fan: WearFan; tookMs: number } | { ok: false; message: string };

/** The fan reaches at least so far, miles. */
const LEAST_AHEAD_MI = 3000;

let kept: { key: string; run: ReturnType<typeof runWithChanges> } | undefined;

/** Answers one question; the history is run once for a record and kept. */
export function whatIf({ key, axle, input, policy, asItIs }: IfTask): IfAnswer {
  const begun = performance.now();
  try {
    if (kept?.key !== key) kept = { key, run: runWithChanges(asItIs.input) };
    const { run } = kept;
    const own = input.axles.filter((one) => one.axle === axle);
    const markOf = (of: {
      input: VehicleInput;
      policy: RiskPolicy;
    }): IfMark & { until: number; odometerNowMi: number } => {
      const forecast = forecastFrom(
        run,
        { ...of.input, axles: of.input.axles.filter((one) => one.axle === axle) },
        of.policy,
      );
      const [found] = forecast.axles;
      if (!found) throw new Error(`There is no axle ${axle}.`);
      return {
        markDate: found.markDate,
        markMiles: found.markMiles,
        medianDate: found.dates.p50,
        ruledBy: found.ruledBy,
        belowNow: found.probabilityBelowNow,
        until: found.miles.p95,
        odometerNowMi: forecast.odometerNowMi,
      };
    };
    const now = markOf(asItIs);
    const then = markOf({ input, policy });
    const until = Math.max(LEAST_AHEAD_MI, then.until - then.odometerNowMi, now.until - now.odometerNowMi);
    const fan = own.length > 0 ? wearFan(run, input, policy, axle, until, 20) : undefined;
    if (!fan) throw new Error(`There is no axle ${axle}.`);
    return { ok: true, now, then, fan, tookMs: performance.now() - begun };
  } catch (error) {
    return { ok: false, message: error instanceof Error ? error.message : String(error) };
  }
}
