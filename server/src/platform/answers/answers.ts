import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { firstRow } from '../db/rows.ts';
import { prepareAnswer, type Prepared } from '../http/prepared.ts';
import { question } from '../questions.ts';

/** What an answer rests on: one thing and what all share, or all of the record. */
export interface RestsOn {
  /** How often it has changed: it grows with every transaction that changed some of it. */
  stands: (em: EntityManager) => Promise<string>;
}

interface Asked {
  /** Tells it from every other answer: the route, its parameters, and for whom it is. */
  key: string;
  rests: RestsOn;
  /** How it stands, where that was asked when the request came. */
  stands?: Promise<string> | undefined;
  make: () => Promise<unknown>;
}

/** Answers as they were last made: made again only when what they rest on has changed. */
export interface Answers {
  /** The answer as the record stands now; whoever asks while it is made waits for the same one. */
  of: (em: EntityManager, asked: Asked) => Promise<Prepared>;
}

interface Kept {
  stands: string;
  answer: Promise<Prepared>;
  bytes: number;
}

/** So much is kept at a time: what was asked for least lately goes first, bytes. */
const MOST_BYTES = 48 * 1024 * 1024;

export function createAnswers(mostBytes = MOST_BYTES): Answers {
  const kept = new Map<string, Kept>();
  let bytes = 0;
  const forget = (key: string) => {
    bytes -= kept.get(key)?.bytes ?? 0;
    kept.delete(key);
  };
  const keep = (key: string, stands: string, answer: Promise<Prepared>) => {
    forget(key);
    const own: Kept = { stands, answer, bytes: 0 };
    kept.set(key, own);
    answer.then(
      (prepared) => {
        if (kept.get(key) !== own) return;
        own.bytes = prepared.prepared.length + prepared.compressed.byteLength;
        bytes += own.bytes;
        for (const oldest of kept.keys()) {
          if (bytes <= mostBytes) break;
          forget(oldest);
        }
      },
      () => {
        if (kept.get(key) === own) forget(key);
      },
    );
  };
  const known = (key: string, stands: string) => {
    const found = kept.get(key);
    if (found?.stands !== stands) return undefined;
    kept.delete(key);
    kept.set(key, found);
    return found.answer;
  };
  const inTurn = turns();
  return {
    of: async (em, { key, rests, stands: early, make }) => {
      // Asked before the answer is made: it may be newer than it is known to be, and never older.
      const stands = await (early ?? rests.stands(em));
      const made = (now: string) => {
        const answer = make().then(prepareAnswer);
        keep(key, now, answer);
        return answer;
      };
      return (
        known(key, stands) ??
        inTurn(key, {
          now: () => made(stands),
          next: async () => {
            const later = await rests.stands(em);
            return known(key, later) ?? made(later);
          },
        })
      );
    },
  };
}

interface Turn {
  /** Settles when the answer that is being made is there, or failed. */
  over: Promise<unknown>;
  /** The one that is made after it, for all who asked meanwhile. */
  next?: Promise<Prepared>;
}

/**
 * One answer of a kind is made at a time: whoever asks meanwhile, after something has changed, waits for the next, which
 * is made once for all of them. So what everybody looks at is not made as often as it changes and is asked for.
 */
function turns(): (
  key: string,
  make: { now: () => Promise<Prepared>; next: () => Promise<Prepared> },
) => Promise<Prepared> {
  const under = new Map<string, Turn>();
  const begin = (key: string, make: () => Promise<Prepared>): Promise<Prepared> => {
    const answer = make();
    const own: Turn = { over: answer.catch(() => undefined) };
    under.set(key, own);
    void own.over.then(() => {
      if (!own.next && under.get(key) === own) under.delete(key);
    });
    return answer;
  };
  return (key, { now, next }) => {
    const before = under.get(key);
    if (!before) return begin(key, now);
    before.next ??= before.over.then(() => begin(key, next));
    return before.next;
  };
}

const Stands = z.object({ key: z.string(), stands: z.string() });

/** Of parts and orders, which no answer that is kept rests on. */
const APART = '(about is null and derived)';

