import type { Duty, DutyInUse, NewDuty } from '@mile-mark/contract/register';
import { type Duty as CoreDuty, figureOf } from '@mile-mark/core';

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

export const FIGURES: { name: Figure; label: string }[] = [
  { name: 'stopsPerMile', label: 'Stops a mile' },
  { name: 'mphBeforeStop', label: 'Speed before a stop, mph' },
  { name: 'slowdownsPerMile', label: 'Slowdowns a mile' },
  { name: 'slowdownFromMph', label: 'Slowdown from, mph' },
  { name: 'milesPerDay', label: 'Miles a day' },
  { name: 'slowdownToMph', label: 'Slowdown to, mph' },
  { name: 'descentMPerMile', label: 'Descent, m a mile' },
  { name: 'longestDescentM', label: 'Longest in one, m (0: not known)' },
  { name: 'payload', label: 'Payload, % of the most' },
  { name: 'retarder', label: 'Retarder, % of the work' },
  { name: 'towedKg', label: 'Towed, held by its brakes, kg' },
];

const text = (value: number) => String(Math.round(value * 100) / 100);

export function draftOf(duty: Duty | DutyInUse | undefined, name = ''): DutyDraft {
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

/** The figure behind what was typed, as the core reads figures; NaN where it is none, or could be two. */
export function numberOf(typed: string, thousandsLikely = false): number {
  return figureOf(typed, { thousandsLikely }) ?? NaN;
}

/** Figures that run to thousands, where `1,200` is twelve hundred. */
const THOUSANDS = new Set<Figure>(['towedKg', 'longestDescentM']);

/** The typed duty as it goes to the server; fields that are no figures are named instead. */
export function dutyOfDraft(
  draft: DutyDraft,
  more: Pick<NewDuty, 'id' | 'source' | 'sourceNote'>,
): { ok: true; duty: NewDuty } | { ok: false; fields: Partial<Record<keyof DutyDraft, string>> } {
  const fields: Partial<Record<keyof DutyDraft, string>> = {};
  const figure = (name: Figure) => {
    const value = numberOf(draft[name], THOUSANDS.has(name));
    if (!Number.isFinite(value) || value < 0) fields[name] = 'A figure of 0 or more is accepted.';
    return value;
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
