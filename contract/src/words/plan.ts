import { dayInWords } from '../days.ts';
import { chanceInWords, countInWords } from './figures.ts';
import { moneyInWords } from './parts.ts';

/** An axle on the day of its visit. */
interface AxleOnDay {
  axle: number;
  /** Expected days that its pads would still have lasted. */
  earlyDays: number;
  /** Chance of being below the limit by then. */
  chance: number;
  /** Days past the day of its risk target. */
  lateDays: number;
}

const MINOR = 100;

/** What a visit gives away and risks on its day, axle by axle, and why it is not on a day that would cost less by itself. */
export function visitInWords({
  axles,
  better,
  outside,
  locked,
  sharesTrip,
  lent,
  currency,
}: {
  axles: readonly AxleOnDay[];
  better: { date: string; more: number; shut: boolean } | undefined;
  outside: boolean;
  locked: boolean;
  /** The vehicle comes in for other work on that day. */
  sharesTrip: boolean;
  /** Done for another depot: whose vehicle it is, and what going there and back costs at each visit. */
  lent?: { from: string; cost: number; hours: number } | undefined;
  currency: string;
}): string[] {
  const lines = axles.map(axleInWords);
  if (axles.length > 1) lines.push(`${axles.length} axles at one visit: one trip instead of ${axles.length}.`);
  if (sharesTrip) lines.push('The vehicle comes in for other work then: no trip of its own.');
  if (lent)
    lines.push(
      `A vehicle of ${lent.from}: ${moneyInWords(Math.round(lent.cost * MINOR), currency)} and ${hoursInWords(lent.hours)} for the way, and the depots cost less together so.`,
    );
  if (outside) lines.push('At an outside shop: the depot has no hours left that cost less.');
  if (locked) lines.push('Locked on its day.');
  else if (better)
    lines.push(
      `${dayInWords(better.date)} would cost ${moneyInWords(Math.round(better.more * MINOR), currency)} less by itself; ${better.shut ? 'the shop has not the hours for it then' : 'others need its hours more'}.`,
    );
  return lines;
}

function axleInWords({ axle, earlyDays, chance, lateDays }: AxleOnDay): string {
  const early = `${countInWords(Math.round(earlyDays), 'day')} of its pads given up`;
  const late = lateDays > 0 ? `, ${countInWords(Math.round(lateDays), 'day')} past its risk target` : '';
  return `Axle ${axle}: ${early}; the chance of being below the limit by then is ${chanceInWords(chance)}${late}.`;
}

/** What a look is worth for planning. @param days how much later it would put the mark in the mean */
export function lookInWords({ days, passed }: { days: number; passed: boolean }): string {
  const gain = `A look would put the mark about ${countInWords(Math.round(days), 'day')} later in the mean.`;
  return passed ? `Its mark has passed. ${gain}` : gain;
}

export const CONSTRAINTS_IN_WORDS = {
  kit: 'its kit is not there in these weeks',
  away: 'the vehicle is away on every day left',
  'off the road': 'too many of its class are off the road on every day left',
  bay: 'the depot has no bay of its kind, and there is no outside shop',
  hours: 'no day has the hours, overtime included, and there is no outside shop',
  dear: 'doing it costs more than leaving it',
} as const;

/** Why a visit is no longer on the day on which the published plan has it. */
export function movedInWords({
  from,
  breaks,
  staying,
  currency,
}: {
  from: string;
  /** What staying would break, in words. */
  breaks: readonly string[];
  /** What staying would cost more. */
  staying: number;
  currency: string;
}): string {
  const before = `Before on ${dayInWords(from)}`;
  if (breaks.length > 0) return `${before}, where it can’t stay: ${breaks.join(' ')}`;
  if (staying <= 0) return `${before}; a person moved it.`;
  return `${before}; staying there would cost ${moneyInWords(Math.round(staying * MINOR), currency)} more.`;
}

/** What would free an axle that could not be placed. */
export function remedyInWords(binds: keyof typeof CONSTRAINTS_IN_WORDS, unit: string): string {
  switch (binds) {
    case 'kit':
      return 'Order its kit, or enter who sells it.';
    case 'away':
      return `Bring ${unit} in on a day on which it is said to be away.`;
    case 'off the road':
      return 'Let one more of its class stand, or move another visit.';
    case 'bay':
      return `A bay that takes ${unit}, or the way to a depot that has one (Plan, Shop).`;
    case 'hours':
      return 'More overtime, another person, or an outside shop.';
    case 'dear':
      return 'Nothing, unless the costs in Plan, Shop are not right.';
  }
}

/** An axle that a plan does not do, though its risk target falls into it. */
export const dueSinceInWords = (unit: string, axle: number, due: string): string =>
  `${unit} axle ${axle} came due since: by ${dayInWords(due)}, and no visit does it.`;

/** Why a visit is at another depot than the published plan has it at. */
export const otherDepotInWords = (depot: string): string => `Before at ${depot}.`;

const hoursInWords = (hours: number): string => `${Number(hours.toFixed(1))} h`;

/** What is told of a plan that was made by itself. */
export function planMadeInWords(because: readonly { depot: string; what: string }[]): {
  subject: string;
  body: string;
} {
  return {
    subject: `A proposal for the plan: ${countInWords(because.length, 'thing')} of it no longer ${because.length === 1 ? 'holds' : 'hold'}`,
    body: [
      ...because.map(({ depot, what }) => `${depot}: ${what}`),
      '',
      'What would move, and why, stands under Plan. Nothing is booked or moved before you publish it.',
    ].join('\n'),
  };
}

/** What a move breaks, in words. */
export function brokenInWords(code: string, unit: string, date: string): string {
  const day = dayInWords(date);
  switch (code) {
    case 'kit':
      return `${unit}: its kit is not there on ${day}.`;
    case 'closed':
      return `${unit} is away on ${day}.`;
    case 'shut':
      return `Nobody works on brakes on ${day}, when ${unit} is to come.`;
    case 'lock':
      return `${unit} is locked on another day.`;
    case 'off the road':
      return `Too many of ${unit}’s class are off the road on ${day}.`;
    case 'hours':
      return `${day} has not the hours, overtime included.`;
    case 'bay':
      return `The depot has no bay for ${unit}.`;
    case 'beyond':
      return `${unit} would not be done before the plan ends.`;
    case 'outside':
      return 'No outside shop is stated.';
    default:
      return `${unit} can’t be placed so.`;
  }
}
