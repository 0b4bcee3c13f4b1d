import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Me } from '@mile-mark/contract/people';
import { useOutbox } from '../../../stores/outbox.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { Modal } from '../../../ui/Modal.tsx';

type Entry = ReturnType<typeof useOutbox.getState>['entries'][number];
type Inspection = Extract<Entry, { kind: 'inspection' }>;

/** What waits on this device to be sent, and what came back. */
export function Waiting({ me, kept, at }: { me: Me; kept: boolean; at: string }) {
  const { entries } = useOutbox();
  return (
    <section aria-label="On this device" className="flex flex-col gap-2">
      <ToBeSent entries={entries.filter(({ refused }) => !refused)} me={me} />
      {entries.map((entry) => (entry.refused ? <CameBack key={entry.id} entry={entry} /> : null))}
      {kept && (
        <p role="status" className="text-soft">
          No network: what is expected of the pads is as of{' '}
          {new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}.
        </p>
      )}
      {entries.length === 0 && !kept && <p className="text-soft">Nothing waits on this device; all is sent.</p>}
    </section>
  );
}

function ToBeSent({ entries, me }: { entries: readonly Entry[]; me: Me }) {
  const { sending } = useOutbox();
  if (entries.length === 0) return null;
  const others = entries.filter(({ personId }) => personId !== me.id).length;
  return (
    <p role="status" className="border-l-4 border-slate bg-sheet py-2 pl-3">
      {entries.length} {entries.length === 1 ? 'entry waits' : 'entries wait'} on this device to be sent
      {sending ? ', sending now' : ''}: {[...new Set(entries.map(({ unit }) => unit))].join(', ')}.
      {others > 0 && ` ${others} of them by somebody else, sent when they sign in here.`}
    </p>
  );
}

/** Something the server would not take: nothing of it is lost until whoever wrote it says so. */
function CameBack({ entry }: { entry: Entry }) {
  const { discard } = useOutbox();
  const why = entry.refused?.message;
  if (entry.kind === 'inspection') return <InspectionBack entry={entry} />;
  return (
    <p className="border-l-4 border-brick bg-sheet py-2 pl-3">
      {entry.kind === 'photo' ? (
        <>
          A photo of {entry.unit} came back: {why}{' '}
          <Button large onClick={() => void discard(entry)}>
            Throw the photo away
          </Button>
        </>
      ) : (
        <>
          Something written on the card of {entry.unit} came back: {why}{' '}
          <Link className="underline" to={`/jobs/${entry.jobId}/card`}>
            Open its card
          </Link>
        </>
      )}
    </p>
  );
}

function InspectionBack({ entry }: { entry: Inspection }) {
  const { mend, insist } = useOutbox();
  const navigate = useNavigate();
  const [asking, setAsking] = useState(false);
  const open = async () => {
    const draft = await mend(entry);
    if (!draft)
      toast(`Another inspection of ${entry.unit} is begun on this device: keep it first, then mend this one.`);
    void navigate(`/measure/${entry.unit}`);
  };
  const changed = entry.refused?.kind === 'conflict';
  return (
    <article className="border-l-4 border-brick bg-sheet py-2 pl-3">
      <p className="font-medium">
        {entry.unit} {changed ? 'changed meanwhile' : 'came back'}: {entry.refused?.message}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {changed && (
          <Button large onClick={() => void insist(entry)}>
            The readings hold: send them
          </Button>
        )}
        <Button large onClick={() => void open()}>
          Open and mend
        </Button>
        <Button large onClick={() => setAsking(true)}>
          Throw away …
        </Button>
      </div>
      {asking && <ThrowAway entry={entry} onClose={() => setAsking(false)} />}
    </article>
  );
}

/** Asks before readings that are nowhere else are thrown away. */
function ThrowAway({ entry, onClose }: { entry: Inspection; onClose: () => void }) {
  const { discard } = useOutbox();
  const { inspection, readings } = entry.body;
  const one = readings.length === 1;
  return (
    <Modal open onClose={onClose} title={`Throw away what was measured on ${entry.unit}?`}>
      <p className="mb-4 text-lg">
        {one ? '1 reading' : `${readings.length} readings`} of {formatDate(inspection.date)} at {inspection.odometer}{' '}
        {inspection.odometerUnit} {one ? 'is on this device only' : 'are on this device only'}, with any photos taken.
        Thrown away, {one ? 'it' : 'they'} can’t be had back.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button large look="next" onClick={onClose}>
          {one ? 'Keep it' : 'Keep them'}
        </Button>
        <Button large onClick={() => void discard(entry)}>
          {one ? 'Throw it away' : 'Throw them away'}
        </Button>
      </div>
    </Modal>
  );
}
