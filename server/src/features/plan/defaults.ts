import type { PlanTermsStated, ShopWeekStated } from '@mile-mark/contract/plan';

const WORKDAYS = 5;
const week = <T>(workday: T, weekend: T): T[] =>
  Array.from({ length: 7 }, (_, day) => (day < WORKDAYS ? workday : weekend));

/** A shop of which nobody has told anything: two bays, Monday to Friday; who works there has to be said. */
export const DEFAULT_WEEK: ShopWeekStated = {
  open: week<ShopWeekStated['open'][number]>({ from: '07:00', to: '16:00' }, null),
  bays: [
    { name: 'Bay 1', kind: 'light' },
    { name: 'Bay 2', kind: 'heavy' },
  ],
  people: [],
  overtimeHours: 2,
  offRoad: [],
};

/** What a plan weighs until the shop says otherwise (common practice, no source). */
export const DEFAULT_TERMS: PlanTermsStated = {
  visitMinor: 9000,
  setUpHours: 0.5,
  downtimePerHourMinor: 1800,
  overtimePerHourMinor: 6500,
  outside: { fixedMinor: 35_000, perHourMinor: 13_000 },
  outOfServicePerDayMinor: 28_000,
  moveMinor: 6000,
  movePerDayMinor: 300,
  hoursADay: 8,
  intervalMi: { light: 25_000, heavy: 40_000 },
  bookWeeks: 4,
  travel: [],
  proposesAnew: true,
};

/** A booking that is due within so many days costs so many times as much to move. */
export const MOVE_NEAR = { nearDays: 10, nearTimes: 3 };
