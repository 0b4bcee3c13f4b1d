import { failureInWords } from '@mile-mark/contract/words';
import { judgeJoint, parseNumber, parseTorque, type JointDoubt } from '@mile-mark/core';
import {
  AxleValues,
  jointDoubtInWords,
  jointFacts,
  JointValues,
  NewRevision,
  type JointTorque,
  type SpecificationValues,
  type Source,
  type TorqueUnit,
} from '@mile-mark/contract/specifications';

/** A torque as it is typed, figure by figure. */
export interface TorqueDraft {
  unit: TorqueUnit | '';
  least: string;
  nominal: string;
  most: string;
  passes: string;
  angleDeg: string;
  statedToo: string;
}

export const NO_TORQUE: TorqueDraft = {
  unit: '',
  least: '',
  nominal: '',
  most: '',
  passes: '',
  angleDeg: '',
  statedToo: '',
};

/** The other fields of a joint as typed; blank is unknown. */
export interface JointDraft extends TorqueDraft {
  absent: boolean;
  thread: string;
  strength: string;
  headKind: string;
  headSize: string;
  count: string;
  counterHold: string;
  preparation: string;
  oneTimeUse: '' | 'yes' | 'no';
  pattern: string;
  recheckMiles: string;
  note: string;
}

export type AxleDraft = Record<
  | 'padMinMm'
  | 'rotorDiscardMm'
  | 'rotorMachineToMm'
  | 'runoutMm'
  | 'thicknessVariationMm'
  | 'fluidGrade'
  | 'bedIn'
  | 'parkingBrake'
  | 'note',
  string
>;

export const LIMIT_FIELDS = [
  'padMinMm',
  'rotorDiscardMm',
  'rotorMachineToMm',
  'runoutMm',
  'thicknessVariationMm',
] as const;

type Wrong = Record<string, string>;
const plain = (value: number | null | undefined) => (value == null ? '' : String(value));

export function torqueDraftOf(torque: JointTorque | null): TorqueDraft {
  if (!torque) return NO_TORQUE;
  return {
    unit: torque.unit,
    least: plain(torque.least),
    nominal: plain(torque.nominal),
    most: plain(torque.most),
    passes: torque.passes.join(', '),
    angleDeg: plain(torque.angleDeg),
    statedToo: torque.statedToo ? `${torque.statedToo.value} ${torque.statedToo.unit}` : '',
  };
}

/** A draft that begins with what is on record, or with nothing. */
export function jointDraftOf(values: JointValues | undefined): JointDraft {
  return {
    ...torqueDraftOf(values?.torque ?? null),
    absent: values?.absent ?? false,
    thread: values?.fastener.thread ?? '',
    strength: values?.fastener.strength ?? '',
    headKind: values?.fastener.headKind ?? '',
    headSize: values?.fastener.headSize ?? '',
    count: plain(values?.fastener.count),
    counterHold: values?.fastener.counterHold ?? '',
    preparation: values?.preparation ?? '',
    oneTimeUse: values?.oneTimeUse == null ? '' : values.oneTimeUse ? 'yes' : 'no',
    pattern: values?.pattern ?? '',
    recheckMiles: plain(values?.recheckMiles),
    note: values?.note ?? '',
  };
}

export function axleDraftOf(values: AxleValues | undefined): AxleDraft {
  return {
    padMinMm: plain(values?.padMinMm),
    rotorDiscardMm: plain(values?.rotorDiscardMm),
    rotorMachineToMm: plain(values?.rotorMachineToMm),
    runoutMm: plain(values?.runoutMm),
    thicknessVariationMm: plain(values?.thicknessVariationMm),
    fluidGrade: values?.fluidGrade ?? '',
    bedIn: values?.bedIn ?? '',
    parkingBrake: values?.parkingBrake ?? '',
    note: values?.note ?? '',
  };
}

function numberOf(text: string, field: string, wrong: Wrong): number | null {
  if (text.trim() === '') return null;
  const parsed = parseNumber(text);
  if (parsed.ok) return parsed.value;
  wrong[field] = failureInWords(parsed.failure);
  return null;
}

