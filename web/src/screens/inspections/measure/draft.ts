import type { Bay } from '@mile-mark/contract/inspections';
import { type Pad, type PadPlace, placeKey, type Side } from '@mile-mark/core';
import type { Draft, DraftAnswer, DraftPad, DraftRotor } from '../../../stores/device.ts';

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
