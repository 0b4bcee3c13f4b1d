import Dexie, { type EntityTable } from 'dexie';
import type { Bay, NewInspection, NewPhoto } from '@mile-mark/contract/inspections';
import type { JobCard, JobEntry, NewJobPhoto } from '@mile-mark/contract/jobs';
import type { Degree, FindingItem } from '@mile-mark/core';
import type { BenchOfDepot } from '@mile-mark/contract/specifications';
import type { DayHeard } from './deviceDay.ts';

/** An inspection as it is being captured; kept on the device at every touch. */
export interface Draft {
  unit: string;
  inspectionId: string;
  /** The state of the record that was seen when it began. */
  seenAt: string;
  technicianId: string;
  gaugeId: string;
  date: string;
  odometer: string;
  odometerUnit: 'mi' | 'km';
  odometerAnswer?: DraftAnswer | undefined;
  pads: Record<string, DraftPad>;
  findings: DraftFinding[];
  rotors: Record<string, DraftRotor>;
  photos: { id: string; axle: number; side: 'left' | 'right'; takenAt: string }[];
  /** What the server said where it refused, to be mended. */
  refusal?: string | undefined;
  acknowledged?: boolean | undefined;
  /** What its day was reckoned from, where it stands as the device's clock told it. */
  heard?: DayHeard | undefined;
}

export interface DraftFinding {
  id: string;
  axle: number;
  side: 'left' | 'right';
  item: FindingItem;
  state: string;
  /** Which of several, as the catalogue names them. */
  places?: string[] | undefined;
  degree?: Degree | undefined;
  note?: string | undefined;
}

export type DraftAnswer = 'measured_twice' | 'leave_to_coordinator';

export interface DraftPad {
  id: string;
  typed: string;
  answer?: DraftAnswer | undefined;
  unseen?: boolean | undefined;
}

export interface DraftRotor {
  id: string;
  /** As typed, mm, eight points from twelve o'clock, clockwise. */
  thickness: string[];
  /** As typed, hundredths of a millimetre. */
  runout: string[];
  hub: string[];
  points: 8 | 12;
  studs: string;
}

/** What waits to be sent, in order; kept until the server has it. */
export type Outgoing = {
  seq?: number;
  id: string;
  personId: string;
  unit: string;
  keptAt: string;
  /** Why the server would not take it: what was wrong, or that the vehicle changed meanwhile. */
  refused?: { kind: 'refused' | 'conflict'; message: string } | undefined;
} &
  /** `marks`: where the marks of its axles stood when it was measured, ISO dates. */
  (
    | { kind: 'inspection'; body: NewInspection; draft: Draft; marks?: Record<number, string | null> }
    | { kind: 'photo'; body: Omit<NewPhoto, 'jpegBase64'> }
    | { kind: 'job entry'; jobId: string; body: JobEntry }
    | { kind: 'job photo'; jobId: string; body: Omit<NewJobPhoto, 'jpegBase64'> }
  );

interface KeptBay {
  key: 'bay';
  bay: Bay;
  /** What is asked for what changed since. */
  cursor?: string;
  heard?: DayHeard;
}

/** A service card as it was last read, to go on without a network. */
interface KeptCard {
  id: string;
  card: JobCard;
}

interface KeptPhoto {
  id: string;
  jpeg: Blob;
}

/** The device's own database: what capture needs and what it made, over reloads and without a network. */
export const device = new Dexie('mile-mark') as Dexie & {
  bay: EntityTable<KeptBay, 'key'>;
  drafts: EntityTable<Draft, 'unit'>;
  outbox: EntityTable<Outgoing & { seq: number }, 'seq'>;
  photos: EntityTable<KeptPhoto, 'id'>;
  bench: EntityTable<BenchOfDepot, 'depot'>;
  cards: EntityTable<KeptCard, 'id'>;
};
device.version(1).stores({ bay: 'key', drafts: 'unit', outbox: '++seq, &id', photos: 'id' });
device.version(2).stores({ bench: 'depot' });
// What the version before kept under another name stays of use until the network is back.
device
  .version(3)
  .stores({})
  .upgrade(async (transaction) => {
    const kept = transaction.table<{ bay: Bay & { hands?: Bay['appraisers'] } }>('bay');
    await kept.toCollection().modify(({ bay }) => {
      bay.appraisers ??= bay.hands ?? [];
    });
  });
device.version(4).stores({ cards: 'id' });
// Findings were kept under a key of their wheel and item, one state each.
device
  .version(5)
  .stores({})
  .upgrade(async (transaction) => {
    type Before = Omit<Draft, 'findings'> & {
      findings: Draft['findings'] | Record<string, { id: string; state: string }>;
    };
    const anew = (draft: Before) => {
      if (Array.isArray(draft.findings)) return;
      draft.findings = Object.entries(draft.findings).map(([key, one]) => {
        const [axle, side, item] = key.split('-') as [string, 'left', FindingItem];
        return { ...one, axle: Number(axle), side, item };
      });
    };
    await transaction.table<Before>('drafts').toCollection().modify(anew);
    await transaction
      .table<{ draft?: Before }>('outbox')
      .toCollection()
      .modify(({ draft }) => draft && anew(draft));
  });
