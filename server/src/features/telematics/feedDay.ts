import { z } from 'zod';

/** A day as a telematics service tells it; what lies outside these bounds is no day of a road vehicle. */
const FeedDay = z.object({
  unit: z.string().min(1).max(40),
  day: z.iso.date().refine((day) => day >= '1990-01-01'),
  odometerMi: z.number().min(0).max(3_000_000),
  miles: z.number().min(0).max(1500),
  stops: z.int().min(0).max(5000),
  stopMph: z.number().min(0).max(100),
  slowdowns: z.int().min(0).max(10_000).default(0),
  slowdownFromMph: z.number().min(0).max(100).default(0),
  slowdownToMph: z.number().min(0).max(100).default(0),
  massKg: z.number().min(200).max(80_000),
  descentM: z.number().min(0).max(20_000),
  longestDescentM: z.number().min(0).max(5000).default(0),
});
export type FeedDay = z.output<typeof FeedDay>;

/** A line of the feed: a day, or why it is none. What it said is kept either way. */
export type FeedLine = { raw: unknown; day: FeedDay } | { raw: unknown; day?: undefined; unreadable: string };

/** Reads a line of the feed. Characters that no database keeps are replaced first: one of them would stop the whole feed. */
export function readLine(sent: unknown): FeedLine {
  const raw = keepable(sent);
  const parsed = FeedDay.safeParse(raw);
  if (parsed.success) return { raw, day: parsed.data };
  return { raw, unreadable: unreadable(raw, parsed.error.issues[0]?.path ?? []) };
}

/** Values deeper in each other than this are left out: a day is flat. */
const DEEPEST = 8;

/** The same without zero characters and halves of characters. */
function keepable(sent: unknown, depth = 0): unknown {
  if (typeof sent === 'string') return sent.replace(/\p{Surrogate}/gu, '\ufffd').replaceAll('\u0000', '\ufffd');
  if (typeof sent !== 'object' || sent === null) return sent;
  if (depth === DEEPEST) return null;
  if (Array.isArray(sent)) return sent.map((one) => keepable(one, depth + 1));
  return Object.fromEntries(
    Object.entries(sent).map(([key, one]) => [keepable(key, depth + 1) as string, keepable(one, depth + 1)]),
  );
}

/** Says which figure of a line is none that a day can have. */
function unreadable(raw: unknown, path: readonly PropertyKey[]): string {
  const field = path.map(String).join('.');
  const value = z.record(z.string(), z.unknown()).safeParse(raw);
  if (!value.success || field === '') return 'The line is no record of a day.';
  const said = JSON.stringify(value.data[field]) as string | undefined;
  return said === undefined ? `${field} is missing.` : `${field}: ${said} is none that a day can have.`;
}
