import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Me } from '@mile-mark/contract/people';
import { useOutbox } from '../../../stores/outbox.ts';
import { Button } from '../../../ui/Button.tsx';

/** What waits on this device to be sent, and what came back. */
export function Waiting({ me, kept, at }: { me: Me; kept: boolean; at: string }) {
  const { entries, sending, mend, insist, discard } = useOutbox();
  const navigate = useNavigate();
  const open = async (entry: (typeof entries)[number]) => {
    const draft = await mend(entry);
    if (!draft)
      toast(`Another inspection of ${entry.unit} is begun on this device: keep it first, then mend this one.`);
    void navigate(`/measure/${entry.unit}`);
  };
  const back = entries.filter(({ refused, kind }) => refused && kind === 'inspection');
  const photosBack = entries.filter(({ refused, kind }) => refused && kind === 'photo');
  const cardsBack = entries.flatMap((one) =>
    one.refused && (one.kind === 'job entry' || one.kind === 'job photo') ? [one] : [],
  );
  const waiting = entries.filter(({ refused }) => !refused);
  const others = waiting.filter(({ personId }) => personId !== me.id).length;
  return (
    <section aria-label="On this device" className="flex flex-col gap-2">
      {waiting.length > 0 && (
        <p role="status" className="border-l-4 border-slate bg-sheet py-2 pl-3">
          {waiting.length} {waiting.length === 1 ? 'entry waits' : 'entries wait'} on this device to be sent
          {sending ? ', sending now' : ''}: {[...new Set(waiting.map(({ unit }) => unit))].join(', ')}.
          {others > 0 && ` ${others} of them by somebody else, sent when they sign in here.`}
        </p>
      )}
      {back.map((entry) => (
        <article key={entry.id} className="border-l-4 border-brick bg-sheet py-2 pl-3">
          <p className="font-medium">
            {entry.unit} {entry.refused?.kind === 'conflict' ? 'changed meanwhile' : 'came back'}:{' '}
            {entry.refused?.message}
          </p>
          <div className="mt-2 flex flex-wrap gap-2">
            {entry.refused?.kind === 'conflict' && (
              <Button large onClick={() => void insist(entry)}>
                The readings hold: send them
              </Button>
            )}
            <Button large onClick={() => void open(entry)}>
              Open and mend
            </Button>
            <Button
              large
              onClick={() => window.confirm(`Throw away the inspection of ${entry.unit}?`) && void discard(entry)}
            >
              Throw away
            </Button>
          </div>
        </article>
      ))}
      {photosBack.map((entry) => (
        <p key={entry.id} className="border-l-4 border-brick bg-sheet py-2 pl-3">
          A photo of {entry.unit} came back: {entry.refused?.message}{' '}
          <Button large onClick={() => void discard(entry)}>
            Throw the photo away
          </Button>
        </p>
      ))}
      {cardsBack.map((entry) => (
        <p key={entry.id} className="border-l-4 border-brick bg-sheet py-2 pl-3">
          Something written on the card of {entry.unit} came back: {entry.refused?.message}{' '}
          <Link className="underline" to={`/jobs/${entry.jobId}/card`}>
            Open its card
          </Link>
        </p>
      ))}
      {kept && (
        <p role="status" className="text-soft">
          No network: what is expected of the pads is as of{' '}
          {new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}.
        </p>
      )}
      {waiting.length === 0 && back.length === 0 && cardsBack.length === 0 && !kept && (
        <p className="text-soft">Nothing waits on this device; all is sent.</p>
      )}
    </section>
  );
}
