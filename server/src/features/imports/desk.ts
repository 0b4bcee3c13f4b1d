import { createHash, randomUUID } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import type { DraftProgress } from '@mile-mark/contract/imports';
import { z } from 'zod';
import type { Pool } from '../../platform/compute/pool.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow } from '../../platform/db/rows.ts';
import { ApiError } from '../../platform/errors.ts';
import type { ImportDraftRow } from './entities.ts';
import { look, type Looked } from './look.ts';
import { readInPool } from './readInPool.ts';
import type { Stages } from './stages.ts';
import type { Sheet } from './understand/sheet.ts';

/** A look at a file that waits, and which it was. */
interface DeskLook {
  id: string;
  looked: Looked;
}

/**
 * Where files lie while they are looked at: each is read once, and judged again only where something was said of it or
 * the record changed. All of it is made anew from the file on record when the process begins anew.
 */
export interface Desk {
  /** What is found out when a file is dropped. @throws ApiError where it can't be read */
  drop: (id: string, bytes: Uint8Array) => Promise<Sheet>;
  /** The look at a file as it and the record stand now. */
  lookAt: (em: EntityManager, draft: ImportDraftRow, today: string) => Promise<DeskLook>;
  /**
   * The same, but where holding its figures against the record takes longer than a moment, as far as it is read.
   *
   * @throws Superseded where somebody said something else of the file meanwhile
   */
  glanceAt: (em: EntityManager, draft: ImportDraftRow, today: string) => Promise<Glance>;
  /** The look that was asked for by its id; undefined where it lies here no more. */
  lookOf: (draftId: string, lookId: string) => Promise<DeskLook> | undefined;
  /** Works on a file where everybody can see how far it is, and end it. */
  watched: <T>(draftId: string, work: (stages: Stages) => Promise<T>) => Promise<T>;
  progressOf: (draftId: string) => DraftProgress;
  /** Ends the work on a file; false where there is none. */
  stop: (draftId: string) => boolean;
  clear: (draftId: string) => void;
}

/** As a look is made: how many vehicles' figures are held against the record of how many; null when all are. */
type Glance = DeskLook & { judging: { done: number; of: number } | null };

/** A look that nobody needs any more, since something else was said of its file. */
export class Superseded extends Error {}

/** So long a look waits for the last of its doubts before it shows itself without, ms. */
const JUDGED_SOON_MS = 1000;

/** So much of files lies here at a time: those looked at least lately go first, bytes. */
const MOST_BYTES = 48 * 1024 * 1024;

interface Lying {
  bytes: number;
  sheet?: { as: string; read: Promise<Sheet> };
  look?: Making;
}

/** A look that is being made, or was. */
interface Making {
  /** How the record stood. */
  record: string;
  /** What was said of the file, and the day. */
  said: string;
  /** Whether it was shown whole. */
  isTold: boolean;
  made: Promise<Looked>;
  /** As far as it is known before figures are held against the record. */
  read: Promise<Looked>;
  ids: { read: string; made: string };
  judging: { done: number; of: number };
  stop: AbortController;
}

interface Work {
  progress: NonNullable<DraftProgress>;
  stop: AbortController;
}

const stopped = () => new ApiError('conflict', 'Taking it in was stopped; nothing of it was written.');

