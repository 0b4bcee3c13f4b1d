import { z } from 'zod';
import { Id, IsoDate, Name, SeenRevision, VehicleClass } from '../common.ts';

const DAYS = 7;
const Hour = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time such as 07:30 is accepted.');
const Money = z.int('Whole cents are accepted.').min(0, 'From 0 on is accepted.').max(100_000_000);

/** A day of the week on which a shop is open. */
const Open = z
  .object({ from: Hour, to: Hour })
  .refine(({ from, to }) => from < to, { path: ['to'], error: 'It shuts after it opens.' });

const Bay = z.object({
  name: Name.max(40, 'At most 40 characters are accepted.'),
  /** Which vehicles go there. */
  kind: z.enum(['light', 'heavy']),
});

const Hours = z.number('Hours are needed.').min(0, 'From 0 on is accepted.').max(24, 'At most 24 are accepted.');

/** How a depot's shop works by the week; days begin with Monday. */
const Week = z.object({
  open: z.array(Open.nullable()).length(DAYS, 'Seven days are needed, Monday first.'),
  bays: z
    .array(Bay)
    .max(30, 'At most 30 bays are accepted.')
    .refine((bays) => new Set(bays.map(({ name }) => name.toLowerCase())).size === bays.length, {
      error: 'Each bay has a name of its own.',
    }),
  people: z
    .array(
      z.object({
        personId: Id,
        /** May work on air brakes. */
        certified: z.boolean(),
        /** Hours at this depot on each day of a week. */
        hours: z.array(Hours).length(DAYS, 'Seven days are needed, Monday first.'),
      }),
    )
    .max(60, 'At most 60 people are accepted.')
    .refine((people) => new Set(people.map(({ personId }) => personId)).size === people.length, {
      error: 'Each person is accepted once.',
    }),
  /** The most that a day may be lengthened by. */
  overtimeHours: Hours,
  /** How many of a class may be off the road at once; a class that is not named is not bounded. */
  offRoad: z
    .array(z.object({ class: VehicleClass, most: z.int().min(1, 'One or more is accepted.').max(999) }))
    .refine((caps) => new Set(caps.map((one) => one.class)).size === caps.length, {
      error: 'Each class is accepted once.',
    }),
});
export type ShopWeekStated = z.infer<typeof Week>;

export const ShopChange = Week.extend({ revision: SeenRevision });
export type ShopChange = z.input<typeof ShopChange>;

/** A way between two depots, there and back. */
const Way = z.object({
  between: z
    .array(Name)
    .length(2, 'Two depots are needed.')
    .refine(([a, b]) => a !== b, { error: 'Two different depots are needed.' }),
  /** Hours on the road; the vehicle is off its work for them. */
  hours: Hours,
  /** Driver and fuel. */
  costMinor: Money,
});

/** What a plan weighs, in minor units of the shop's currency. */
const Terms = z.object({
  /** A visit's bringing and driving off. */
  visitMinor: Money,
  /** Hours that a visit takes once, whatever is done. */
  setUpHours: z.number().min(0, 'From 0 on is accepted.').max(8, 'At most 8 are accepted.'),
  downtimePerHourMinor: Money,
  overtimePerHourMinor: Money,
  /** An outside shop, where there is one. */
  outside: z.object({ fixedMinor: Money, perHourMinor: Money }).nullable(),
  /** A day on which a vehicle may not be driven any more. */
  outOfServicePerDayMinor: Money,
  /** A booking that moves, once and by the day; threefold within ten days. */
  moveMinor: Money,
  movePerDayMinor: Money,
  /** Hours that one vehicle is worked on in a day. */
  hoursADay: z.number().min(1, 'From 1 on is accepted.').max(24, 'At most 24 are accepted.'),
  /** Miles between changes in a shop that goes by the odometer alone; plans are compared with it. */
  intervalMi: z.object({
    light: z.int().min(1000, 'From 1,000 mi on is accepted.').max(1_000_000, 'At most 1,000,000 mi are accepted.'),
    heavy: z.int().min(1000, 'From 1,000 mi on is accepted.').max(1_000_000, 'At most 1,000,000 mi are accepted.'),
  }),
  /** Ways between depots, there and back: where one is stated, a plan may have one depot’s vehicles done at the other. */
  travel: z
    .array(Way)
    .max(300, 'At most 300 ways are accepted.')
    .refine((ways) => new Set(ways.map(({ between }) => [...between].sort().join('\n'))).size === ways.length, {
      error: 'Each two depots are accepted once.',
    }),
  /** Where the published plan no longer holds, a proposal is made by itself; nothing is published without a person. */
  proposesAnew: z.boolean(),
  /** Visits that begin within so many weeks become jobs when a plan is published. */
  bookWeeks: z.int().min(1, 'One week or more is accepted.').max(26, 'At most 26 weeks are accepted.'),
});
export type PlanTermsStated = z.infer<typeof Terms>;

