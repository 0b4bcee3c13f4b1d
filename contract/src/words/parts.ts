import type { JobKit, JobKitNeed } from '../parts/index.ts';
import { dayInWords } from '../days.ts';
import { countInWords } from './figures.ts';

/** Money in its currency: `62.00 USD`. */
export function moneyInWords(minor: number, currency: string): string {
  const figure = new Intl.NumberFormat('en-US', { minimumFractionDigits: 2, maximumFractionDigits: 2 }).format(
    minor / 100,
  );
  return `${figure} ${currency}`;
}

/** How a job's kit stands, in a few words. */
export function kitStateInWords({
  state,
  until,
  needs,
  faults,
}: Pick<JobKit, 'state' | 'until' | 'needs' | 'faults'>): string {
  if (state === 'over') return 'parts picked';
  if (state === 'complete') {
    const days = needs.flatMap(({ now }) => (now.state === 'comes' ? now.day : [])).sort();
    const last = days.at(-1);
    return last === undefined ? 'kit complete' : `kit complete on ${dayInWords(last)}`;
  }
  if (state === 'substitutable') return 'kit complete, with another number';
  if (until !== null) return `kit short until ${dayInWords(until)}`;
  const missing = needs.filter(({ now }) => now.state === 'short').map(({ kind }) => kind);
  const what = [...new Set(missing)];
  const named = what.length > 2 ? `${countInWords(what.length, 'part')}` : what.join(', ');
  return `kit short: ${named} ${faults.length > 0 ? 'not in the catalogue' : 'not on order'}`;
}

/** Where a line of a kit stands. */
export function needInWords({ now, picked, options }: JobKitNeed): string {
  if (picked > 0 && picked >= (options.find(({ part }) => part !== '')?.units ?? 1)) return 'picked';
  switch (now.state) {
    case 'there':
      return now.instead ? `there as ${now.part}` : 'there';
    case 'comes':
      return `${now.inTime ? 'comes' : 'comes too late,'} ${dayInWords(now.day)}`;
    case 'short':
      return options.length === 0
        ? 'no part of the catalogue fits'
        : `${countInWords(now.missing, 'unit')} short, none on order`;
  }
}

/** Where a line of a kit goes: `axle 1, left`. */
export function needPlaceInWords({ axle, side }: Pick<JobKitNeed, 'axle' | 'side'>): string {
  return [axle === null ? undefined : `axle ${axle}`, side === 'both' ? undefined : side].filter(Boolean).join(', ');
}
