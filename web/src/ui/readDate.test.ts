import { describe, expect, it } from '@jest/globals';
import { formatDate } from './format.ts';
import { readDate } from './readDate.ts';

describe('a day as people type it', () => {
  it.each([
    ['2026-11-23', '2026-11-23'],
    ['23 Nov 2026', '2026-11-23'],
    ['  3  november 2026 ', '2026-11-03'],
    ['Nov 3, 2026', '2026-11-03'],
    ['3.11.2026', '2026-11-03'],
    ['29 Feb 2028', '2028-02-29'],
    ['', ''],
  ])('“%s” is %s', (typed, iso) => expect(readDate(typed)).toBe(iso));

  it.each(['11/23/2026', '3/11/2026', '31 Nov 2026', '29 Feb 2027', 'tomorrow', '23 Nov', '2026-13-01', '23 Nov 26'])(
    '“%s” is asked about instead of guessed',
    (typed) => expect(readDate(typed)).toBeUndefined(),
  );

  it('what is shown reads back as the same day', () => {
    for (let day = 1; day <= 28; day += 1)
      for (let month = 1; month <= 12; month += 1) {
        const iso = `2026-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
        expect(readDate(formatDate(iso))).toBe(iso);
      }
  });
});
