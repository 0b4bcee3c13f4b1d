import { toast } from 'sonner';
import { create } from 'zustand';
import { TOAST_TO_ACT_MS } from '../ui/toasts.ts';

/** So long a thing that was done can be undone without a word, ms; later a reason is asked where it stands. */
export const UNDO_WITHIN_MS = 60_000;

interface Undoable {
  id: string;
  /** What was done, as a sentence. */
  done: string;
  /** What the way back is called. */
  label: string;
  /** Until when it stands, ms since 1970. */
  until: number;
  undo: () => Promise<unknown>;
  undone: string;
}

interface Undoables {
  /** The last thing done stands last. */
  list: readonly Undoable[];
  offer: (one: Undoable) => void;
  /** Takes one off the list; undefined where it is gone already, so that nothing is undone twice. */
  take: (id: string) => Undoable | undefined;
  /** Takes off what is older than it may be. */
  expire: (now: number) => void;
}

/** What was done within the last minute and can be undone, on whatever screen one is meanwhile. */
export const useUndoables = create<Undoables>((set, get) => ({
  list: [],
  offer: (one) => set({ list: [...get().list, one] }),
  take: (id) => {
    const one = get().list.find((other) => other.id === id);
    if (one) set({ list: get().list.filter((other) => other.id !== id) });
    return one;
  },
  expire: (now) => {
    if (get().list.some(({ until }) => until <= now)) set({ list: get().list.filter(({ until }) => until > now) });
  },
}));

/** Undoes what stands on the list under this id, and says so; what can't be undone any more is said with its reason. */
export async function undoOne(id: string): Promise<void> {
  const one = useUndoables.getState().take(id);
  if (!one) return;
  try {
    await one.undo();
    toast(one.undone);
  } catch (error) {
    toast(`Not undone: ${error instanceof Error ? error.message : 'the server did not answer'}`);
  }
}

interface Way {
  label?: string;
  undone?: string;
  /** Whether the screen says itself what was done. */
  said?: boolean;
  /** Where it may be undone from elsewhere too, which then takes it off the list by this. */
  id?: string;
}

/** Says what was done, with the way back: in the notice, and in the bar for as long as it may be undone without a word. */
export function doneWithUndo(
  done: string,
  undo: () => Promise<unknown>,
  { label = 'Undo', undone = 'Undone.', said = false, id = crypto.randomUUID() }: Way = {},
): void {
  useUndoables.getState().offer({ id, done, label, undone, undo, until: Date.now() + UNDO_WITHIN_MS });
  if (!said) toast(done, { duration: TOAST_TO_ACT_MS, action: { label, onClick: () => void undoOne(id) } });
}
