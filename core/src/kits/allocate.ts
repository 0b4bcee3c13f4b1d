import { takenBy, type KitNeed, type Option } from './kit.ts';

/** A job that wants its kit, at its depot. */
export interface KitJob {
  job: string;
  depot: string;
  /** ISO day on which the parts are wanted. */
  day: string;
  /** Whether that day is booked: booked work comes before what is only due. */
  booked: boolean;
  needs: readonly KitNeed[];
}

/** What comes in. */
export interface Incoming {
  depot: string;
  part: string;
  units: number;
  /** ISO day as promised, or as usual for the supplier. */
  day: string;
}

export type NeedState =
  | { state: 'there'; option: Option; instead: boolean }
  | { state: 'comes'; option: Option; day: string; inTime: boolean }
  /** Missing, and nothing that fits is on its way. */
  | { state: 'short'; missing: number };

export interface KitState {
  job: string;
  state: 'complete' | 'substitutable' | 'short';
  /** By when the last of what is missing comes; undefined where something is not even on order, or nothing is missing. */
  until: string | undefined;
  needs: (KitNeed & { now: NeedState })[];
}

/**
 * Which job gets what: each in the order of the day its parts are wanted, booked work first on the same day; from stock,
 * then from what comes in. What a job gets, no later one has.
 *
 * @param stock free units by depot and part (`depot/part`)
 */
export function allocate(
  jobs: readonly KitJob[],
  stock: ReadonlyMap<string, number>,
  incoming: readonly Incoming[],
): KitState[] {
  const free = new Map(stock);
  const coming = [...incoming].sort((a, b) => (a.day < b.day ? -1 : Number(a.day > b.day))).map((one) => ({ ...one }));
  return [...jobs].sort(firstWanted).map((job) => {
    const needs = job.needs.map((need) => ({ ...need, now: serve(job, need, free, coming) }));
    return { job: job.job, needs, ...stateOf(needs) };
  });
}

/** Sums of shares of bottles end a hair off. */
const HAIR = 1e-9;

const firstWanted = (a: KitJob, b: KitJob) =>
  a.day < b.day ? -1 : a.day > b.day ? 1 : Number(b.booked) - Number(a.booked) || (a.job < b.job ? -1 : 1);

function serve(job: KitJob, need: KitNeed, free: Map<string, number>, coming: Incoming[]): NeedState {
  const at = (part: string) => `${job.depot}/${part}`;
  // Which one the shop would take first: the old number while it lasts counts as that.
  const first = need.order?.part ?? need.options[0]?.part;
  for (const option of need.options) {
    const there = free.get(at(option.part)) ?? 0;
    if (there < takenBy(option) - HAIR) continue;
    free.set(at(option.part), there - takenBy(option));
    return { state: 'there', option, instead: option.part !== first && need.options[0]?.part !== option.part };
  }
  const arrivals = need.options.flatMap((option) => {
    const own = coming.filter((one) => one.depot === job.depot && one.part === option.part && one.units > 0);
    let still = takenBy(option) - Math.max(0, free.get(at(option.part)) ?? 0);
    const last = own.find((one) => (still -= one.units) <= HAIR);
    return last ? [{ option, day: last.day }] : [];
  });
  const soonest = arrivals.sort((a, b) => (a.day < b.day ? -1 : 1))[0];
  if (!soonest) {
    const there = Math.max(0, ...need.options.map(({ part }) => free.get(at(part)) ?? 0));
    return { state: 'short', missing: Math.max(1, Math.ceil((need.order?.units ?? 1) - there)) };
  }
  take(job, soonest.option, free, coming);
  return { state: 'comes', ...soonest, inTime: soonest.day <= job.day };
}

/** Takes what lies there, and the rest from what comes first. */
function take(job: KitJob, option: Option, free: Map<string, number>, coming: Incoming[]): void {
  const { part } = option;
  const key = `${job.depot}/${part}`;
  const there = Math.min(takenBy(option), Math.max(0, free.get(key) ?? 0));
  free.set(key, (free.get(key) ?? 0) - there);
  let still = takenBy(option) - there;
  for (const one of coming) {
    if (still <= HAIR) return;
    if (one.depot !== job.depot || one.part !== part) continue;
    const taken = Math.min(still, one.units);
    one.units -= taken;
    still -= taken;
  }
}

function stateOf(needs: KitState['needs']): Pick<KitState, 'state' | 'until'> {
  const late = needs.filter(({ now }) => now.state === 'short' || (now.state === 'comes' && !now.inTime));
  if (late.length > 0) {
    const days = late.flatMap(({ now }) => (now.state === 'comes' ? [now.day] : []));
    return { state: 'short', until: days.length === late.length ? days.sort().at(-1) : undefined };
  }
  const instead = needs.some(({ now }) => now.state === 'there' && now.instead);
  return { state: instead ? 'substitutable' : 'complete', until: undefined };
}
