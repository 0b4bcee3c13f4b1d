import type { AxleFigures, ModelFigures, NewModel } from '@mile-mark/contract/register';
import { figure } from '../../../api/typed.ts';

/** Figures of an axle as they are typed. */
export interface AxleDraft {
  axle: number;
  brake: AxleFigures['brake'];
  brakeDetail: string;
  padNewMm: string;
  backingPlateMm: string;
  padMakerMinMm: string;
  rotorNewMm: string;
  rotorDiscardMm: string;
  rotorMachineToMm: string;
  rotorDiameterMm: string;
  pistonsMm: string;
  brakeShare: string;
}

export interface ModelDraft {
  name: string;
  class: NewModel['class'];
  tareKg: string;
  gvwrKg: string;
  axles: AxleDraft[];
}

/** A figure of an axle that is typed, what it is called, and what stays unknown without it. */
export interface AxleField {
  key: Exclude<keyof AxleDraft, 'axle' | 'brake'>;
  label: string;
  /** What the application can't do while it is blank; undefined where it is needed. */
  without?: string;
}

export const AXLE_FIELDS: readonly AxleField[] = [
  { key: 'brakeDetail', label: 'Brake, in words' },
  { key: 'padNewMm', label: 'New pad, mm' },
  { key: 'backingPlateMm', label: 'Backing plate, mm' },
  { key: 'padMakerMinMm', label: 'Maker’s least pad, mm' },
  { key: 'rotorNewMm', label: 'New rotor, mm', without: 'rotor wear is not told as a share' },
  { key: 'rotorDiscardMm', label: 'Rotor discard, mm', without: 'no rotor is judged, and no mark counts on it' },
  { key: 'rotorMachineToMm', label: 'Rotor machine-to, mm', without: 'machining is never advised' },
  { key: 'rotorDiameterMm', label: 'Rotor diameter, mm', without: 'any rotor of the model fits a kit' },
  { key: 'pistonsMm', label: 'Pistons, mm', without: 'the fluid that new pads push back is not told' },
  { key: 'brakeShare', label: 'Share of the brake work' },
];

const text = (figure: number | string | null) => (figure === null ? '' : String(figure));

function draftOfAxle(axle: AxleFigures): AxleDraft {
  return {
    axle: axle.axle,
    brake: axle.brake,
    brakeDetail: axle.brakeDetail,
    padNewMm: text(axle.padNewMm),
    backingPlateMm: text(axle.backingPlateMm),
    padMakerMinMm: text(axle.padMakerMinMm),
    rotorNewMm: text(axle.rotorNewMm),
    rotorDiscardMm: text(axle.rotorDiscardMm),
    rotorMachineToMm: text(axle.rotorMachineToMm),
    rotorDiameterMm: text(axle.rotorDiameterMm),
    pistonsMm: text(axle.pistonsMm),
    brakeShare: text(axle.brakeShare),
  };
}

export function draftOfModel(model: ModelFigures): ModelDraft {
  const { name, class: vehicleClass, tareKg, gvwrKg, axles } = model;
  return { name, class: vehicleClass, tareKg: text(tareKg), gvwrKg: text(gvwrKg), axles: axles.map(draftOfAxle) };
}

/** A blank axle of this number. */
export const blankAxle = (axle: number, brake: AxleDraft['brake'] = 'hydraulic'): AxleDraft => ({
  axle,
  brake,
  brakeDetail: brake === 'air' ? 'air disc' : 'hydraulic sliding',
  padNewMm: '',
  backingPlateMm: '',
  padMakerMinMm: '',
  rotorNewMm: '',
  rotorDiscardMm: '',
  rotorMachineToMm: '',
  rotorDiameterMm: '',
  pistonsMm: '',
  brakeShare: '',
});

const orNone = (typed: string) => (typed.trim() === '' ? null : figure(typed));

/** What a draft says, to be sent; what is no figure is NaN, and is refused at its field. */
export function figuresOfDraft(draft: ModelDraft): Omit<NewModel, 'id'> {
  return {
    name: draft.name,
    class: draft.class,
    tareKg: figure(draft.tareKg, true),
    gvwrKg: figure(draft.gvwrKg, true),
    axles: draft.axles.map((axle) => ({
      axle: axle.axle,
      brake: axle.brake,
      brakeDetail: axle.brakeDetail,
      padNewMm: figure(axle.padNewMm),
      backingPlateMm: figure(axle.backingPlateMm),
      padMakerMinMm: figure(axle.padMakerMinMm),
      rotorNewMm: orNone(axle.rotorNewMm),
      rotorDiscardMm: orNone(axle.rotorDiscardMm),
      rotorMachineToMm: orNone(axle.rotorMachineToMm),
      rotorDiameterMm: orNone(axle.rotorDiameterMm),
      pistonsMm: axle.pistonsMm.trim() || null,
      brakeShare: figure(axle.brakeShare),
    })),
  };
}

/** One figure that a draft says otherwise than the record. */
export interface Changed {
  label: string;
  from: string;
  to: string;
}

const HEADS = [
  ['name', 'Name'],
  ['class', 'Class'],
  ['tareKg', 'Tare, kg'],
  ['gvwrKg', 'GVWR, kg'],
] as const;

/** What a draft says otherwise than what is on record, field by field. */
export function changesOfDraft(was: ModelDraft, now: ModelDraft): Changed[] {
  const heads = HEADS.flatMap(([key, label]) => differing(label, was[key], now[key]));
  const axles = now.axles.flatMap((axle) => {
    const known = was.axles.find((one) => one.axle === axle.axle);
    if (!known) return [{ label: `Axle ${axle.axle}`, from: 'none', to: 'added' }];
    const fields = AXLE_FIELDS.flatMap(({ key, label }) =>
      differing(`Axle ${axle.axle}: ${label}`, known[key], axle[key]),
    );
    return [...differing(`Axle ${axle.axle}: brake`, known.brake, axle.brake), ...fields];
  });
  const gone = was.axles
    .filter(({ axle }) => !now.axles.some((one) => one.axle === axle))
    .map(({ axle }) => ({ label: `Axle ${axle}`, from: 'on record', to: 'removed' }));
  return [...heads, ...axles, ...gone];
}

const differing = (label: string, from: string, to: string): Changed[] =>
  from.trim() === to.trim() ? [] : [{ label, from: from.trim() || 'blank', to: to.trim() || 'blank' }];
