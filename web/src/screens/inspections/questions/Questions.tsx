import { useEffect, useState } from 'react';
import { useAddressed } from '../../../ui/useAddressed.ts';
import { Link } from 'react-router';
import type { WearChange } from '@mile-mark/contract/forecasts';
import type { Question } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { useAnswerChange, useChanges } from '../../../api/forecasts.ts';
import { useQuestions, useUndoAnswer } from '../../../api/inspections.ts';
import { useMe } from '../../../api/people.ts';
import { ChangeCard } from '../../../drawings/ChangeCard.tsx';
import { Button } from '../../../ui/Button.tsx';
import { State } from '../../../ui/State.tsx';
import { formatDate } from '../../../ui/format.ts';
import { isForControl } from '../../../ui/typing.ts';
import { useDefects } from '../../../api/jobs.ts';
import { DriveNotice, forbidding } from '../../jobs/index.ts';
import { headline, Settle } from './Settle.tsx';
import { Settled } from './Settled.tsx';

/** When a question that was opened again is looked for, ms. */
const COMES_BACK_MS = [1500, 4000, 9000];

/** Questions: readings and odometers that wait for the coordinator's word, worked through with the keyboard. */
export function Questions() {
  const me = useMe();
  const questions = useQuestions();
  const undo = useUndoAnswer();
  const undoOne = async (answerId: string) => {
    await undo.mutateAsync({ answerId, id: crypto.randomUUID() });
    // It is doubted anew once its vehicle is computed anew, a moment later.
    for (const later of COMES_BACK_MS) window.setTimeout(() => void questions.refetch(), later);
  };
  const changes = useChanges();
  const defects = useDefects();
  const [at, setAt] = useAddressed('q', '');
  const list = questions.data ?? [];
  // The one that was settled is gone from the list: the next one stands in its place.
  const [place, setPlace] = useState(0);
  const named = list.findIndex(({ id }) => id === at);
  const index = named >= 0 ? named : Math.min(place, Math.max(0, list.length - 1));
  const go = (to: number) => {
    setPlace(to);
    setAt(list[to]?.id ?? '');
  };
  const count = list.length;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) return;
      const step = ['ArrowDown', 'j'].includes(event.key) ? 1 : ['ArrowUp', 'k'].includes(event.key) ? -1 : 0;
      if (step === 0) return;
      event.preventDefault();
      go(Math.min(count - 1, Math.max(0, index + step)));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  if (questions.isPending) return <State title="Loading" what="Fetching what is open." quiet />;
  if (questions.isLoadingError) {
    return (
      <State title="The questions couldn’t load" what={questions.error.message}>
        <Button onClick={() => void questions.refetch()}>Try again</Button>
      </State>
    );
  }
  const chosen = list[index];
  const found = (changes.data ?? []).filter(({ open }) => open);
  const standing = [...new Set(forbidding(defects.data ?? []).map(({ unit }) => unit))];
  if (!chosen && found.length === 0 && standing.length === 0) {
    return (
      <div className="h-full overflow-y-auto">
        <State title="No question is open" what="Every reading on record either fits or has been settled." />
        <Settled me={me} />
      </div>
    );
  }
  return (
    <div className="flex h-full flex-col">
      {standing.map((unit) => (
        <DriveNotice key={unit} unit={unit} />
      ))}
      {found.length > 0 && <Changes changes={found} me={me} />}
      {chosen && (
        <div className="grid min-h-0 flex-1 grid-cols-1 lg:grid-cols-[26rem_1fr]">
          <section aria-label="Open questions" className="overflow-y-auto border-r border-line">
            <h1 className="px-4 py-2 text-lg font-semibold">
              {list.length} {list.length === 1 ? 'question' : 'questions'} open
              <span className="ml-2 text-[13px] font-normal text-soft">
                <kbd>j</kbd> <kbd>k</kbd> next, before
              </span>
            </h1>
            <OpenList {...{ list, index, me }} onChoose={go} />
            <Settled me={me} />
          </section>
          <Settle key={chosen.id} question={chosen} me={me} onUndo={undoOne} />
        </div>
      )}
    </div>
  );
}

interface ListProps {
  list: readonly Question[];
  index: number;
  me: Me;
  onChoose: (index: number) => void;
}

/** Open questions, one a line: whose reading, what is odd about it. */
function OpenList({ list, index, me, onChoose }: ListProps) {
  return (
    <ul>
      {list.map((question, i) => (
        <li key={question.id}>
          <button
            onClick={() => onChoose(i)}
            aria-current={i === index ? 'true' : undefined}
            className={`grid w-full grid-cols-[3.5rem_1fr_auto] gap-2 border-b border-hair border-l-4 px-3 py-1.5 text-left ${i === index ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
          >
            <span className="figures text-base font-semibold">{question.unit}</span>
            <span>
              {headline(question, me)}
              <br />
              <span className="text-soft">
                {question.technician}
                {question.suspicion && ` · ${KIND[question.suspicion.kind]}`}
                {question.past && ' · pads replaced since'}
                {question.answer === 'measured_twice' && ' · measured twice'}
                {question.answer === 'leave_to_coordinator' && ' · left to you'}
              </span>
            </span>
            <span className="figures text-soft">{formatDate(question.date)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Changes of wear that wait for a decision, above the readings in doubt: they may not run another week. */
function Changes({ changes, me }: { changes: WearChange[]; me: Me }) {
  const answer = useAnswerChange();
  return (
    <section
      aria-label="Changes of wear"
      className="max-h-[45%] shrink-0 overflow-y-auto border-b border-line px-4 py-2"
    >
      <h1 className="mb-1 text-lg font-semibold">
        {changes.length} {changes.length === 1 ? 'change' : 'changes'} of wear to decide on
      </h1>
      <ul className="flex flex-col gap-2">
        {changes.map((change) => (
          <li key={change.id} className="grid grid-cols-[4rem_1fr] gap-2">
            <Link className="figures pt-2 text-base font-semibold underline" to={`/vehicles/${change.unit}`}>
              {change.unit}
            </Link>
            <ChangeCard
              change={change}
              me={me}
              problem={answer.isError && answer.variables.changeId === change.id ? answer.error.message : undefined}
              onAnswer={(body) => answer.mutate({ changeId: change.id, ...body })}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

const KIND: Record<NonNullable<Question['suspicion']>['kind'], string> = {
  plate: 'plate included?',
  sides: 'sides swapped?',
  inches: 'inches?',
  digits: 'digits swapped?',
  thicker_than_new: 'thicker than new',
  thicker_than_expected: 'thicker than before',
  thinner_than_expected: 'thinner than expected',
};
