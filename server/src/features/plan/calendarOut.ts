import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { DateTime } from 'luxon';

/** A visit as a calendar shows it. */
export interface CalendarVisit {
  /** The same for as long as it is the same visit. */
  uid: string;
  unit: string;
  axles: readonly number[];
  depot: string;
  /** IANA name of the depot's time zone. */
  zone: string;
  date: string;
  /** When the shop opens, `07:00`. */
  opens: string;
  hours: number;
  bay: string | null;
  people: readonly string[];
  cancelled: boolean;
}

/** Longer than a day nothing is shown: its hours go on on the next. */
const MOST_HOURS = 12;

/**
 * A calendar of visits (RFC 5545): stable UIDs, a sequence that rises with every plan, cancelled visits as such. Times are
 * in UTC, worked out from the depot's own clock on that day, so that summer time needs no table in the file.
 *
 * @param sequence rises whenever anything may have changed
 * @param stamp when that was, ISO
 */
export function writeCalendar(
  name: string,
  visits: readonly CalendarVisit[],
  { sequence, stamp }: { sequence: number; stamp: string },
): string {
  const calendar = ical({
    name,
    prodId: { company: 'Mile Mark', product: 'Plan', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 3600,
  });
  for (const visit of visits) {
    const { uid, unit, axles, depot, date, opens, zone, hours, bay, people, cancelled } = visit;
    const start = DateTime.fromISO(`${date}T${opens}`, { zone });
    calendar.createEvent({
      id: `${uid}@mile-mark`,
      sequence,
      stamp: new Date(stamp),
      start: start.toUTC().toJSDate(),
      end: start
        .plus({ hours: Math.min(MOST_HOURS, hours) })
        .toUTC()
        .toJSDate(),
      summary: `${unit}: brakes, ${axles.length === 1 ? `axle ${axles[0]}` : `axles ${axles.join(', ')}`}`,
      location: bay === null ? depot : `${depot}, ${bay}`,
      description: people.length === 0 ? null : people.join(', '),
      status: cancelled ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
    });
  }
  return calendar.toString();
}