/** Reads a torque as typed; what can't be read is said at its field. Null where nothing was typed at all. */
export function readTorque(draft: TorqueDraft): { torque: JointTorque | null; wrong: Wrong } {
  const wrong: Wrong = {};
  const { unit, passes, statedToo } = draft;
  const blank = [draft.least, draft.nominal, draft.most, passes, draft.angleDeg, statedToo].every(
    (text) => text.trim() === '',
  );
  if (blank && unit === '') return { torque: null, wrong };
  const figure = (name: string, text: string): number | null => {
    if (text.trim() === '') return null;
    const parsed = parseTorque(text, unit === '' ? {} : { unit });
    if (parsed.ok) return parsed.value.value;
    wrong[parsed.failure.code === 'unit_missing' ? 'unit' : name] =
      parsed.failure.code === 'unit_missing'
        ? 'The unit of the document must be chosen.'
        : failureInWords(parsed.failure);
    return null;
  };
  const least = figure('least', draft.least);
  const nominal = figure('nominal', draft.nominal);
  const most = figure('most', draft.most);
  const earlier = passes
    .split(/[;\s]+|,\s+/)
    .filter((text) => text.trim() !== '')
    .flatMap((text) => figure('passes', text) ?? []);
  const stated = statedToo.trim() === '' ? undefined : parseTorque(statedToo);
  if (stated && !stated.ok) wrong.statedToo = failureInWords(stated.failure);
  if (unit === '') wrong.unit ??= 'The unit of the document must be chosen.';
  return {
    torque: {
      unit: unit === '' ? 'N·m' : unit,
      least,
      nominal,
      most,
      passes: earlier,
      angleDeg: numberOf(draft.angleDeg, 'angleDeg', wrong),
      statedToo: stated?.ok ? stated.value : null,
    },
    wrong,
  };
}

export interface ReadDraft {
  values: SpecificationValues | undefined;
  wrong: Wrong;
  /** Odd, but taken once confirmed. */
  questions: Extract<JointDoubt, { weight: 'question' }>[];
  /** Left to be settled by whoever releases. */
  conflict: string | undefined;
}

const orNull = (text: string) => (text.trim() === '' ? null : text.trim());

/** Reads a joint as typed, and judges it as the server will. */
export function readJoint(draft: JointDraft, hollow: boolean): ReadDraft {
  const { torque, wrong } = readTorque(draft);
  const count = numberOf(draft.count, 'count', wrong);
  const recheckMiles = numberOf(draft.recheckMiles, 'recheckMiles', wrong);
  const parsed = JointValues.safeParse({
    about: 'joint',
    absent: draft.absent,
    fastener: {
      thread: orNull(draft.thread),
      strength: orNull(draft.strength),
      headKind: orNull(draft.headKind),
      headSize: orNull(draft.headSize),
      count,
      counterHold: orNull(draft.counterHold),
    },
    torque: draft.absent ? null : torque,
    preparation: orNull(draft.preparation),
    oneTimeUse: draft.oneTimeUse === '' ? null : draft.oneTimeUse === 'yes',
    pattern: orNull(draft.pattern),
    recheckMiles,
    note: orNull(draft.note),
  });
  if (!parsed.success) {
    for (const { path, message } of parsed.error.issues) wrong[String(path.at(-1))] ??= message;
    return { values: undefined, wrong, questions: [], conflict: undefined };
  }
  const doubts = Object.keys(wrong).length > 0 ? [] : judgeJoint(jointFacts(parsed.data, hollow));
  for (const doubt of doubts) if (doubt.weight === 'refused') wrong[doubt.field] ??= jointDoubtInWords(doubt);
  const conflict = doubts.find(({ weight }) => weight === 'conflict');
  return {
    values: Object.keys(wrong).length > 0 ? undefined : parsed.data,
    wrong,
    questions: doubts.filter((doubt) => doubt.weight === 'question'),
    conflict: conflict && jointDoubtInWords(conflict),
  };
}

/** Reads an axle's limits and words as typed. */
export function readAxle(draft: AxleDraft): ReadDraft {
  const wrong: Wrong = {};
  const figures = Object.fromEntries(LIMIT_FIELDS.map((name) => [name, numberOf(draft[name], name, wrong)]));
  const parsed = AxleValues.safeParse({
    about: 'axle',
    ...figures,
    fluidGrade: orNull(draft.fluidGrade),
    bedIn: orNull(draft.bedIn),
    parkingBrake: orNull(draft.parkingBrake),
    note: orNull(draft.note),
  });
  if (!parsed.success) for (const { path, message } of parsed.error.issues) wrong[String(path.at(-1))] ??= message;
  const values = parsed.success && Object.keys(wrong).length === 0 ? parsed.data : undefined;
  return { values, wrong, questions: [], conflict: undefined };
}

/** Reads where a specification comes from. */
export function readSource(source: Source): Wrong {
  const parsed = NewRevision.shape.source.safeParse(source);
  if (parsed.success) return {};
  return Object.fromEntries(parsed.error.issues.map(({ path, message }) => [String(path[0]), message]));
}
