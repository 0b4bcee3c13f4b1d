import { create } from 'zustand';
import type { NewPhoto } from '@mile-mark/contract/inspections';
import { ApiProblem, isPassing } from '../api/client.ts';
import { request } from '../api/request.ts';
import type { Draft, Outgoing } from './device.ts';
import { dayOnDevice } from './deviceDay.ts';

type Entry = Outgoing & { seq: number };

/** What was sent a moment ago: shown as written until what is read from the server has it. */
export type Sent = Entry & { sentAt: number };

interface OutboxState {
  entries: Entry[];
  sent: Sent[];
  sending: boolean;
  /** Reads again what waits. */
  look: () => Promise<void>;
  /** Keeps what was written on the device, to be sent in this order. */
  keep: (outgoing: readonly Outgoing[]) => Promise<void>;
  /** Sends what waits, in order, as far as the network goes. Calls at the same time are one. */
  send: (personId: string, onSent: (sent: readonly Entry[]) => void) => Promise<void>;
  /** Takes back an inspection that was refused, to be mended; undefined where another of the vehicle is begun here. */
  mend: (entry: Entry) => Promise<Draft | undefined>;
  /** Sends an inspection all the same although the vehicle changed meanwhile. */
  insist: (entry: Entry) => Promise<void>;
  discard: (entry: Entry) => Promise<void>;
}

/** The device's database: its code is asked for when it is needed, so that no page waits for it to be shown. */
const opened = async () => (await import('./device.ts')).device;

/** Forgets what was kept for work without a network; what waits to be sent stays. */
export async function forgetKept(): Promise<void> {
  const device = await opened();
  await Promise.all([device.bay.clear(), device.bench.clear(), device.cards.clear()]);
}

let running: Promise<void> | undefined;
/** As many sent entries are remembered. */
const MOST_SENT = 100;

export const useOutbox = create<OutboxState>()((set, get) => {
  const look = async () => set({ entries: await (await opened()).outbox.orderBy('seq').toArray() });
  return {
    entries: [],
    sent: [],
    sending: false,
    look,
    keep: async (outgoing) => {
      const device = await opened();
      await device.transaction('rw', device.outbox, device.drafts, async () => {
        for (const one of outgoing) {
          await device.outbox.add(one);
          if (one.kind === 'inspection') await device.drafts.delete(one.unit);
        }
      });
      await look();
    },
    send: (personId, onSent) => {
      running ??= locked(async () => {
        set({ sending: true });
        try {
          const sent = await sendAll(personId, look, (entry) =>
            set({ sent: [...get().sent.slice(-MOST_SENT), { ...entry, sentAt: Date.now() }] }),
          );
          if (sent.length > 0) onSent(sent);
        } finally {
          set({ sending: false });
        }
      }).finally(() => {
        running = undefined;
      });
      return running;
    },
    mend: async (entry) => {
      if (entry.kind !== 'inspection') return undefined;
      const device = await opened();
      const begun = await device.drafts.get(entry.unit);
      if (begun && begun.inspectionId !== entry.id) return undefined;
      const { acknowledged } = entry.body.inspection;
      const draft: Draft = { ...entry.draft, refusal: entry.refused?.message, acknowledged, heard: undefined };
      await device.transaction('rw', device.outbox, device.drafts, async () => {
        await device.drafts.put(draft);
        await device.outbox.bulkDelete([
          entry.seq,
          ...get()
            .entries.filter((one) => one.kind === 'photo' && one.body.inspectionId === entry.id)
            .map(({ seq }) => seq),
        ]);
      });
      await look();
      return draft;
    },
    insist: async (entry) => {
      if (entry.kind !== 'inspection') return;
      const body = { ...entry.body, inspection: { ...entry.body.inspection, acknowledged: true } };
      await (await opened()).outbox.put({ ...entry, body, refused: undefined });
      await look();
    },
    discard: async (entry) => {
      const photos = get().entries.filter(
        (one) =>
          (one.kind === 'photo' && (one.id === entry.id || one.body.inspectionId === entry.id)) ||
          (one.kind === 'job photo' && one.id === entry.id),
      );
      const device = await opened();
      await device.transaction('rw', device.outbox, device.photos, async () => {
        await device.outbox.bulkDelete([entry.seq, ...photos.map(({ seq }) => seq)]);
        await device.photos.bulkDelete(photos.map(({ id }) => id));
      });
      await look();
    },
  };
});

/** One tab at a time sends, where the browser can tell; every write is idempotent in any case. */
function locked(work: () => Promise<void>): Promise<void> {
  return 'locks' in navigator ? navigator.locks.request('mile-mark-outbox', work) : work();
}

/**
 * Sends entries in order: stops where the network or the server is gone, passes over what was refused.
 *
 * @returns what was sent
 */
async function sendAll(personId: string, look: () => Promise<void>, onEach: (entry: Entry) => void): Promise<Entry[]> {
  const device = await opened();
  const sent: Entry[] = [];
  const entries = (await device.outbox.orderBy('seq').toArray()) as Entry[];
  const held = new Set<string>();
  for (const entry of entries) {
    if (entry.refused && entry.kind === 'inspection') held.add(entry.id);
    if (entry.personId !== personId || entry.refused) continue;
    if (entry.kind === 'photo' && held.has(entry.body.inspectionId)) continue;
    try {
      await sendOne(entry);
    } catch (error) {
      if (!(error instanceof ApiProblem) || isPassing(error) || error.status === 401) break;
      const kind = error.problem.type.endsWith(':changed_meanwhile') ? 'conflict' : 'refused';
      await device.outbox.put({ ...entry, refused: { kind, message: error.message } });
      if (entry.kind === 'inspection') held.add(entry.id);
      await look();
      continue;
    }
    onEach(entry);
    await device.transaction('rw', device.outbox, device.photos, async () => {
      await device.outbox.delete(entry.seq);
      if (entry.kind === 'photo' || entry.kind === 'job photo') await device.photos.delete(entry.id);
    });
    await look();
    sent.push(entry);
  }
  return sent;
}

async function sendOne(entry: Entry): Promise<void> {
  if (entry.kind === 'inspection') {
    const { heard } = entry.draft;
    await request('addReadings', { body: entry.body, query: heard ? { deviceDay: dayOnDevice(heard) } : {} });
    return;
  }
  if (entry.kind === 'job entry') {
    await request('addJobEntries', { params: { id: entry.jobId }, body: { entries: [entry.body] } });
    return;
  }
  const photo = await (await opened()).photos.get(entry.id);
  if (!photo) return;
  if (entry.kind === 'job photo') {
    await request('addJobPhoto', { body: { ...entry.body, jpegBase64: await base64Of(photo.jpeg) } });
    return;
  }
  const body: NewPhoto = { ...entry.body, jpegBase64: await base64Of(photo.jpeg) };
  await request('addPhoto', { body });
}

function base64Of(blob: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((reader.result as string).replace(/^[^,]*,/, ''));
    reader.onerror = () => reject(new Error('the photo could not be read'));
    reader.readAsDataURL(blob);
  });
}
