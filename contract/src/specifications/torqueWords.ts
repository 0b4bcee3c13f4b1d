import {
  type JointDoubt,
  roundedTorque,
  type TorqueFit,
  type TorqueNeed,
  torqueToNm,
  type TorqueUnit,
} from '@mile-mark/core';
import { dayInWords } from '../days.ts';
import type { AxleValues, JointTorque, JointValues, SpecificationValues } from './schemas.ts';

/** The other unit a torque is shown in. */
const OTHER: Record<TorqueUnit, TorqueUnit> = { 'lbf·ft': 'N·m', 'lbf·in': 'N·m', 'N·m': 'lbf·ft' };

/** A figure without trailing noughts. */
const plain = (value: number) => String(Number(value.toFixed(3)));

/** `130`, `120 to 140`, `at least 120`, in the unit it is stated in. */
function figuresInWords(
  { least, nominal, most }: Pick<JointTorque, 'least' | 'nominal' | 'most'>,
  show: (value: number) => string,
): string {
  const range =
    least !== null && most !== null
      ? `${show(least)} to ${show(most)}`
      : least !== null
        ? `at least ${show(least)}`
        : most !== null
          ? `at most ${show(most)}`
          : '';
  if (nominal === null) return range;
  return range === '' ? show(nominal) : `${show(nominal)} (${range})`;
}

/** A joint's torque as it is stated: `155 lbf·ft (148 to 162)`, its passes and angle after it. */
export function torqueInWords(torque: JointTorque): string {
  const { unit, passes, angleDeg } = torque;
  const { least, nominal, most } = torque;
  const own =
    nominal !== null && (least !== null || most !== null)
      ? `${plain(nominal)} ${unit} (${figuresInWords({ least, nominal: null, most }, plain)})`
      : `${figuresInWords(torque, plain)} ${unit}`;
  const before = passes.length > 0 ? `${passes.map(plain).join(', then ')}, then ` : '';
  return `${before}${own}${angleDeg === null ? '' : `, then ${plain(angleDeg)}°`}`;
}

/**
 * The same torque in the other unit, rounded to a graduation: `210 N·m`.
 *
 * @param graduation least step in the other unit; a wrench's where one is known
 */
export function torqueInOtherUnit(torque: JointTorque, graduation = 1): string {
  const unit = OTHER[torque.unit];
  const show = (value: number) => {
    const nm = torqueToNm(value, torque.unit);
    return plain(roundedTorque(nm, unit, nm < 15 ? Math.min(graduation, 0.5) : graduation));
  };
  const before = torque.passes.length > 0 ? `${torque.passes.map(show).join(', then ')}, then ` : '';
  return `${before}${figuresInWords(torque, show)} ${unit}`;
}

/**
 * A torque in the unit somebody reads: the stated one where they asked for none or it is theirs; else every figure of it
 * (passes and range too), rounded to a graduation. What was stated is shown beside it.
 *
 * @param wanted unit of the reader, or `as stated`
 */
export function torqueShownAs(torque: JointTorque, wanted: TorqueUnit | 'as stated', graduation = 1): JointTorque {
  if (wanted === 'as stated' || wanted === torque.unit) return torque;
  const convert = (value: number) => {
    const nm = torqueToNm(value, torque.unit);
    return roundedTorque(nm, wanted, nm < 15 ? Math.min(graduation, 0.5) : graduation);
  };
  const maybe = (value: number | null) => (value === null ? null : convert(value));
  const { least, nominal, most, passes } = torque;
  return {
    ...torque,
    unit: wanted,
    least: maybe(least),
    nominal: maybe(nominal),
    most: maybe(most),
    passes: passes.map(convert),
  };
}

const nmInWords = (nm: number) => `${plain(nm < 15 ? Math.round(nm * 10) / 10 : Math.round(nm))} N·m`;

