import type { Severity } from '@mile-mark/core';

/** What a finding means for the vehicle, as it heads a line. */
export const SEVERITY_WORDS: Record<Severity, string> = {
  note: 'Note',
  watch: 'Watch',
  'before next use': 'Before next use',
  'do not drive': 'Do not drive',
};

interface Found {
  item: string;
  state: string;
  places?: readonly string[] | null | undefined;
  degree?: string | null | undefined;
  note?: string | null | undefined;
}

/** Where a finding sits: `axle 1 left`; nothing where it is of the whole vehicle. */
export function findingPlaceInWords({ axle, side }: { axle: number | null; side: string | null }): string {
  return [axle === null ? '' : `axle ${axle}`, side ?? ''].filter(Boolean).join(' ');
}

/** Which, how far and what else of a finding: `outer face and inner face, clear, two rings`; empty where nothing was said. */
export function findingDetailInWords({ places, degree, note }: Found): string {
  return [(places ?? []).join(' and '), degree ?? '', note?.trim() ?? ''].filter(Boolean).join(', ');
}

/** A finding with all that was said of it: `rotor cracked (outer face, clear)`. */
export function findingInWords(found: Found): string {
  const detail = findingDetailInWords(found);
  return `${found.item} ${found.state}${detail ? ` (${detail})` : ''}`;
}
