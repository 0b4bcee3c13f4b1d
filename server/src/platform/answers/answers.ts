import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { firstRow, rowsOf } from '../db/rows.ts';
import { prepareAnswer, type Prepared } from '../http/prepared.ts';
import { togetherOn } from '../together.ts';

/** What an answer rests on: one thing and what all share, or all of the record. */
export type RestsOn = { sql: string; params: readonly unknown[] } | 'everything';

interface Asked {
  /** Tells it from every other answer: the route, its parameters, and for whom it is. */
  key: string;
  rests: RestsOn;
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
    of: async (em, { key, rests, make }) => {
      // Asked before the answer is made: it may be newer than it is known to be, and never older.
      const stands = await standsOf(em, rests);
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
            const later = await standsOf(em, rests);
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

const Stands = z.object({ k: z.number(), stands: z.string() });

/** How often what answers rest on has changed, of all that are asked for at once. */
const stood = togetherOn(async (em, keys: string[]) => {
  const asked = keys.map((key) => whereOf(JSON.parse(key) as RestsOn));
  const rows = await rowsOf(
    em,
    Stands,
    asked
      .map(([where], i) => `select ${i} as k, coalesce(sum(n), 0)::text as stands from record_change ${where}`)
      .join(' union all '),
    asked.flatMap(([, params]) => params),
  );
  return new Map(rows.map(({ k, stands }) => [keys[k] ?? '', stands]));
});

/** How often what the answer rests on has changed: it grows with every transaction that changed some of it. */
async function standsOf(em: EntityManager, rests: RestsOn): Promise<string> {
  return (await stood(em, JSON.stringify(rests))) ?? '';
}

function whereOf(rests: RestsOn): [string, readonly unknown[]] {
  if (rests === 'everything') return ['', []];
  return [`where about is null or about = ${rests.sql}`, rests.params];
}

/** Notes that everything may have changed: for what changes the record while its triggers are off. */
export async function noteChangeOfAll(em: EntityManager): Promise<void> {
  await em.execute('insert into record_change (about) values (null)');
}

/** Rows of changes are added up when there are more than this. */
const MANY = 500;

/** Adds up the changes noted so far: what each answer rests on has changed as often as before. */
export async function addUpChanges(em: EntityManager): Promise<void> {
  await em.execute(
    `with gone as (delete from record_change where (select count(*) from record_change) > ? returning about, n)
     insert into record_change (about, n) select about, sum(n) from gone group by about`,
    [MANY],
  );
}

const Total = z.object({ n: z.string() });

/** How often anything of the record has changed so far. */
export async function changesSoFar(em: EntityManager): Promise<string> {
  return (await firstRow(em, Total, 'select coalesce(sum(n), 0)::text as n from record_change'))?.n ?? '0';
}