/** What is wrong or odd in a joint, with what would be accepted. */
export function jointDoubtInWords(doubt: JointDoubt): string {
  switch (doubt.code) {
    case 'order':
      return `${plain(doubt.below)} is more than ${plain(doubt.above)}; least, nominal and most must rise.`;
    case 'passes':
      return `Passes must rise to the last torque; ${plain(doubt.pass)} comes after ${plain(doubt.before)}.`;
    case 'figure_missing':
      return 'A unit is said but no torque; at least one of least, nominal and most is needed, or no unit.';
    case 'thread_unread':
      return 'This is not a thread; M14x1.5, M10 or 7/16-20 are accepted.';
    case 'head_unread':
      return doubt.kind === 'hex' || doubt.kind === 'hex key'
        ? 'This is not a width across flats; 21 mm or 13/16 in are accepted.'
        : `This is not a size of this head; ${doubt.kind === 'six-lobe' ? 'T50' : 'E14'}, for example, is accepted.`;
    case 'head_impossible':
      return `No fastener is so: ${plain(doubt.acrossMm)} mm across on a thread of ${plain(doubt.diameterMm)} mm. ${doubt.outside ? 'A head outside is wider than its thread' : 'A head inside is narrower than its thread'}${doubt.usual.length > 0 ? `; this thread has ${doubt.usual.join(', ')}` : ''}.`;
    case 'same_unit':
      return 'The second figure must be in another unit than the first.';
    case 'head_unusual':
      return `Fasteners of this thread have ${doubt.usual.join(', ')} (ISO 272, ISO 4762, ISO 10664, from memory). Does the document really say so?`;
    case 'torque_unusual':
      return `${nmInWords(doubt.nm)} lies far outside what this fastener usually takes: ${nmInWords(doubt.leastNm)} to ${nmInWords(doubt.mostNm)} (VDI 2230 for its thread and class, from memory). Does the document really say so?`;
    case 'pair':
      return `The two figures differ by ${Math.abs(doubt.difference * 100).toFixed(0)} %, more than rounding explains. Whoever releases settles which one holds.`;
  }
}

/** `31 Oct 2026` of an ISO date. */
const toNeed = ({ nm, endsNm, ratio, coarseNm, allowedFromNm }: TorqueNeed): string => {
  const wrench = `a wrench that covers ${nmInWords(nm)}`;
  if (coarseNm !== null)
    return `The graduation of ${nmInWords(coarseNm)} is too coarse for what is allowed: a finer wrench that covers ${nmInWords(nm)} is needed.`;
  if (endsNm === null) return `No wrench in calibration is here: ${wrench} is needed.`;
  if (ratio === null) return `The nearest range begins at ${nmInWords(endsNm)}: ${wrench} is needed.`;
  const short =
    allowedFromNm === null ? '' : `, short of the nominal though the document allows from ${nmInWords(allowedFromNm)}`;
  return `The largest wrench ends at ${nmInWords(endsNm)}${short}: ${wrench} is needed, or a multiplier of ${(Math.ceil(ratio * 10) / 10).toFixed(1)} to 1 or more.`;
};

/** With what, and set to what, a bench reaches a torque; or why it doesn't and what is needed. */
export function fitInWords(fit: TorqueFit): string {
  switch (fit.kind) {
    case 'wrench':
      return `${fit.wrench.name}, set to ${plain(fit.setting.value)} ${fit.setting.unit}`;
    case 'adapter':
      return `${fit.wrench.name} with ${fit.adapter.name} in line, set to ${plain(fit.setting.value)} ${fit.setting.unit}`;
    case 'multiplier':
      return `${fit.wrench.name} with ${fit.multiplier.name}, set to ${plain(fit.setting.value)} ${fit.setting.unit}`;
    case 'overdue':
      return fit.due === null
        ? `${fit.tool.name} reaches it, but has no calibration on record`
        : `${fit.tool.name} reaches it, but its calibration was due on ${dayInWords(fit.due)}`;
    case 'none':
      return toNeed(fit.need);
  }
}

/** With what a bench reaches all torques of a joint; one line a tool, its settings in order. */
export function fitsInWords(fits: readonly TorqueFit[]): string[] {
  const lines = new Map<string, string[]>();
  for (const fit of fits) {
    const [tool = '', setting = ''] = fitInWords(fit).split(', set to ');
    lines.set(tool, [...(lines.get(tool) ?? []), setting]);
  }
  return [...lines].map(([tool, settings]) => {
    const unit = /\s\S+$/.exec(settings[0] ?? '')?.[0] ?? '';
    return `${tool}, set to ${settings.map((one) => one.slice(0, one.length - unit.length)).join(', then ')}${unit}`;
  });
}

/** The unit in which a torque is shown besides its own. */
export function otherUnitOf(unit: TorqueUnit): TorqueUnit {
  return OTHER[unit];
}

/** What each field of a specification is called. */
export const FIELD_NAMES: Record<string, string> = {
  absent: 'No such joint',
  thread: 'Thread',
  strength: 'Class or grade',
  headKind: 'Head',
  headSize: 'Head size',
  count: 'Count a wheel end',
  counterHold: 'Counter-hold',
  unit: 'Unit',
  least: 'Least',
  nominal: 'Nominal',
  most: 'Most',
  passes: 'Earlier passes',
  angleDeg: 'Then turned by',
  statedToo: 'Stated too',
  preparation: 'Preparation',
  oneTimeUse: 'One-time use',
  pattern: 'Pattern',
  recheckMiles: 'Re-check after',
  note: 'Note',
  padMinMm: 'Pads at least',
  rotorDiscardMm: 'Rotor discard',
  rotorMachineToMm: 'Rotor machine-to',
  runoutMm: 'Runout at most',
  thicknessVariationMm: 'Thickness variation at most',
  fluidGrade: 'Fluid grade',
  bedIn: 'Bed-in',
  parkingBrake: 'Parking brake service mode',
  document: 'Document',
  page: 'Page',
  revision: 'Revision',
  date: 'Date',
  withdrawn: 'Withdrawn',
  torque: 'Torque',
};

