import ICAL from 'ical.js';

/** A span of days out of a calendar. */
export interface CalendarEntry {
  /** Its UID, with the day of an occurrence where it recurs. */
  uid: string;
  from: string;
  to: string;
  reason: string;
  cancelled: boolean;
}

/** As many occurrences of an entry that recurs are taken in, and no more than so many days ahead. */
const [MOST_OCCURRENCES, AHEAD_DAYS] = [120, 400];
const MS_PER_DAY = 86_400_000;
const MOST_ENTRIES = 2000;

/**
 * Reads the entries of an iCalendar text (RFC 5545) as whole days: an all-day entry ends on the day before its DTEND, a
 * timed one covers every day it touches; recurring ones are unrolled from today on.
 *
 * @param today ISO; what ended before is left out
 */
export function readCalendarText(
  text: string,
  today: string,
): { entries: CalendarEntry[]; refused: { entry: string; message: string }[] } {
  let events: ICAL.Component[];
  try {
    events = new ICAL.Component(
      ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0],
    ).getAllSubcomponents('vevent');
  } catch (error) {
    return {
      entries: [],
      refused: [{ entry: 'the file', message: `This is not a calendar (iCalendar): ${messageOf(error)}` }],
    };
  }
  const refused: { entry: string; message: string }[] = [];
  if (events.length > MOST_ENTRIES)
    refused.push({ entry: 'the file', message: `At most ${MOST_ENTRIES} entries are accepted; the rest is left out.` });
  const until = dateOf(new Date(Date.parse(today) + AHEAD_DAYS * MS_PER_DAY));
  const entries = events.slice(0, MOST_ENTRIES).flatMap((component): CalendarEntry[] => {
    const name = String(
      component.getFirstPropertyValue('summary') ?? component.getFirstPropertyValue('uid') ?? 'an entry',
    );
    try {
      return entriesOf(component, today, until);
    } catch (error) {
      refused.push({ entry: name.slice(0, 100), message: messageOf(error) });
      return [];
    }
  });
  return { entries, refused };
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error)).slice(0, 200);
const dateOf = (date: Date) => date.toISOString().slice(0, 10);

function entriesOf(component: ICAL.Component, today: string, until: string): CalendarEntry[] {
  const event = new ICAL.Event(component);
  const uid = event.uid as string | null;
  const start = event.startDate as ICAL.Time | null;
  if (!uid) throw new Error('It has no UID.');
  if (!start) throw new Error('It has no DTSTART.');
  const told = (event.summary as string | null)?.trim() ?? '';
  const reason = (told.length >= 3 ? told : 'away, by its calendar').slice(0, 200);
  const cancelled = String(component.getFirstPropertyValue('status') ?? '').toUpperCase() === 'CANCELLED';
  const spanOf = (from: ICAL.Time, to: ICAL.Time) => ({ from: dayOf(from), to: lastDayOf(from, to) });
  if (!event.isRecurring()) {
    const { from, to } = spanOf(start, event.endDate);
    if (to < from) throw new Error('It ends before it begins.');
    return to < today ? [] : [{ uid, from, to, reason, cancelled }];
  }
  const entries: CalendarEntry[] = [];
  const occurrences = event.iterator();
  for (let next = occurrences.next(); next as ICAL.Time | undefined; next = occurrences.next()) {
    const { startDate, endDate } = event.getOccurrenceDetails(next) as { startDate: ICAL.Time; endDate: ICAL.Time };
    const { from, to } = spanOf(startDate, endDate);
    if (from > until || entries.length >= MOST_OCCURRENCES) break;
    if (to >= today) entries.push({ uid: `${uid}/${from}`, from, to, reason, cancelled });
  }
  return entries;
}

const two = (figure: number) => String(figure).padStart(2, '0');
const dayOf = ({ year, month, day }: ICAL.Time) => `${year}-${two(month)}-${two(day)}`;

/** The last day that is touched: DTEND itself is not part of it (RFC 5545, 3.6.1). */
function lastDayOf(start: ICAL.Time, end: ICAL.Time): string {
  const midnight = end.isDate || (end.hour === 0 && end.minute === 0 && end.second === 0);
  if (!midnight || end.compare(start) <= 0) return dayOf(end);
  const last = end.clone();
  last.adjust(-1, 0, 0, 0);
  return dayOf(last);
}
