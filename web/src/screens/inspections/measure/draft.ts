import { failureInWords } from '@mile-mark/contract/words';
import type { Gauge } from '@mile-mark/contract/gauges';
import type { Bay, BayAxle, BayPad, BayVehicle, NewInspection } from '@mile-mark/contract/inspections';
import {
  figureOf,
  doubtPace,
  metresToMiles,
  type PaceDoubt,
  type Pad,
  type PadPlace,
  padPlaces,
  PADS,
  parseDistance,
  parseThickness,
  placeKey,
  type Side,
  sidesSwapped,
  type ThicknessUnit,
  UNKNOWN_APPRAISER,
} from '@mile-mark/core';
import type { Draft, DraftAnswer, DraftPad, DraftRotor } from '../../../stores/device.ts';
import { type FieldState, judgeTyped, type MeasuringAppraiser } from './judging.ts';

/** A wheel of the walk around the vehicle. */
export interface Wheel {
  axle: number;
  side: Side;
}

/** The walk around a vehicle: back along the left side, forward along the right. */
export function walk(axles: readonly number[]): Wheel[] {
  const front = [...axles].sort((a, b) => a - b);
  return [
    ...front.map((axle) => ({ axle, side: 'left' as const })),
    ...front.reverse().map((axle) => ({ axle, side: 'right' as const })),
  ];
}

/** Pads of a wheel in the order in which they come into view: the outer first. */
export const PADS_IN_VIEW: readonly Pad[] = ['outer', 'inner'];

const wheelKey = ({ axle, side }: Wheel) => `${axle}-${side}`;

export type Action =
  | {
      kind: 'head';
      set: Partial<Pick<Draft, 'technicianId' | 'gaugeId' | 'date' | 'odometer' | 'odometerAnswer'>>;
    }
  | { kind: 'type'; place: PadPlace; typed: string }
  | { kind: 'answer'; place: PadPlace; answer: DraftAnswer }
  | { kind: 'unseen'; place: PadPlace; unseen: boolean }
  | { kind: 'finding'; wheel: Wheel; item: string; state: string | undefined }
  | { kind: 'rotor'; wheel: Wheel; set: Partial<Omit<DraftRotor, 'id'>> }
  | { kind: 'photo'; photo: Draft['photos'][number] }
  | { kind: 'no_photo'; id: string };

/** An empty inspection of a vehicle; ids are made once, so that a retry adds nothing twice. */
export function newDraft(
  bay: Pick<Bay, 'at' | 'today'>,
  unit: string,
  who: { technicianId: string; gaugeId: string; odometerUnit: 'mi' | 'km' },
): Draft {
  return {
    unit,
    inspectionId: crypto.randomUUID(),
    seenAt: bay.at,
    date: bay.today,
    odometer: '',
    pads: {},
    findings: {},
    rotors: {},
    photos: [],
    ...who,
  };
}

/** A sheet's figures as a draft, so that they are judged as those of the bay. */
export function sheetDraft(
  head: Pick<Draft, 'technicianId' | 'gaugeId' | 'date' | 'odometer'>,
  odometerUnit: Draft['odometerUnit'],
  unit: string,
  typed: Record<string, string>,
): Draft {
  const pads = Object.fromEntries(Object.entries(typed).map(([key, figure]) => [key, { id: key, typed: figure }]));
  const { technicianId, gaugeId, date, odometer } = head;
  return {
    ...{ unit, technicianId, gaugeId, date, odometer, odometerUnit, pads },
    ...{ inspectionId: '', seenAt: '', findings: {}, rotors: {}, photos: [] },
  };
}

const emptyRotor = (): DraftRotor => ({
  id: crypto.randomUUID(),
  thickness: Array<string>(8).fill(''),
  runout: Array<string>(8).fill(''),
  hub: Array<string>(8).fill(''),
  points: 8,
  studs: '5',
});

/** What a touch makes of a draft; the draft itself is never changed, so that it can be undone. */
export function apply(draft: Draft, action: Action): Draft {
  const pad = (place: PadPlace, change: (pad: DraftPad) => DraftPad): Draft => {
    const key = placeKey(place);
    const before = draft.pads[key] ?? { id: crypto.randomUUID(), typed: '' };
    return { ...draft, pads: { ...draft.pads, [key]: change(before) } };
  };
  switch (action.kind) {
    case 'head': {
      const changed = action.set.odometer !== undefined && action.set.odometer !== draft.odometer;
      return { ...draft, ...(changed ? { odometerAnswer: undefined } : {}), ...action.set };
    }
    case 'type':
      return pad(action.place, ({ id }) => ({ id, typed: action.typed }));
    case 'answer':
      return pad(action.place, (before) => ({ ...before, answer: action.answer }));
    case 'unseen':
      return pad(action.place, ({ id }) => ({ id, typed: '', unseen: action.unseen }));
    case 'finding': {
      const key = `${wheelKey(action.wheel)}-${action.item}`;
      const { [key]: before, ...rest } = draft.findings;
      if (action.state === undefined) return { ...draft, findings: rest };
      return {
        ...draft,
        findings: { ...rest, [key]: { id: before?.id ?? crypto.randomUUID(), state: action.state } },
      };
    }
    case 'rotor': {
      const key = wheelKey(action.wheel);
      const before = draft.rotors[key] ?? emptyRotor();
      return { ...draft, rotors: { ...draft.rotors, [key]: { ...before, ...action.set } } };
    }
    case 'photo':
      return { ...draft, photos: [...draft.photos, action.photo] };
    case 'no_photo':
      return { ...draft, photos: draft.photos.filter(({ id }) => id !== action.id) };
  }
}

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
    const told = Math.round(last.miles).toLocaleString('en-US');
    return { kind: 'wrong', message: `${told} mi stood on record on ${last.date}; an odometer doesn't fall.` };
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
  const places = padPlaces(vehicle.axles.map(({ axle }) => axle));
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
    findings: Object.entries(draft.findings).map(([key, { id, state }]) => {
      const [axle, side, item] = key.split('-') as [string, Side, 'pins'];
      return { id, axle: Number(axle), side, item, state };
    }),
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
