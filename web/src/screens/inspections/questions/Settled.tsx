import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { placeInWords } from '@mile-mark/core';
import { useSettledQuestions, useUndoAnswer } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { answerInWords } from './Settle.tsx';

/** What was settled in the last fortnight; each answer can be taken back. */
export function Settled({ me }: { me: Me }) {
  return mayDo(me.role, 'decide') ? <List /> : null;
}

function List() {
  const settled = useSettledQuestions();
  const undo = useUndoAnswer();
  if (!settled.data || settled.data.length === 0) return null;
  return (
    <section aria-label="Settled lately" className="px-4 py-3">
      <h2 className="mb-1 font-semibold">Settled lately</h2>
      {undo.isError && (
        <p role="alert" className="text-brick">
          {undo.error.message}
        </p>
      )}
      <ul>
        {settled.data.map(({ answerId, unit, place, typed, answer, by, at, undoable, note }) => (
          <li key={answerId} className="flex items-baseline gap-2 border-b border-hair py-1">
            <span className="figures min-w-12 font-semibold">{unit}</span>
            <span className="grow">
              {place ? placeInWords(place) : 'odometer'}, {typed}: {answerInWords(answer)}
              <span className="block text-soft">
                {by}, {formatDate(at.slice(0, 10))}
                {note && `: ${note}`}
              </span>
            </span>
            {undoable && (
              <Button
                look="bare"
                disabled={undo.isPending}
                onClick={() => undo.mutate({ answerId, id: crypto.randomUUID() })}
              >
                Take back
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
