import { describe, expect, it } from '@jest/globals';
import ICAL from 'ical.js';
import { readCalendarText } from './calendarIn.ts';
import { writeCalendar, type CalendarVisit } from './calendarOut.ts';

const TODAY = '2026-11-20';
const VISIT: CalendarVisit = {
  uid: '5b4c0f7e-0000-4000-8000-000000000001',
  unit: 'T06',
  axles: [1, 3],
  depot: 'Far, wide; depot',
  zone: 'Europe/Berlin',
  date: '2027-03-26',
  opens: '07:00',
  hours: 3.5,
  bay: 'Bay 1',
  people: ['Ash'],
  cancelled: false,
};
/** What another general library makes of a calendar. */
const eventsOf = (text: string) =>
  new ICAL.Component(ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0])
    .getAllSubcomponents('vevent')
    .map((component) => ({ event: new ICAL.Event(component), component }));
const written = (visits: CalendarVisit[], sequence = 7) =>
  writeCalendar('Brakes, Far depot', visits, { sequence, stamp: '2026-11-20T10:00:00Z' });

describe('a calendar given out', () => {
  it('is what another library reads back, with what RFC 5545 asks of it', () => {
    const text = written([VISIT]);
    // 3.1: lines end with CRLF and are folded at 75 octets; 3.6: PRODID and VERSION once each.
    expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n]/);
    for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    expect(text.match(/^VERSION:2\.0\r$/gm)).toHaveLength(1);
    expect(text.match(/^PRODID:/gm)).toHaveLength(1);
    const [one] = eventsOf(text);
    expect(one?.event.uid).toBe(`${VISIT.uid}@mile-mark`);
    expect(one?.event.location).toBe('Far, wide; depot, Bay 1');
    expect(one?.event.summary).toBe('T06: brakes, axles 1, 3');
    expect(one?.event.sequence).toBe(7);
    expect(one?.component.getFirstPropertyValue('status')).toBe('CONFIRMED');
    expect(one?.event.endDate.subtractDate(one.event.startDate).toSeconds()).toBe(3.5 * 3600);
  });

  it.each([
    // Summer time began in Europe on 28 March 2027 and in New York on 14 March (tz database): the same clock, another hour of UTC.
    ['Europe/Berlin', '2027-03-26', '2027-03-26T06:00:00Z'],
    ['Europe/Berlin', '2027-03-29', '2027-03-29T05:00:00Z'],
    ['Europe/Berlin', '2026-10-26', '2026-10-26T06:00:00Z'],
    ['America/New_York', '2027-03-12', '2027-03-12T12:00:00Z'],
    ['America/New_York', '2027-03-15', '2027-03-15T11:00:00Z'],
    ['UTC', '2027-03-15', '2027-03-15T07:00:00Z'],
  ])('begins when the shop opens by its own clock: %s on %s', (zone, date, utc) => {
    const [one] = eventsOf(written([{ ...VISIT, zone, date }]));
    expect(one?.event.startDate.toJSDate().toISOString().replace('.000', '')).toBe(utc);
  });

  it('has the same UID when it moves, a later sequence, and says what is cancelled', () => {
    const [before] = eventsOf(written([VISIT], 7));
    const [after] = eventsOf(written([{ ...VISIT, date: '2027-04-02', cancelled: true }], 9));
    expect(after?.event.uid).toBe(before?.event.uid);
    expect(after?.event.sequence).toBeGreaterThan(before?.event.sequence ?? Infinity);
    expect(after?.component.getFirstPropertyValue('status')).toBe('CANCELLED');
  });
});

const calendar = (...events: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//test//EN', ...events, 'END:VCALENDAR'].join('\r\n');
const event = (...lines: string[]) => ['BEGIN:VEVENT', ...lines, 'END:VEVENT'].join('\r\n');
const read = (...events: string[]) => readCalendarText(calendar(...events), TODAY);

describe('a calendar taken in', () => {
  it('an all-day entry ends on the day before its DTEND (RFC 5545, 3.6.1: the annual and the ten-day example)', () => {
    // The RFC's own examples, their years moved so that they lie ahead.
    const annual = event(
      'UID:19970901T130000Z-123403@example.com',
      'DTSTART;VALUE=DATE:20271102',
      'SUMMARY:every year',
    );
    const festival = event(
      'UID:20070423T123432Z-541111@example.com',
      'DTSTART;VALUE=DATE:20270628',
      'DTEND;VALUE=DATE:20270709',
      'SUMMARY:ten days',
    );
    expect(read(annual, festival).entries.map(({ from, to, reason }) => [from, to, reason])).toEqual([
      ['2027-11-02', '2027-11-02', 'every year'],
      ['2027-06-28', '2027-07-08', 'ten days'],
    ]);
  });

  it.each([
    ['a few hours', ['DTSTART:20261201T080000', 'DTEND:20261201T120000'], ['2026-12-01', '2026-12-01']],
    ['a night', ['DTSTART:20261201T200000', 'DTEND:20261202T060000'], ['2026-12-01', '2026-12-02']],
    ['until midnight', ['DTSTART:20261201T080000', 'DTEND:20261202T000000'], ['2026-12-01', '2026-12-01']],
    ['by a duration', ['DTSTART:20261201T080000', 'DURATION:P2D'], ['2026-12-01', '2026-12-03']],
  ])('a timed one covers every day it touches: %s', (_what, lines, span) => {
    const [one] = read(event('UID:a', ...lines)).entries;
    expect([one?.from, one?.to]).toEqual(span);
  });

  it('recurring ones are unrolled, with their exceptions, from today on', () => {
    const weekly = event(
      'UID:w',
      'SUMMARY:school day',
      'DTSTART;VALUE=DATE:20261102',
      'RRULE:FREQ=WEEKLY;COUNT=6',
      'EXDATE;VALUE=DATE:20261130',
    );
    expect(read(weekly).entries.map(({ from }) => from)).toEqual(['2026-11-23', '2026-12-07']);
    const forever = event('UID:f', 'DTSTART;VALUE=DATE:20200101', 'RRULE:FREQ=DAILY');
    expect(read(forever).entries.length).toBeLessThanOrEqual(120);
  });

  it('what is cancelled is told as that, what is past is left out', () => {
    const { entries } = read(
      event('UID:c', 'STATUS:CANCELLED', 'DTSTART;VALUE=DATE:20261224'),
      event('UID:p', 'DTSTART;VALUE=DATE:20261001'),
    );
    expect(entries.map(({ uid, cancelled }) => [uid, cancelled])).toEqual([['c', true]]);
  });

  it('what can’t be read is said entry by entry, and the rest goes in', () => {
    const { entries, refused } = read(
      event('SUMMARY:without a name', 'DTSTART;VALUE=DATE:20261224'),
      event('UID:b', 'SUMMARY:backwards', 'DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261220'),
      event('UID:n', 'SUMMARY:no day'),
      event('UID:ok', 'DTSTART;VALUE=DATE:20261224'),
    );
    expect(entries.map(({ uid }) => uid)).toEqual(['ok']);
    expect(refused.map(({ entry }) => entry)).toEqual(['without a name', 'backwards', 'no day']);
    expect(readCalendarText('unit,from,to\nT06,1,2', TODAY).refused[0]?.message).toMatch(/not a calendar/);
  });

  it('reads back what is given out', () => {
    const { entries } = readCalendarText(written([VISIT, { ...VISIT, uid: 'other', cancelled: true }]), TODAY);
    expect(entries.map(({ from, cancelled }) => [from, cancelled])).toEqual([
      ['2027-03-26', false],
      ['2027-03-26', true],
    ]);
  });
});