const ALL = 'all';
const askAll = question(
  'everything',
  Stands,
  `select key, (select coalesce(sum(n), 0)::text from record_change where not ${APART}) as stands
   from jsonb_array_elements_text(?::jsonb) as asked(key)`,
);

/** All of the record. */
export const EVERYTHING: RestsOn = { stands: async (em) => (await askAll(em, [ALL])).get(ALL)?.stands ?? '' };

/**
 * One thing, and what all share.
 *
 * @param name a word, its own
 * @param find finds things: rows of a key and its `id`, of `asked(key)`
 */
export function restsOnOne(name: string, find: string): (key: string) => RestsOn {
  const stood = question(
    name,
    Stands,
    `select key, (select coalesce(sum(n), 0)::text from record_change
       where (about is null and not derived) or about = found.id) as stands
     from (with asked as (select key from jsonb_array_elements_text(?::jsonb) as listed(key)) ${find}) as found`,
  );
  return (key) => ({ stands: async (em) => (await stood(em, [key])).get(key)?.stands ?? '' });
}

/** Notes that everything may have changed: for what changes the record while its triggers are off. */
export async function noteChangeOfAll(em: EntityManager): Promise<void> {
  await em.execute('insert into record_change (about) values (null)');
}

/** Rows of changes are added up when there are more than `most`; the last ones stay, so that it is known when they came. */
const ROWS = { most: 500, stay: 250 };

/**
 * Adds up the changes noted so far: what each answer rests on has changed as often as before. One that stands alone stays as
 * it is; what was added up counts as changed just now for whoever asks since when.
 */
export async function addUpChanges(em: EntityManager): Promise<void> {
  await em.execute(
    `with older as (select id, about, derived from record_change
       where (select count(*) from record_change) > ? and id <= (select max(id) from record_change) - ?),
     several as (select about, derived from older group by about, derived having count(*) > 1),
     gone as (delete from record_change c using older o join several s on s.about is not distinct from o.about and s.derived = o.derived
       where c.id = o.id returning c.about, c.derived, c.n)
     insert into record_change (about, derived, n) select about, derived, sum(n) from gone group by about, derived`,
    [ROWS.most, ROWS.stay],
  );
}

const Changed = z.object({ all: z.boolean(), about: z.array(z.string()) });
/** A snapshot of the database as it tells it: the oldest transaction under way, the next one, those under way. */
const CURSOR = /^(\d+\.\d+)\.((\d{1,18}):(\d{1,18}):((?:\d{1,18}(?:,\d{1,18})*)?))$/;

/**
 * What changed since a cursor, by what it was about: whatever was not visible then, in whatever order transactions ended.
 *
 * @param since `oid.started.snapshot` of the database and its run; a cursor of another, or none, tells nothing
 * @param now the same of this moment
 * @returns ids of things, or that all may have changed
 */
export async function changedSince(
  em: EntityManager,
  since: string | undefined,
  now: string,
): Promise<ReadonlySet<string> | 'all'> {
  const [, run, snapshot, from, to, under] = CURSOR.exec(since ?? '') ?? [];
  if (!snapshot || run !== CURSOR.exec(now)?.[1] || !isSnapshot(from, to, under)) return 'all';
  const found = await firstRow(
    em,
    Changed,
    `select coalesce(bool_or(about is null and not derived), false) as all, coalesce(json_agg(distinct about) filter (where about is not null), '[]') as about
     from record_change where not pg_visible_in_snapshot(xid, ?::pg_snapshot)`,
    [snapshot],
  );
  return !found || found.all ? 'all' : new Set(found.about);
}

/** Whether these make a snapshot: in order, and those under way between the two. */
function isSnapshot(from = '', to = '', under = ''): boolean {
  const list = under === '' ? [] : under.split(',').map(BigInt);
  const [least, next] = [BigInt(from), BigInt(to)];
  return (
    least > 0n &&
    least <= next &&
    list.every((one, i) => one >= least && one < next && (i === 0 || one > (list[i - 1] ?? 0n)))
  );
}

const Total = z.object({ n: z.string() });

/** How often anything of the record has changed so far. */
export async function changesSoFar(em: EntityManager): Promise<string> {
  return (await firstRow(em, Total, 'select coalesce(sum(n), 0)::text as n from record_change'))?.n ?? '0';
}
