import type { BayAxle, BayVehicle } from '@mile-mark/contract/inspections';
import { formatDate } from '../../../ui/format.ts';

/** A look that was asked for, by whom and why. */
export function axleAskedInWords(axle: number, asked: NonNullable<BayAxle['asked']>): string {
  const place = [asked.side, asked.pad && `${asked.pad} pad`].filter(Boolean).join(' ');
  const what =
    asked.what === 'look'
      ? `axle ${axle}${place ? `, ${place}` : ''}: look for the cause of its change of wear`
      : `axle ${axle}${place ? `, ${place}` : ''}: measure it again`;
  return `${asked.by} asks (${formatDate(asked.on)}), ${what}${asked.note ? ` – “${asked.note}”` : ''}`;
}

/** What was asked of a vehicle and no look has answered yet. */
export function askedInWords({ axles }: BayVehicle): string[] {
  return axles.flatMap(({ axle, asked }) => (asked ? [axleAskedInWords(axle, asked)] : []));
}
