import type { Duty, DutyInUse, NewDuty } from '@mile-mark/contract/register';
import { type Duty as CoreDuty, METRES_PER_MILE } from '@mile-mark/core';
import { figure as figureTyped } from '../../../api/typed.ts';

type DistanceUnit = 'mi' | 'km';

/** A duty as it is being typed: every figure as text, kept as typed. */
export type DutyDraft = Record<Figure | 'name', string>;
export type Figure =
  | 'stopsPerMile'
  | 'mphBeforeStop'
  | 'slowdownsPerMile'
  | 'slowdownFromMph'
  | 'slowdownToMph'
  | 'payload'
  | 'descentMPerMile'
  | 'longestDescentM'
  | 'retarder'
  | 'towedKg'
  | 'milesPerDay';

type Labels = Record<DistanceUnit, string>;
const same = (label: string): Labels => ({ mi: label, km: label });

/** The fields in their order, as they are labelled in the unit that the person reads distances in. */
export const FIGURES: { name: Figure; label: Labels }[] = [
  { name: 'stopsPerMile', label: { mi: 'Stops a mile', km: 'Stops a km' } },
  { name: 'mphBeforeStop', label: { mi: 'Speed before a stop, mph', km: 'Speed before a stop, km/h' } },
  { name: 'slowdownsPerMile', label: { mi: 'Slowdowns a mile', km: 'Slowdowns a km' } },
  { name: 'slowdownFromMph', label: { mi: 'Slowdown from, mph', km: 'Slowdown from, km/h' } },
  { name: 'milesPerDay', label: { mi: 'Miles a day', km: 'Kilometres a day' } },
  { name: 'slowdownToMph', label: { mi: 'Slowdown to, mph', km: 'Slowdown to, km/h' } },
  { name: 'descentMPerMile', label: { mi: 'Descent, m a mile', km: 'Descent, m a km' } },
  { name: 'longestDescentM', label: same('Longest in one, m (0: not known)') },
  { name: 'payload', label: same('Payload, % of the most') },
  { name: 'retarder', label: same('Retarder, % of the work') },
  { name: 'towedKg', label: same('Towed, held by its brakes, kg') },
];

const KM_PER_MILE = METRES_PER_MILE / 1000;
/** What a figure of the record is multiplied by for a person who reads kilometres; 1 where no distance is in it. */
const IN_KM: Partial<Record<Figure, number>> = {
  stopsPerMile: 1 / KM_PER_MILE,
  slowdownsPerMile: 1 / KM_PER_MILE,
  descentMPerMile: 1 / KM_PER_MILE,
  mphBeforeStop: KM_PER_MILE,
  slowdownFromMph: KM_PER_MILE,
  slowdownToMph: KM_PER_MILE,
  milesPerDay: KM_PER_MILE,
};
/** What a figure of the record is multiplied by to stand in the reader's unit. */
export const scaleOf = (name: Figure, unit: DistanceUnit): number => (unit === 'km' ? (IN_KM[name] ?? 1) : 1);

const rounded = (value: number, digits: number) => String(Math.round(value * 10 ** digits) / 10 ** digits);
/**
 * A converted figure, close enough that what nobody touched goes back as good as it came: small ones to four places, never
 * with three, which could be read as thousands.
 */
function converted(value: number): string {
  const text = rounded(value, value < 10 ? 4 : 2);
  return /\.\d{3}$/.test(text) ? `${text}0` : text;
}

/** A duty as it stands in the fields, in the reader's unit. */
export function draftOf(duty: Duty | DutyInUse | undefined, name = '', unit: DistanceUnit = 'mi'): DutyDraft {
  const plain = plainDraft(duty, name);
  if (unit === 'mi') return plain;
  const figures = Object.keys(IN_KM) as Figure[];
  const exact = plainDraft(duty, name, 9);
  return {
    ...plain,
    ...Object.fromEntries(figures.map((name) => [name, converted(Number(exact[name]) * scaleOf(name, unit))])),
  };
}

function plainDraft(duty: Duty | DutyInUse | undefined, name: string, places = 2): DutyDraft {
  const text = (value: number) => rounded(value, places);
  return {
    name,
    stopsPerMile: text(duty?.stopsPerMile ?? 1),
    mphBeforeStop: text(duty?.mphBeforeStop ?? 30),
    slowdownsPerMile: text(duty?.slowdownsPerMile ?? 0),
    slowdownFromMph: text(duty?.slowdownFromMph ?? 0),
    slowdownToMph: text(duty?.slowdownToMph ?? 0),
    payload: text((duty?.payloadShare ?? 0.5) * 100),
    descentMPerMile: text(duty?.descentMPerMile ?? 5),
    longestDescentM: text(duty?.longestDescentM ?? 0),
    retarder: text((duty?.retarderShare ?? 0) * 100),
    towedKg: text(duty?.towedKg ?? 0),
    milesPerDay: text(duty?.milesPerDay ?? 60),
  };
}

/** Figures that run to thousands, where `1,200` is twelve hundred. */
const THOUSANDS = new Set<Figure>(['towedKg', 'longestDescentM']);

/** The typed duty as it goes to the server; fields that are no figures are named instead. */
export function dutyOfDraft(
  draft: DutyDraft,
  more: Pick<NewDuty, 'id' | 'source' | 'sourceNote'>,
  unit: DistanceUnit = 'mi',
): { ok: true; duty: NewDuty } | { ok: false; fields: Partial<Record<keyof DutyDraft, string>> } {
  const fields: Partial<Record<keyof DutyDraft, string>> = {};
  const figure = (name: Figure) => {
    const value = figureTyped(draft[name], THOUSANDS.has(name));
    if (!Number.isFinite(value) || value < 0) fields[name] = 'A figure of 0 or more is accepted.';
    return value / scaleOf(name, unit);
  };
  const duty: NewDuty = {
    ...more,
    name: draft.name.trim(),
    stopsPerMile: figure('stopsPerMile'),
    mphBeforeStop: figure('mphBeforeStop'),
    slowdownsPerMile: figure('slowdownsPerMile'),
    slowdownFromMph: figure('slowdownFromMph'),
    slowdownToMph: figure('slowdownToMph'),
    payloadShare: figure('payload') / 100,
    descentMPerMile: figure('descentMPerMile'),
    longestDescentM: figure('longestDescentM'),
    retarderShare: figure('retarder') / 100,
    towedKg: figure('towedKg'),
    milesPerDay: figure('milesPerDay'),
  };
  if (duty.name === '') fields.name = 'A name by which others will know it is needed.';
  if (duty.slowdownToMph > duty.slowdownFromMph)
    fields.slowdownToMph = 'No more than the speed it begins at is accepted.';
  return Object.keys(fields).length > 0 ? { ok: false, fields } : { ok: true, duty };
}

/** A duty of the wire as the core takes it. */
export function coreDuty({ longestDescentM, ...duty }: Omit<NewDuty, 'id' | 'name'> | Duty): CoreDuty {
  return { ...duty, longestDescentM: longestDescentM > 0 ? longestDescentM : undefined };
}
