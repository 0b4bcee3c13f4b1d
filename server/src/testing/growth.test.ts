import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import {
  parseDate,
  parseDistance,
  parseHead,
  parseNumber,
  parsePistons,
  parseThickness,
  parseThread,
  parseTorque,
} from '@mile-mark/core';
import { type Endpoint, ENDPOINTS } from '@mile-mark/contract';
import { look } from '../features/imports/look.ts';
import { readSheet } from '../features/imports/understand/sheet.ts';
import { readCalendarText } from '../features/plan/calendarIn.ts';
import { ApiError } from '../platform/errors.ts';
import { createTestApp, fillSmallFleet, type TestApp, TODAY } from './app.ts';
import { leavesOf, plausible, schemaOf, withAt } from './hostile.ts';

/**
 * Nothing that reads what people send takes time that grows faster than what is sent: a text ten times as long takes
 * about ten times as long, not a hundred times. (A sheet of 59 kB once froze everybody for 8.4 s.)
 */

/** What is repeated: signs that make an expression try again where it is written so that it does. */
const PIECES = [
  ...['1', '1,', '1 ', '0.', '.', ',', '1/', '1-', '-', ' ', '\t', '\u00a0', 'a', 'a ', 'a1', 'axle 1 ', 'mm', '1 mm '],
  ...['"', '""', '"a', '(', '((1)', '[', '½', '×', '=', ';', '|', '\n', '\r', '\r\n', '\\', '/', "'", '1\u202f', 'é'],
  ...['2026-', '1.1.', 'l/r ', 'left ', 'in. ', '{"format"', 'sep=', 'total ', 'M12x1,5 ', '8x', '8 x 45 mm ', '×1'],
];
const [SHORT, TIMES] = [3_000, 10];

/** Less than this, ms, is nothing that anybody waits for, and too little to be measured. */
const NOTHING = 60;
/** Ten times as much may take so many times as long: what is linear measured by a clock that is disturbed. */
const MOST = 35;

/** The least of three, ms: what disturbs a measurement makes it longer. */
async function taken(work: () => unknown): Promise<number> {
  let least = Infinity;
  for (let i = 0; i < 3; i += 1) {
    const begun = performance.now();
    await work();
    least = Math.min(least, performance.now() - begun);
    if (least < NOTHING) break;
  }
  return least;
}

/** How many times as long ten times as much takes; nought where it takes no time at all. */
async function growth(work: (length: number) => () => unknown): Promise<number> {
  let least = Infinity;
  // What looks slow is measured again: something else may have run beside it.
  for (let i = 0; i < 3 && least > MOST; i += 1) {
    const long = await taken(work(SHORT * TIMES));
    if (long < NOTHING) return 0;
    least = Math.min(least, long / Math.max(NOTHING / TIMES, await taken(work(SHORT))));
  }
  return least;
}

const repeated = (piece: string, length: number) => piece.repeat(Math.ceil(length / piece.length)).slice(0, length);
const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;

describe('a field as it is typed', () => {
  const READERS: [string, (text: string) => unknown][] = [
    ['number', (text) => parseNumber(text, { thousandsLikely: true })],
    ['day', (text) => parseDate(text, 'MDY')],
    ['thickness', (text) => parseThickness(text, { unit: 'mm' })],
    ['distance', (text) => parseDistance(text, { unit: 'mi' })],
    ['torque', (text) => parseTorque(text, {})],
    ['thread', (text) => parseThread(text)],
    ['head', (text) => parseHead('hex', text)],
    ['pistons', (text) => parsePistons(text)],
  ];
  it.each(READERS)('of a %s is read in the time its length takes', async (_name, read) => {
    const slow: string[] = [];
    for (const piece of PIECES)
      for (const end of ['', '!'])
        for (const begin of ['', '1']) {
          const times = await growth((length) => {
            const text = begin + repeated(piece, length) + end;
            return () => read(text);
          });
          if (times > MOST) slow.push(`${JSON.stringify(begin + piece)} … ${end}: ${times.toFixed(0)} times`);
        }
    expect(slow).toEqual([]);
  });
});

describe('a body', () => {
  const routes = Object.entries<Endpoint>(ENDPOINTS).filter(([, { body }]) => body);
  const few = ['1', ' ', 'a ', '1,', '-', '\u00a0', 'é'];
  it.each(routes)('of %s is parsed in the time its length takes', async (_name, { body }) => {
    const right = plausible(schemaOf(body as never), {});
    const slow: string[] = [];
    for (const path of leavesOf(right))
      for (const piece of few) {
        const times = await growth((length) => {
          const sent = withAt(right, path, `${repeated(piece, length)}!`);
          return () => body?.safeParse(sent);
        });
        if (times > MOST) slow.push(`${path.join('.')} ${JSON.stringify(piece)}: ${times.toFixed(0)} times`);
      }
    expect(slow).toEqual([]);
  });
});

describe('a calendar', () => {
  const entry = (text: string) =>
    `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20261124\r\nSUMMARY:${text}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
  it.each([...PIECES, 'BEGIN:VEVENT\r\n', 'RRULE:FREQ=DAILY\r\n', '\r\n '])(
    'with much of %j is read in the time its length takes',
    async (piece) => {
      const times = await growth((length) => {
        const text = entry(repeated(piece, length));
        return () => readCalendarText(text, TODAY);
      });
      expect(times).toBeLessThanOrEqual(MOST);
    },
  );
});

describe('a sheet', () => {
  let test: TestApp;
  beforeAll(async () => {
    test = await createTestApp();
    await fillSmallFleet(test);
  });
  afterAll(async () => test.close());

  const HEAD = 'unit,date,odometer,axle,side,pad,thickness,note';
  const ROW = ['P1', '2026-05-05', '61000', '1', 'left', 'inner', '8.5', 'x'];
  const looked = (text: string) => {
    const bytes = Buffer.from(text);
    return async () => {
      try {
        await look(test.orm.em.fork(), await readSheet(bytes), { understanding: {} }, TODAY);
      } catch (error) {
        // That it is refused is as good as that it is read: both in their time.
        if (!(error instanceof ApiError)) throw error;
      }
    };
  };

  it.each(PIECES)('of nothing but %j is looked at in the time its length takes', async (piece) => {
    expect(await growth((length) => looked(repeated(piece, length)))).toBeLessThanOrEqual(MOST);
    expect(await growth((length) => looked(`${HEAD}\n${repeated(piece, length)}`))).toBeLessThanOrEqual(MOST);
  });

  it.each(PIECES)('with a long cell of %j in any column is looked at in the time its length takes', async (piece) => {
    const times = await growth((length) => {
      const long = quoted(repeated(piece, length));
      const rows = ROW.map((_, column) => ROW.map((cell, k) => (k === column ? long : cell)).join(','));
      return looked([HEAD, ...rows].join('\n'));
    });
    expect(times).toBeLessThanOrEqual(MOST);
    const header = await growth((length) => looked(`${HEAD},${quoted(repeated(piece, length))}\n${ROW.join(',')},`));
    expect(header).toBeLessThanOrEqual(MOST);
  });
});

describe('what grows too fast', () => {
  it('is seen here: blanks looked for at the end, from each of them anew', async () => {
    const slow = /\s+$/;
    // Half of what would make it slow for sure: all nine measurements are made.
    expect(await growth((length) => () => slow.test(`${repeated(' ', length)}!`))).toBeGreaterThan(MOST);
  });
});