export function createDesk(pool: Pool, { judgedSoonMs = JUDGED_SOON_MS } = {}): Desk {
  const lying = new Map<string, Lying>();
  const works = new Map<string, Work>();

  /** The file as it lies here, which makes it the one looked at last. */
  const lay = (id: string, bytes: number): Lying => {
    const known = lying.get(id) ?? { bytes };
    lying.delete(id);
    lying.set(id, known);
    let sum = 0;
    for (const [other, { bytes: size }] of [...lying].reverse()) {
      sum += size;
      if (sum > MOST_BYTES && other !== id) lying.delete(other);
    }
    return known;
  };
  const sheetOf = (own: Lying, draft: Pick<ImportDraftRow, 'stated'>, content: () => Promise<Uint8Array>) => {
    const { encoding, delimiter, sheet } = draft.stated;
    const as = JSON.stringify([encoding, delimiter, sheet]);
    if (own.sheet?.as !== as) {
      const read = content().then((bytes) => readInPool(pool, bytes, { encoding, delimiter, sheet }));
      own.sheet = { as, read };
      read.catch(() => delete own.sheet);
    }
    return own.sheet.read;
  };
  const stagesOf = ({ progress, stop: { signal } }: Work): Stages => ({
    begin: (step, of) => {
      Object.assign(progress, { step, done: 0, of });
      return { signal, onDone: (items) => (progress.done += items) };
    },
    pool,
  });
  const making = (work: Work | undefined): Pick<Making, 'ids' | 'judging' | 'stop'> & { stages: Stages } => {
    const [judging, stop] = [{ done: 0, of: 0 }, new AbortController()];
    const watched = work && stagesOf(work);
    const begin: Stages['begin'] = (step, of) => {
      const outer = watched?.begin(step, of);
      if (step === 'judging') judging.of = of;
      return {
        signal: outer?.signal ?? stop.signal,
        onDone: (items) => {
          outer?.onDone?.(items);
          if (step === 'judging') judging.done += items;
        },
      };
    };
    return { ids: { read: randomUUID(), made: randomUUID() }, judging, stop, stages: { begin, pool } };
  };
  /** @param orUntold whether one that nobody was shown whole yet will do, although the record changed since it began */
  const lookOn = async (em: EntityManager, draft: ImportDraftRow, today: string, orUntold = false): Promise<Making> => {
    const own = lay(draft.id, lying.get(draft.id)?.bytes ?? (await sizeOf(em, draft.id)));
    const { stated, edits } = draft;
    const [record, said] = [await recordStands(em), JSON.stringify([today, stated, edits])];
    const known = own.look;
    // Where people write all the time a look that began anew with each of them would never be whole.
    if (known?.said === said && (known.record === record || (orUntold && !known.isTold))) return known;
    // Whoever takes the file in may be waiting for the look before: it is let come to its end.
    if (!works.has(draft.id)) known?.stop.abort(new Superseded());
    const { stages, ...begun } = making(works.get(draft.id));
    let onRead: (looked: Looked) => void = () => undefined;
    const read = new Promise<Looked>((resolve) => (onRead = resolve));
    const make = async () => {
      const sheet = await sheetOf(own, draft, () => contentOf(em, draft.id));
      return look(em, sheet, { understanding: stated, edits }, today, stages, onRead);
    };
    const current: Making = { ...begun, record, said, isTold: false, read, made: make() };
    own.look = current;
    current.made.catch(() => {
      if (own.look === current) delete own.look;
    });
    return current;
  };

  const desk: Desk = {
    drop: (id, bytes) => sheetOf(lay(id, bytes.byteLength), { stated: {} }, async () => bytes),
    lookAt: async (em, draft, today) => {
      const { ids, made } = await lookOn(em, draft, today);
      return { id: ids.made, looked: await made };
    },
    glanceAt: async (em, draft, today) => {
      const own = await lookOn(em, draft, today, true);
      const { ids, read, made, judging } = own;
      const first = await Promise.race([made, read]);
      const looked = first.judged ? first : await Promise.race([made, setTimeout(judgedSoonMs, first)]);
      if (looked.judged) own.isTold = true;
      return looked.judged
        ? { id: ids.made, looked, judging: null }
        : { id: ids.read, looked, judging: { ...judging } };
    },
    lookOf: (draftId, lookId) => {
      const known = lying.get(draftId)?.look;
      if (known?.ids.read === lookId) return known.read.then((looked) => ({ id: lookId, looked }));
      return known?.ids.made === lookId ? known.made.then((looked) => ({ id: lookId, looked })) : undefined;
    },
    watched: async (draftId, work) => {
      if (works.has(draftId))
        throw new ApiError('conflict', 'Somebody is taking this file in just now; look again in a moment.');
      const own: Work = { progress: { step: 'reading', done: 0, of: 0 }, stop: new AbortController() };
      works.set(draftId, own);
      try {
        return await work(stagesOf(own));
      } finally {
        works.delete(draftId);
      }
    },
    progressOf: (draftId) => {
      const work = works.get(draftId);
      return work ? { ...work.progress } : null;
    },
    stop: (draftId) => {
      const work = works.get(draftId);
      work?.stop.abort(stopped());
      return work !== undefined;
    },
    clear: (draftId) => lying.delete(draftId),
  };
  return desk;
}

/** What changes with everything that anybody does: each command writes it down, and the feed its days. */
const RECORD_STANDS = `select concat_ws('/', (select max(id) from audit), (select max(received_at) from feed_day)) as last`;

async function recordStands(em: EntityManager): Promise<string> {
  const schema = z.object({ last: z.string() });
  return (await firstRow(em, schema, RECORD_STANDS))?.last ?? '';
}

async function sizeOf(em: EntityManager, id: string): Promise<number> {
  const schema = z.object({ bytes: z.number() });
  const row = await firstRow(em, schema, 'select octet_length(content) as bytes from import_draft where id = ?', [id]);
  return row?.bytes ?? 0;
}

async function contentOf(em: EntityManager, id: string): Promise<Uint8Array> {
  const schema = z.object({ content: z.instanceof(Uint8Array) });
  const row = await firstRow(em, schema, 'select content from import_draft where id = ?', [id]);
  if (!row) throw noDraft();
  return row.content;
}

export const noDraft = () => new ApiError('not_found', 'This file waits no more: somebody took it in, or put it away.');

export const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