const UNITS: Record<string, string> = {
  angleDeg: '°',
  recheckMiles: ' mi',
  padMinMm: ' mm',
  rotorDiscardMm: ' mm',
  rotorMachineToMm: ' mm',
  runoutMm: ' mm',
  thicknessVariationMm: ' mm',
};

/** A joint's torque in pieces, for large print: the torque itself, what comes before it, and its range. */
export function torqueInPieces(torque: JointTorque): {
  main: string;
  before: string | undefined;
  range: string | undefined;
} {
  const { unit, least, nominal, most, passes, angleDeg } = torque;
  const ranged = nominal !== null && (least !== null || most !== null);
  const own = torqueInWords({ ...torque, passes: [], ...(ranged ? { least: null, most: null } : {}) });
  return {
    main: own,
    before: passes.length > 0 ? `first ${passes.map(plain).join(', then ')} ${unit}` : undefined,
    range: ranged
      ? `${figuresInWords({ least, nominal: null, most }, plain)} ${unit}${angleDeg === null ? '' : ' before the turn'}`
      : undefined,
  };
}

/** Every field of a specification as words, `unknown` where it is; the same order always. */
export function fieldsInWords(values: SpecificationValues): Record<string, string> {
  const flat = values.about === 'joint' ? flatJoint(values) : flatAxle(values);
  return Object.fromEntries(Object.entries(flat).map(([field, value]) => [field, sayValue(field, value)]));
}

function sayValue(field: string, value: unknown): string {
  if (value === null || value === undefined || (Array.isArray(value) && value.length === 0)) return 'unknown';
  if (Array.isArray(value)) return value.map(String).join(', ');
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return `${plain(value)}${UNITS[field] ?? ''}`;
  return typeof value === 'string' ? value : JSON.stringify(value);
}

function flatJoint({
  absent,
  fastener,
  torque,
  preparation,
  oneTimeUse,
  pattern,
  recheckMiles,
  note,
}: JointValues): Record<string, unknown> {
  const { unit, least, nominal, most, passes, angleDeg, statedToo } = torque ?? ({} as Partial<JointTorque>);
  return {
    absent,
    ...fastener,
    unit,
    least,
    nominal,
    most,
    passes,
    angleDeg,
    statedToo: statedToo ? `${plain(statedToo.value)} ${statedToo.unit}` : null,
    preparation,
    oneTimeUse,
    pattern,
    recheckMiles,
    note,
  };
}

function flatAxle({ about: _about, ...values }: AxleValues): Record<string, unknown> {
  return values;
}

/** The same with the figures of a torque as one field with its unit, for telling what changed. */
export function fieldsWithTorque(values: SpecificationValues): Record<string, string> {
  const fields = fieldsInWords(values);
  if (values.about === 'axle') return fields;
  const {
    unit: _unit,
    least: _least,
    nominal: _nominal,
    most: _most,
    passes: _passes,
    angleDeg: _angle,
    ...rest
  } = fields;
  return { torque: values.torque ? torqueInWords(values.torque) : 'unknown', ...rest };
}

/** The figures that two people must type alike before a specification is released. */
export function figuresToRetype(values: SpecificationValues): Record<string, number | string | null> {
  if (values.about === 'axle') {
    const { padMinMm, rotorDiscardMm, rotorMachineToMm, runoutMm, thicknessVariationMm } = values;
    return { padMinMm, rotorDiscardMm, rotorMachineToMm, runoutMm, thicknessVariationMm };
  }
  return torqueFigures(values.torque);
}

/** The figures of a torque by field; all null where none is stated. */
export function torqueFigures(torque: JointTorque | null): Record<string, number | string | null> {
  const passes = torque?.passes ?? [];
  return {
    unit: torque?.unit ?? null,
    least: torque?.least ?? null,
    nominal: torque?.nominal ?? null,
    most: torque?.most ?? null,
    passes: passes.length > 0 ? passes.map(plain).join(', ') : null,
    angleDeg: torque?.angleDeg ?? null,
    statedToo: torque?.statedToo ? `${plain(torque.statedToo.value)} ${torque.statedToo.unit}` : null,
  };
}
