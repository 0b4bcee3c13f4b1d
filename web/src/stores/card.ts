import { useQuery } from '@tanstack/react-query';
import type { CardStep, JobCard, JobEntry } from '@mile-mark/contract/jobs';
import { isPassing } from '../api/client.ts';
import { request } from '../api/request.ts';
import { device, type Outgoing } from './device.ts';
import { type Sent, useOutbox } from './outbox.ts';

/** A card as it stands on this device: what the server told, with what still waits to be sent. */
export interface CardState {
  card: JobCard;
  /** It comes from the device because the network is cut. */
  kept: boolean;
}

/** A job's card: from the server, kept on the device, and from there without a network. */
export function useCard(jobId: string) {
  return useQuery({
    queryKey: ['jobCard', { id: jobId }],
    refetchInterval: 20_000,
    retry: false,
    queryFn: async (): Promise<CardState> => {
      try {
        const card = await request('jobCard', { params: { id: jobId } });
        await device.cards.put({ id: jobId, card });
        return { card, kept: false };
      } catch (error) {
        if (!isPassing(error)) throw error;
        const found = await device.cards.get(jobId);
        if (!found) throw error;
        return { card: found.card, kept: true };
      }
    },
  });
}

type EntryOut = Extract<Outgoing, { kind: 'job entry' }>;

/** What was written on a job's card on this device and is not on the server yet. */
export function usePending(jobId: string): EntryOut[] {
  const { entries } = useOutbox();
  return entries.filter((one): one is EntryOut & { seq: number } => one.kind === 'job entry' && one.jobId === jobId);
}

/** How long what was sent is shown as written, should the server's answer not have it, ms. */
const SHOWN_MS = 20_000;

/** What was sent of a job a moment ago and the card that was read does not have yet: nothing flickers under a finger. */
export function useJustSent(jobId: string, steps: readonly CardStep[]): EntryOut[] {
  const { sent } = useOutbox();
  return sent.filter((one): one is Extract<Sent, { kind: 'job entry' }> => {
    if (one.kind !== 'job entry' || one.jobId !== jobId || Date.now() - one.sentAt > SHOWN_MS) return false;
    const step = 'step' in one.body ? steps.find(({ id }) => 'step' in one.body && id === one.body.step) : undefined;
    if (!step) return false;
    return one.body.kind === 'undo' ? step.done !== null : step.done?.entryId !== one.id;
  });
}

/** The steps with what waits laid over them; what came back refused counts for nothing. */
export function withPending(
  steps: readonly CardStep[],
  pending: readonly EntryOut[],
  me: { id: string; name: string },
): CardStep[] {
  const last = new Map<string, JobEntry>();
  for (const { body, refused } of pending)
    if (!refused && 'step' in body && body.step !== undefined && body.kind !== 'note') last.set(body.step, body);
  return steps.map((step) => {
    const entry = last.get(step.id);
    if (!entry) return step;
    if (entry.kind === 'undo') return { ...step, done: null };
    return { ...step, done: { by: me.name, byId: me.id, at: entry.doneAt, text: textOf(entry), entryId: entry.id } };
  });
}

function textOf(entry: JobEntry): string {
  switch (entry.kind) {
    case 'check':
      return entry.state;
    case 'level':
      return `${Math.round(entry.level * 100)} % of the way from MIN to MAX`;
    case 'pads left':
      return `inner ${entry.innerMm.toFixed(1)} mm, outer ${entry.outerMm.toFixed(1)} mm`;
    case 'rotor left':
      return `${entry.mm.toFixed(2)} mm`;
    case 'torque':
      return `${entry.value} ${entry.unit}`;
    case 'count':
      return `${entry.stops} stops`;
    default:
      return 'done';
  }
}

type WithoutId<T> = T extends unknown ? Omit<T, 'id' | 'doneAt'> : never;
export type NewEntry = WithoutId<JobEntry>;

/** Writes on a card: kept on the device first, sent as soon as the network allows, once. */
export function useWrite({ id: jobId, unit }: { id: string; unit: string }, personId: string) {
  const { keep } = useOutbox();
  return async (...entries: NewEntry[]): Promise<void> => {
    const at = new Date().toISOString();
    await keep(
      entries.map((one) => {
        const body = { ...one, id: crypto.randomUUID(), doneAt: at } as JobEntry;
        return { kind: 'job entry' as const, id: body.id, personId, unit, keptAt: at, jobId, body };
      }),
    );
  };
}
