import type { IsoDate } from '../units/index.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { FittingInput, ReadingInput, VehicleInput } from './types.ts';

/** Something on record of a vehicle, on a day and at an odometer. */
export type Event =
  | { kind: 'odometer'; date: IsoDate; miles: number }
  | {
      kind: 'reading';
      date: IsoDate;
      miles: number;
      reading: ReadingInput;
      look: string;
      /** Where it is the first of its look at an axle: all of that look, it included. */
      opens?: readonly ReadingInput[] | undefined;
    }
  | { kind: 'fitting'; date: IsoDate; miles: number; fitting: FittingInput };

/** On one day: odometers, then readings, then fittings (pads are measured before they are changed). */
const ORDER = { odometer: 0, reading: 1, fitting: 2 } as const;

/** A look at an axle has no more readings than this: it has four pads, and each may be read twice. */
const MOST_OF_A_LOOK = 8;

/** Everything on record of a vehicle up to today, in order of date. */
export function eventsOf(input: VehicleInput): Event[] {
  const events: Event[] = [
    ...input.odometers.map(({ date, miles }) => ({ kind: 'odometer' as const, date, miles })),
    ...input.readings.map((reading) => ({
      kind: 'reading' as const,
      date: reading.date,
      miles: reading.miles,
      reading,
      // Readings of one appraiser and axle stand together: they are one look at it.
      look: `${appraiserKeyOf(reading)}/${reading.axle}/${reading.id}`,
    })),
    ...input.fittings.map((fitting) => ({
      kind: 'fitting' as const,
      date: fitting.date,
      miles: fitting.miles,
      fitting,
    })),
  ];
  const lookOf = (event: Event) => (event.kind === 'reading' ? event.look : '');
  const inOrder = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
  const ordered = events
    .filter(({ date }) => date <= input.today)
    .sort(
      (a, b) =>
        inOrder(a.date, b.date) || ORDER[a.kind] - ORDER[b.kind] || a.miles - b.miles || inOrder(lookOf(a), lookOf(b)),
    );
  ordered.forEach((event, index) => {
    if (event.kind === 'reading' && opensLook(ordered[index - 1], event.reading))
      event.opens = lookFrom(ordered, index, event.reading);
  });
  return ordered;
}

function opensLook(before: Event | undefined, reading: ReadingInput): boolean {
  return !(before?.kind === 'reading' && sameAxleAndLook(before.reading, reading));
}

/** The readings of one inspection and axle that begin at this index. */
function lookFrom(events: readonly Event[], index: number, first: ReadingInput): ReadingInput[] {
  const own: ReadingInput[] = [];
  for (const event of events.slice(index, index + MOST_OF_A_LOOK)) {
    if (event.kind !== 'reading' || !sameAxleAndLook(first, event.reading)) break;
    own.push(event.reading);
  }
  return own;
}

function sameAxleAndLook(a: ReadingInput, b: ReadingInput): boolean {
  return a.axle === b.axle && a.date === b.date && a.miles === b.miles && appraiserKeyOf(a) === appraiserKeyOf(b);
}