export const PlanTermsChange = Terms.extend({ revision: SeenRevision });
export type PlanTermsChange = z.input<typeof PlanTermsChange>;

const Changed = { revision: z.int(), by: z.string().nullable(), on: IsoDate.nullable() };

export const AWAY_KINDS = ['person', 'vehicle', 'depot'] as const;
const AwayKind = z.enum(AWAY_KINDS);

/** A person or vehicle that is away, a shop that is shut, or other work that a vehicle comes in for. */
export const Absence = z.object({
  id: Id,
  kind: AwayKind,
  /** Who or what: a name, a unit, a depot. */
  of: z.string(),
  from: IsoDate,
  to: IsoDate,
  reason: z.string(),
  /** The vehicle comes in for other work then, and brakes can be done with it. */
  comesIn: z.boolean(),
  by: z.string(),
});
export type Absence = z.infer<typeof Absence>;

const Reason = z
  .string()
  .trim()
  .min(3, 'A reason of at least 3 characters is needed.')
  .max(200, 'At most 200 characters are accepted.');
const Span = {
  kind: AwayKind,
  of: Name,
  comesIn: z.boolean().default(false),
};

export const NewAbsence = z
  .object({ id: Id, ...Span, from: IsoDate, to: IsoDate, reason: Reason })
  .refine(({ from, to }) => from <= to, { path: ['to'], error: 'The last day is not before the first.' })
  .refine(({ kind, comesIn }) => !comesIn || kind === 'vehicle', {
    path: ['comesIn'],
    error: 'Only a vehicle comes in for other work.',
  });
export type NewAbsence = z.input<typeof NewAbsence>;

/** Days away out of a calendar file (iCalendar). */
export const CalendarFile = z.object({
  id: Id,
  ...Span,
  /** The file's text. */
  text: z
    .string()
    .min(1, 'A calendar file is needed.')
    .max(1_000_000, 'A file of at most 1,000,000 characters is accepted.'),
});
export type CalendarFile = z.input<typeof CalendarFile>;

/** What became of a calendar's entries. */
export const CalendarRead = z.object({
  added: z.int(),
  /** On record already, as they are. */
  already: z.int(),
  /** On record otherwise, and as the file has them now. */
  changed: z.int(),
  /** Called off by the file. */
  withdrawn: z.int(),
  refused: z.array(z.object({ entry: z.string(), message: z.string() })),
});
export type CalendarRead = z.infer<typeof CalendarRead>;

export const Shop = z.object({
  today: IsoDate,
  currency: z.string(),
  depots: z.array(Week.extend({ depot: z.string(), timeZone: z.string(), ...Changed })),
  terms: Terms.extend(Changed),
  people: z.array(z.object({ id: Id, name: z.string(), role: z.string() })),
  absences: z.array(Absence),
});
export type Shop = z.infer<typeof Shop>;
