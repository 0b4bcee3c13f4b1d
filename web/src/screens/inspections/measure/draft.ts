import type { Bay } from '@mile-mark/contract/inspections';
import { type FindingItem, type PadPlace, passes, placeKey, type Side } from '@mile-mark/core';
import type { Draft, DraftAnswer, DraftFinding, DraftPad, DraftRotor } from '../../../stores/device.ts';

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

const wheelKey = ({ axle, side }: Wheel) => `${axle}-${side}`;

/** What was found of an item at a wheel. */
export function findingsAt(draft: Draft, { axle, side }: Wheel, item?: FindingItem): DraftFinding[] {
  return draft.findings.filter(
    (one) => one.axle === axle && one.side === side && (item === undefined || one.item === item),
  );
}

export type Action =
  | {
      kind: 'head';
      set: Partial<Pick<Draft, 'technicianId' | 'gaugeId' | 'date' | 'odometer' | 'odometerAnswer'>>;
    }
  | { kind: 'type'; place: PadPlace; typed: string }
  | { kind: 'answer'; place: PadPlace; answer: DraftAnswer }
  | { kind: 'unseen'; place: PadPlace; unseen: boolean }
  /** Touched: said where it was not, taken back where it was. */
  | { kind: 'finding'; wheel: Wheel; item: FindingItem; state: string }
  | { kind: 'finding detail'; id: string; set: Partial<Pick<DraftFinding, 'places' | 'degree' | 'note'>> }
  | { kind: 'rotor'; wheel: Wheel; set: Partial<Omit<DraftRotor, 'id'>> }
  | { kind: 'photo'; photo: Draft['photos'][number] }
  | { kind: 'no_photo'; id: string };

/** An empty inspection of a vehicle; ids are made once, so that a retry adds nothing twice. */
export function newDraft(
  bay: Pick<Bay, 'at' | 'today'>,
  unit: string,
  who: Pick<Draft, 'technicianId' | 'gaugeId' | 'odometerUnit' | 'heard'>,
): Draft {
  return {
    unit,
    inspectionId: crypto.randomUUID(),
    seenAt: bay.at,
    date: bay.today,
    odometer: '',
    pads: {},
    findings: [],
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
    ...{ inspectionId: '', seenAt: '', findings: [], rotors: {}, photos: [] },
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

/** The findings after one was touched: what passes stands alone, of what is wrong several may stand. */
function touched(draft: Draft, { wheel, item, state }: Action & { kind: 'finding' }): DraftFinding[] {
  const here = findingsAt(draft, wheel, item);
  const same = here.find((one) => one.state === state);
  if (same) return draft.findings.filter(({ id }) => id !== same.id);
  const gone = here.filter((one) => passes(item, state) || passes(item, one.state)).map(({ id }) => id);
  return [...draft.findings.filter(({ id }) => !gone.includes(id)), { id: crypto.randomUUID(), ...wheel, item, state }];
}

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
      // A day that a person said is no longer the one the device's clock told.
      const said = action.set.date === undefined ? {} : { heard: undefined };
      return { ...draft, ...(changed ? { odometerAnswer: undefined } : {}), ...said, ...action.set };
    }
    case 'type':
      return pad(action.place, ({ id }) => ({ id, typed: action.typed }));
    case 'answer':
      return pad(action.place, (before) => ({ ...before, answer: action.answer }));
    case 'unseen':
      return pad(action.place, ({ id }) => ({ id, typed: '', unseen: action.unseen }));
    case 'finding':
      return { ...draft, findings: touched(draft, action) };
    case 'finding detail':
      return {
        ...draft,
        findings: draft.findings.map((one) => (one.id === action.id ? { ...one, ...action.set } : one)),
      };
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
