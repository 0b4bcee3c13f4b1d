import type { AxleDetail, PadDetail, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Gauge } from '@mile-mark/contract/gauges';
import type { Me } from '@mile-mark/contract/people';
import { placesAcross, placeKey, type PadPlace, type ThicknessUnit } from '@mile-mark/core';
import { useBay } from '../../../stores/bay.ts';
import { sheetDraft } from './draft.ts';
import { judgeDraft, judgeOdometer, type OdometerState } from './judgeDraft.ts';
import { judgeTyped, type FieldState } from './judging.ts';

export interface Head {
  date: string;
  odometer: string;
  gaugeId: string;
  technicianId: string;
  note: string;
}

/** A pad of the sheet with its figure's state. */
export interface PadState {
  place: PadPlace;
  axle: AxleDetail | undefined;
  pad: PadDetail | undefined;
  state: FieldState;
}

/** The same judgement as in the bay: learnt bias, pace, swapped sides; without them until the bay's data are here. */
export function useSheetJudgement(sheet: {
  vehicle: VehicleDetail;
  me: Me;
  head: Head;
  typed: Record<string, string>;
  unit: ThicknessUnit;
  gauge: Gauge | undefined;
}): { states: PadState[]; odometer: OdometerState } {
  const { vehicle, me, head, typed, unit, gauge } = sheet;
  const bay = useBay().data?.bay;
  const inBay = bay?.vehicles.find((one) => one.unit === vehicle.unit);
  const draft = sheetDraft(head, me.distanceUnit, vehicle.unit, typed);
  const judged = bay && inBay ? judgeDraft(draft, { vehicle: inBay, bay, unit }) : undefined;
  const odometer: OdometerState = inBay ? judgeOdometer(draft, inBay) : { kind: 'fine' };
  const alone = (axle: AxleDetail, pad: PadDetail | undefined, figure: string) =>
    judgeTyped(
      figure,
      unit,
      gauge?.resolutionMm,
      { newMm: axle.padNewMm, plateMm: axle.backingPlateMm },
      pad && { meanMm: pad.meanMm, sdMm: pad.sdMm, informed: pad.trace.length > 0 },
    );
  const states = placesAcross(vehicle.axleDetails.map(({ axle }) => axle)).map((place): PadState => {
    const axle = vehicle.axleDetails.find((one) => one.axle === place.axle);
    const pad = axle?.pads.find((one) => one.side === place.side && one.pad === place.pad);
    const state = judged?.get(placeKey(place)) ?? (axle ? alone(axle, pad, typed[placeKey(place)] ?? '') : undefined);
    return { place, axle, pad, state: state ?? { kind: 'empty' } };
  });
  return { states, odometer };
}
