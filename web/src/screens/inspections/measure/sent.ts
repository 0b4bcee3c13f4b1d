import type { NewInspection } from '@mile-mark/contract/inspections';
import { figureOf, placesAcross, parseThickness, placeKey, type Side } from '@mile-mark/core';
import type { Draft } from '../../../stores/device.ts';
import { type DraftContext, judgeDraft, judgeOdometer } from './judgeDraft.ts';
import type { FieldState } from './judging.ts';

/** Whole micrometres of a figure in mm as typed on the pad; null where there is none or it can't be read. */
function micrometres(typed: string): number | null {
  const parsed = parseThickness(typed, { unit: 'mm' });
  return typed.trim() !== '' && parsed.ok ? Math.round(parsed.value.mm * 1000) : null;
}

/** Whole micrometres of a dial reading typed in hundredths of a millimetre; of either sign. */
export function dialMicrometres(typed: string): number | null {
  const value = figureOf(typed);
  return value === undefined || Number.isNaN(value) ? null : Math.round(value * 10);
}

/** The points of a dial, or none while one of them is missing: half a circle says nothing. */
export function dialOf(points: readonly string[], count: number): number[] {
  const values = points.slice(0, count).map(dialMicrometres);
  return values.length === count && values.every((value) => value !== null) ? values : [];
}

/** What is sent of a draft: figures as typed, in the order of the walk. */
export function inspectionOf(draft: Draft, { vehicle, unit }: DraftContext): NewInspection {
  const places = placesAcross(vehicle.axles.map(({ axle }) => axle));
  const filled = places.flatMap((place) => {
    const pad = draft.pads[placeKey(place)];
    return pad ? [{ place, pad }] : [];
  });
  return {
    inspection: {
      id: draft.inspectionId,
      unit: draft.unit,
      technicianId: draft.technicianId,
      gaugeId: draft.gaugeId,
      date: draft.date,
      odometer: draft.odometer,
      odometerUnit: draft.odometerUnit,
      seenAt: draft.seenAt,
      ...(draft.odometerAnswer ? { odometerAnswer: draft.odometerAnswer } : {}),
      ...(draft.acknowledged ? { acknowledged: true } : {}),
    },
    readings: filled
      .filter(({ pad }) => pad.typed.trim() !== '')
      .map(({ place, pad }) => ({
        id: pad.id,
        ...place,
        thickness: pad.typed,
        thicknessUnit: unit,
        ...(pad.answer ? { answer: pad.answer } : {}),
      })),
    unseen: filled.filter(({ pad }) => pad.unseen).map(({ place, pad }) => ({ id: pad.id, ...place })),
    findings: draft.findings.map(({ note, places, degree, ...one }) => ({
      ...one,
      ...(places?.length ? { places } : {}),
      ...(degree ? { degree } : {}),
      ...(note?.trim() ? { note: note.trim() } : {}),
    })),
    rotors: Object.entries(draft.rotors).flatMap(([key, rotor]) => {
      const [axle, side] = key.split('-') as [string, Side];
      const thicknessUm = rotor.thickness.map(micrometres);
      const runoutUm = dialOf(rotor.runout, rotor.points);
      const hubRunoutUm = dialOf(rotor.hub, rotor.points);
      if (thicknessUm.every((um) => um === null) && runoutUm.length === 0) return [];
      const studs = Number(rotor.studs);
      return [
        {
          id: rotor.id,
          axle: Number(axle),
          side,
          thicknessUm,
          runoutUm,
          hubRunoutUm,
          ...(studs >= 3 && studs <= 12 ? { studs } : {}),
        },
      ];
    }),
  };
}

/** What stands in the way of saving, in words; undefined where nothing does. */
export function missing(draft: Draft, context: DraftContext): string | undefined {
  const states = judgeDraft(draft, context);
  const count = (kind: FieldState['kind']) => [...states.values()].filter((state) => state.kind === kind).length;
  const open = [...states].filter(([key, state]) => state.kind === 'suspect' && !draft.pads[key]?.answer).length;
  const odometer = judgeOdometer(draft, context.vehicle);
  const body = inspectionOf(draft, context);
  const several = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
  if (!draft.technicianId) return 'Say who measured.';
  if (!draft.gaugeId) return 'Say with which gauge.';
  if (odometer.kind === 'empty') return 'The odometer is needed.';
  if (odometer.kind === 'wrong') return odometer.message;
  if (odometer.kind === 'ahead' && !draft.odometerAnswer) return 'The odometer runs ahead: answer the question there.';
  if (count('wrong') > 0) return `${several(count('wrong'), 'figure')} to mend.`;
  if (open > 0) return `${several(open, 'question')} to answer.`;
  const nothing = [body.readings, body.unseen, body.findings, body.rotors].every((list) => (list ?? []).length === 0);
  return nothing ? 'Nothing is measured yet.' : undefined;
}
