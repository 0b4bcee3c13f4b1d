import type { Gauge } from '@mile-mark/contract/gauges';
import type { Bay, BayAxle, BayPad, BayVehicle } from '@mile-mark/contract/inspections';
import { dayInWords, failureInWords, milesInWords } from '@mile-mark/contract/words';
import {
  doubtPace,
  metresToMiles,
  type PaceDoubt,
  padPlaces,
  PADS,
  parseDistance,
  placeKey,
  type Side,
  sidesSwapped,
  type ThicknessUnit,
  UNKNOWN_APPRAISER,
} from '@mile-mark/core';
import type { Draft } from '../../../stores/device.ts';
import { type FieldState, judgeTyped, type MeasuringAppraiser } from './judging.ts';

/** What a draft is judged by. */
export interface DraftContext {
  vehicle: BayVehicle;
  bay: Bay;
  /** Unit in which figures are typed. */
  unit: ThicknessUnit;
}

export function gaugeOf(draft: Draft, bay: Bay): Gauge | undefined {
  return bay.gauges.find(({ id }) => id === draft.gaugeId);
}

export function appraiserOf(draft: Draft, bay: Bay): MeasuringAppraiser {
  return (
    bay.appraisers.find(
      (appraiser) => appraiser.technicianId === draft.technicianId && appraiser.gaugeId === draft.gaugeId,
    ) ?? UNKNOWN_APPRAISER
  );
}

/** The odometer as typed, miles; undefined where it can't be read. */
function odometerMiles({ odometer, odometerUnit }: Draft): number | undefined {
  const parsed = parseDistance(odometer, { unit: odometerUnit });
  return parsed.ok ? metresToMiles(parsed.value.metres) : undefined;
}

export type OdometerState =
  { kind: 'empty' } | { kind: 'wrong'; message: string } | { kind: 'fine' } | { kind: 'ahead'; pace: PaceDoubt };

/** Judges the odometer while it is typed: readable, not falling, not running ahead of the vehicle's pace. */
export function judgeOdometer(draft: Draft, { last, milesPerDay }: BayVehicle): OdometerState {
  if (draft.odometer.trim() === '') return { kind: 'empty' };
  const parsed = parseDistance(draft.odometer, { unit: draft.odometerUnit });
  if (!parsed.ok) return { kind: 'wrong', message: failureInWords(parsed.failure) };
  const miles = metresToMiles(parsed.value.metres);
  if (!last) return { kind: 'fine' };
  if (draft.date >= last.date && miles < last.miles - 1) {
    const told = milesInWords(last.miles, draft.odometerUnit);
    return { kind: 'wrong', message: `${told} stood on record on ${dayInWords(last.date)}; an odometer doesn't fall.` };
  }
  const pace = milesPerDay && draft.date > last.date ? doubtPace(miles, draft.date, last, milesPerDay) : undefined;
  return pace ? { kind: 'ahead', pace } : { kind: 'fine' };
}

/** What a pad is expected to be at the odometer typed, mm. */
export function expectedNow(pad: BayPad, vehicle: BayVehicle, draft: Draft): number {
  // One that can't be so says nothing of how far the pads are worn.
  const typed = judgeOdometer(draft, vehicle).kind === 'wrong' ? undefined : odometerMiles(draft);
  const miles = typed ?? vehicle.odometerNowMi ?? 0;
  const since = miles - (vehicle.odometerNowMi ?? miles);
  // A mistyped odometer must not make every pad look wrong: the expectation moves by a month's driving at most.
  const month = 31 * (vehicle.milesPerDay ?? 0);
  return Math.max(0, pad.meanMm - (pad.ratePer1000Mi * Math.max(-month, Math.min(month, since))) / 1000);
}

/** The state of every pad's figure, swapped sides of an axle included. */
export function judgeDraft(draft: Draft, context: DraftContext): Map<string, FieldState> {
  const { vehicle, bay, unit } = context;
  const appraiser = appraiserOf(draft, bay);
  const gauge = gaugeOf(draft, bay);
  const states = new Map<string, FieldState>();
  for (const axle of vehicle.axles) {
    for (const place of padPlaces([axle.axle])) {
      const pad = axle.pads.find((one) => one.side === place.side && one.pad === place.pad);
      const expected = pad && {
        meanMm: expectedNow(pad, vehicle, draft),
        sdMm: pad.sdMm,
        informed: pad.readings > 0 || axle.fittedOn !== null,
      };
      const typed = draft.pads[placeKey(place)]?.typed ?? '';
      states.set(placeKey(place), judgeTyped(typed, unit, gauge?.resolutionMm, axle, expected, appraiser));
    }
    markSwapped(states, axle, draft, context);
  }
  return states;
}

/** Raises swapped sides on an axle's figures where left and right fit the other way round. */
function markSwapped(
  states: Map<string, FieldState>,
  axle: BayAxle,
  draft: Draft,
  { vehicle, bay }: DraftContext,
): void {
  const appraiser = appraiserOf(draft, bay);
  const resolution = gaugeOf(draft, bay)?.resolutionMm ?? 0.1;
  const pairs = PADS.flatMap((pad) => {
    const at = (side: Side) => {
      const key = placeKey({ axle: axle.axle, side, pad });
      const state = states.get(key);
      const known = axle.pads.find((one) => one.side === side && one.pad === pad);
      const mm = state && (state.kind === 'fine' || state.kind === 'suspect') ? state.mm : undefined;
      return mm === undefined || !known || known.readings === 0
        ? undefined
        : { key, mm, sdMm: known.sdMm, expectedMm: expectedNow(known, vehicle, draft) };
    };
    const [left, right] = [at('left'), at('right')];
    return left && right ? [{ left, right }] : [];
  });
  if (pairs.length === 0) return;
  const probability = sidesSwapped(
    pairs.map(({ left, right }) => ({
      measuredMm: left.mm - right.mm,
      expectedMm: left.expectedMm - right.expectedMm,
      sdMm: Math.sqrt(left.sdMm ** 2 + right.sdMm ** 2 + 2 * appraiser.repeatabilityMm ** 2 + resolution ** 2 / 6),
    })),
  );
  if (probability <= 0.5) return;
  for (const { left, right } of pairs)
    for (const [one, other] of [
      [left, right],
      [right, left],
    ] as const)
      states.set(one.key, {
        kind: 'suspect',
        mm: one.mm,
        suspicion: {
          kind: 'sides',
          probability,
          expectedMm: one.expectedMm,
          differenceMm: one.mm - one.expectedMm,
          insteadMm: other.mm,
        },
      });
}
