import type { AxleKit, JobKit, JobKitNeed, ModelKits } from '../parts/index.ts';
import { dayInWords } from '../days.ts';
import { countInWords } from './figures.ts';
import { ACTION_WORDS } from './jobs.ts';
import { amountInWords } from './needs.ts';
import { isConsumable } from '@mile-mark/core';

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

/** What a line of a kit takes of a number: `2 × PD-1`, of a consumable `200 mL of BC-500`. */
export function takesInWords({ kind, amount, options }: Pick<JobKitNeed, 'kind' | 'amount' | 'options'>): string {
  const [first] = options;
  if (!first) return 'none';
  return amount === null ? `${first.units} × ${first.part}` : `${amountInWords(kind, amount)} of ${first.part}`;
}

/** What a shop changed of a kit: `axle 2, with pads: brake hose, 1 a wheel`. */
export function kitChangeInWords({
  axle,
  kind,
  action,
  quantity,
}: Pick<ModelKits['changes'][number], 'axle' | 'kind' | 'action' | 'quantity'>): string {
  const what =
    quantity === null
      ? 'as usual again'
      : quantity === 0
        ? 'none'
        : isConsumable(kind)
          ? `${amountInWords(kind, quantity)} an axle`
          : `${quantity} a wheel`;
  return `axle ${axle}, with ${ACTION_WORDS[action]}: ${kind}, ${what}`;
}

/** What to order for an axle that has no job yet, and by when at the latest. */
export function axleOrderInWords(
  { part, units, supplier, leadDays, by }: AxleKit['orders'][number],
  today: string,
): string {
  const when = by <= today ? 'today' : `by ${dayInWords(by)}`;
  return supplier === null
    ? `${units} × ${part}: nobody on record sells it`
    : `order ${units} × ${part} ${when} (${supplier}, ${countInWords(leadDays ?? 0, 'day')})`;
}
