import { useOutbox } from '../../../stores/outbox.ts';
import { usePending } from '../../../stores/card.ts';
import { stepPlaceInWords } from '@mile-mark/contract/words';
import { Button } from '../../../ui/Button.tsx';

/** What was written here and the server would not take, with the reason; nothing is lost without a word. */
export function CameBack({ jobId }: { jobId: string }) {
  const back = usePending(jobId).filter(({ refused }) => refused);
  const { discard } = useOutbox();
  if (back.length === 0) return null;
  return (
    <ul className="border-b border-line">
      {back.map((entry) => (
        <li
          key={entry.id}
          role="alert"
          className="flex flex-wrap items-center gap-3 border-l-8 border-brick bg-raised px-3 py-2"
        >
          <span>
            <strong>
              {'step' in entry.body && entry.body.step ? stepPlaceInWords(entry.body.step) : entry.body.kind}
            </strong>{' '}
            came back: {entry.refused?.message}
          </span>
          <Button large className="ml-auto" onClick={() => void discard({ ...entry, seq: entry.seq ?? 0 })}>
            I do it again
          </Button>
        </li>
      ))}
    </ul>
  );
}
