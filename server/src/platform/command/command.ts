import { createHash } from 'node:crypto';
import type { Action } from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { outside, type Reach } from '../auth/reach.ts';
import type { EntityManager } from '../db/orm.ts';
import { isCrossed } from '../db/faults.ts';
import { writersOf } from '../db/writers.ts';
import { ApiError } from '../errors.ts';
import type { DomainEvent, EventBus } from '../events/bus.ts';
import { AuditEntity, IdempotentReplyEntity } from './entities.ts';

/** Who calls a command, and with what. */
export interface Caller {
  em: EntityManager;
  actor: Actor;
  /** The day it is, ISO. */
  today: string;
  events: EventBus;
  /** How far they reach, where they are limited: what is written down as done, or told, has to be within it. */
  reach?: Reach | undefined;
}

/** What a command works with: everything here belongs to one transaction. */
export interface Transaction {
  em: EntityManager;
  actor: Actor;
  today: string;
  /** Writes down who did what, the caller where nobody else is named. Every command that changes anything must. */
  audit: (action: string, subject: string, detail?: Record<string, unknown>, by?: string) => Promise<void>;
  /** The same for many subjects at once. */
  auditAll: (action: string, entries: readonly { subject: string; detail: Record<string, unknown> }[]) => Promise<void>;
  /** Says what happened to whoever subscribed to it. */
  emit: (event: DomainEvent) => Promise<void>;
  /** Says that all stands already as asked: there is nothing to write down. */
  changedNothing: () => void;
}

interface Definition<Input, Output> {
  name: string;
  /** What the policy calls it. */
  action: Action;
  /** Where the client's id of what is made stands: the same id again answers as the first did. */
  clientId?: 'id' | { field: string; of: (input: Input) => string | undefined };
  /** What of the input tells two requests of one id apart; all of it by default (leave secrets out). */
  contentOf?: (input: Input) => unknown;
  /** Where it edits: the revision the client saw, and the one on record. */
  revisionOf?: (em: EntityManager, input: Input) => Promise<{ seen: number | undefined; onRecord: number }>;
  run: (tx: Transaction, input: Input) => Promise<Output>;
}

/** Rows of the audit written with one statement. */
const AUDIT_CHUNK = 1000;

/** A way to write, ready to be called. */
export interface Command<Input, Output> {
  readonly name: string;
  readonly action: Action;
  /** Input is parsed before (at the edge of HTTP, by the endpoint's schema). */
  run: (caller: Caller, input: Input) => Promise<Output>;
}

/**
 * The one way to write: policy, client id, revision, transaction, audit and events. The same id with the same content
 * answers as the first did, whenever and however often it comes; with other content, or for another command, it is a
 * conflict. Two requests of one id at once wait for each other.
 *
 * @throws ApiError `forbidden`, `conflict`, `changed_meanwhile`, and whatever its body refuses
 */
export function command<Input, Output>(definition: Definition<Input, Output>): Command<Input, Output> {
  const { name, action, clientId, contentOf = (input) => input, revisionOf, run } = definition;
  return {
    name,
    action,
    run: async ({ em, actor, today, events, reach }, input) => {
      mustBeAllowed(actor, action);
      const id = clientId === 'id' ? (input as { id?: string }).id : clientId?.of(input);
      const field = typeof clientId === 'object' ? clientId.field : 'id';
      const hash = hashOf(contentOf(input));
      return again(em, (own) =>
        own.transactional(async (inner) => {
          if (id !== undefined) {
            await inner.execute('select pg_advisory_xact_lock(hashtextextended(?, 0))', [id]);
            const kept = await inner.findOne(IdempotentReplyEntity, { id });
            if (kept) return replyOf<Output>(kept, { name, hash, field });
          }
          if (revisionOf) refuseOlderRevision(await revisionOf(inner, input));
          let settled = false;
          const output = await run(
            {
              em: inner,
              actor,
              today,
              audit: async (what, subject, detail = {}, by = actor.id) => {
                settled = true;
                if (reach && !(await reach.holds(inner, subject))) throw outside(reach);
                await audit(inner, by, what, subject, detail);
              },
              auditAll: async (what, entries) => {
                settled = true;
                for (const { subject } of reach ? entries : [])
                  if (reach && !(await reach.holds(inner, subject))) throw outside(reach);
                const own = { at: new Date(), personId: actor.id, action: what };
                for (let i = 0; i < entries.length; i += AUDIT_CHUNK)
                  await inner.insertMany(
                    AuditEntity,
                    entries.slice(i, i + AUDIT_CHUNK).map((entry) => ({ ...own, ...entry })),
                  );
              },
              emit: async (event) => {
                if (reach && !reach.holdsEvent(event)) throw outside(reach);
                await events.emit(inner, event);
              },
              changedNothing: () => {
                settled = true;
              },
            },
            input,
          );
          if (!settled) throw new Error(`command ${name} ended without writing down what it did`);
          if (id !== undefined)
            await inner.insert(IdempotentReplyEntity, {
              id,
              command: name,
              requestHash: hash,
              body: output,
              at: new Date(),
            });
          return output;
        }),
      );
    },
  };
}

/** So often a transaction is begun in all that was given up for another. */
const ATTEMPTS = 4;

/**
 * Does a transaction in its turn, and anew where it and another waited for each other and this one was given up: nothing of
 * it was written.
 */
async function again<T>(em: EntityManager, transaction: (em: EntityManager) => Promise<T>): Promise<T> {
  // Within another's transaction it has its connection already.
  return em.isInTransaction() ? attempts(em, transaction) : writersOf(em)(async () => attempts(em, transaction));
}

async function attempts<T>(em: EntityManager, transaction: (em: EntityManager) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await transaction(attempt === 1 ? em : em.fork({ clear: true }));
    } catch (error) {
      if (!isCrossed(error) || attempt === ATTEMPTS) throw error;
    }
  }
}

/** Writes down who did what, in the caller's transaction; for what is done before anybody is signed in. */
export async function audit(
  em: EntityManager,
  personId: string | null,
  action: string,
  subject: string,
  detail: Record<string, unknown> = {},
): Promise<void> {
  await em.insert(AuditEntity, { at: new Date(), personId, action, subject, detail });
}

const hashOf = (content: unknown): string => createHash('sha256').update(JSON.stringify(content)).digest('hex');

function replyOf<Output>(
  kept: { command?: string | null | undefined; requestHash: string; body: unknown },
  { name, hash, field }: { name: string; hash: string; field: string },
): Output {
  if (kept.requestHash === hash && (kept.command ?? name) === name) return kept.body as Output;
  throw new ApiError('conflict', 'This is in already, with other content; look at it before you save it again.', [
    { field, message: 'A new id is accepted for other content.' },
  ]);
}

function refuseOlderRevision({ seen, onRecord }: { seen: number | undefined; onRecord: number }): void {
  if (seen === undefined || seen === onRecord) return;
  throw new ApiError('changed_meanwhile', 'Somebody changed this meanwhile; look at it again, then change it.', [
    { field: 'revision', message: `It stands at revision ${onRecord}.` },
  ]);
}
