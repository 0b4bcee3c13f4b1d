import { isForControl } from '../../../ui/typing.ts';
import { useNewId } from '../../../ui/useNewId.ts';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { WearChange } from '@mile-mark/contract/forecasts';
import type { Question } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { suspicionInWords, thicknessInWords } from '@mile-mark/contract/words';
import { placeInWords } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useAnswerChange, useChanges } from '../../../api/forecasts.ts';
import { useAnswerQuestion, useQuestions } from '../../../api/inspections.ts';
import { useMe } from '../../../api/people.ts';
import { ChangeCard } from '../../../drawings/ChangeCard.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { State } from '../../../ui/State.tsx';
import { formatChance, formatDate, formatMiles } from '../../../ui/format.ts';

/** Questions: readings and odometers that wait for the coordinator's word, worked through with the keyboard. */
export function Questions() {
  const me = useMe();
  const questions = useQuestions();
  const changes = useChanges();
  const [at, setAt] = useState(0);
  const list = questions.data ?? [];
  const index = Math.min(at, Math.max(0, list.length - 1));
  const count = list.length;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) return;
      const step = ['ArrowDown', 'j'].includes(event.key) ? 1 : ['ArrowUp', 'k'].includes(event.key) ? -1 : 0;
      if (step === 0) return;
      event.preventDefault();
      setAt(Math.min(count - 1, Math.max(0, index + step)));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [count, index]);
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
  if (!chosen && found.length === 0) {
    return <State title="No question is open" what="Every reading on record either fits or has been settled." />;
  }
  return (
    <div className="flex h-full flex-col">
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
            <ul>
              {list.map((question, i) => (
                <li key={question.id}>
                  <button
                    onClick={() => setAt(i)}
                    aria-current={i === index ? 'true' : undefined}
                    className={`grid w-full grid-cols-[3.5rem_1fr_auto] gap-2 border-b border-hair border-l-4 px-3 py-1.5 text-left ${i === index ? 'border-l-paint bg-raised' : 'border-l-transparent'}`}
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
          </section>
          <Settle key={chosen.id} question={chosen} me={me} />
        </div>
      )}
    </div>
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

function headline({ place, mm, pace, typed }: Question, me: Me): string {
  if (place && mm !== null)
    return `Axle ${place.axle} ${place.side} ${place.pad}: ${thicknessInWords(mm, me.thicknessUnit)}`;
  return pace ? `Odometer ${typed} runs ahead` : typed;
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

const ANSWERS = [
  { answer: 'it_is_so', key: '1', label: 'Confirm', told: 'The figure is believed from now on.' },
  { answer: 'correct', key: '2', label: 'Correct it', told: 'The old figure stays on record, superseded.' },
  { answer: 'withdraw', key: '3', label: 'Withdraw it', told: 'It no longer counts; it stays to be seen.' },
  {
    answer: 'measure_again',
    key: '4',
    label: 'Have it measured again',
    told: 'It is asked for in Measure; until then it weighs little.',
  },
] as const;

function Settle({ question, me }: { question: Question; me: Me }) {
  const settle = useAnswerQuestion();
  const [value, setValue] = useState(startingValue(question, me));
  const [note, setNote] = useState('');
  const problem = settle.error instanceof ApiProblem ? settle.error : undefined;
  const mayDecide = mayDo(me.role, 'decide');
  const reading = question.about === 'reading';
  const [id] = useNewId();
  const likely = likeliest(question);
  const answer = (chosen: (typeof ANSWERS)[number]['answer']) => {
    if (settle.isPending) return;
    settle.mutate(
      {
        subject: question.id,
        id,
        answer: chosen,
        ...(chosen === 'correct' ? { value, ...(reading ? { unit: me.thicknessUnit } : {}) } : {}),
        ...(note.trim() ? { note } : {}),
      },
      { onSuccess: () => toast(`${question.unit}: ${ANSWERS.find((one) => one.answer === chosen)?.label ?? ''}.`) },
    );
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!mayDecide || isForControl(event)) return;
      const chosen = answersFor(question).find(({ key }) => key === event.key);
      if (!chosen) return;
      if (chosen.answer === 'correct') {
        event.preventDefault();
        document.querySelector<HTMLInputElement>('[data-value]')?.select();
      } else answer(chosen.answer);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  return (
    <article className="overflow-y-auto p-5">
      <h2 className="text-lg">
        <Link
          className="figures text-2xl font-semibold underline decoration-line underline-offset-4"
          to={`/vehicles/${question.unit}`}
        >
          {question.unit}
        </Link>{' '}
        {question.place ? placeInWords(question.place) : 'odometer'}
        <span className="text-soft">, {question.depot}</span>
      </h2>
      <p className="mt-3 max-w-prose text-base">{arithmetic(question, me)}</p>
      <dl className="mt-3 grid max-w-xl grid-cols-[10rem_1fr] gap-y-1">
        <dt className="text-soft">Typed</dt>
        <dd className="figures">{question.typed}</dd>
        <dt className="text-soft">Measured by</dt>
        <dd>
          {question.technician}, {question.gauge}
        </dd>
        <dt className="text-soft">When</dt>
        <dd className="figures">
          {formatDate(question.date)}, {formatMiles(question.odometerMi, me.distanceUnit)}
        </dd>
        {question.suspicion && (
          <>
            <dt className="text-soft">Chance that it is not a regular reading</dt>
            <dd className="figures">{formatChance(question.suspicion.probability)}</dd>
          </>
        )}
        <dt className="text-soft">Said at the field</dt>
        <dd>
          {question.answer === 'measured_twice'
            ? 'Measured twice: it is so.'
            : question.answer === 'leave_to_coordinator'
              ? 'Left to the coordinator.'
              : 'Nothing; it came in by a file, or the doubt came later.'}
        </dd>
      </dl>
      {mayDecide ? (
        <form
          className="mt-5 flex max-w-xl flex-col gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            answer('correct');
          }}
        >
          <div className="grid grid-cols-2 gap-3">
            <Field
              label={reading ? `As it should have been, ${me.thicknessUnit}` : 'Odometer as it should have been'}
              data-value
              value={value}
              onChange={(event) => setValue(event.target.value)}
              error={problem?.of('value') ?? problem?.of('thickness') ?? problem?.of('odometer')}
            />
            <Field
              label="Note, if there is more to say"
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
          </div>
          <ul className="flex flex-col gap-2">
            {answersFor(question).map((one) => (
              <li key={one.answer} className="flex items-baseline gap-3">
                <Button
                  look={one.answer === likely ? 'next' : 'plain'}
                  hotkey={one.key}
                  type={one.answer === 'correct' ? 'submit' : 'button'}
                  disabled={settle.isPending || (one.answer === 'correct' && value.trim() === '')}
                  onClick={one.answer === 'correct' ? undefined : () => answer(one.answer)}
                  className="min-w-52 text-left"
                >
                  {one.label}
                </Button>
                <span className="text-soft">{one.told}</span>
              </li>
            ))}
          </ul>
          {settle.isError && !problem?.problem.errors?.length && (
            <p role="alert" className="text-brick">
              {settle.error.message}
            </p>
          )}
        </form>
      ) : (
        <p className="mt-5 text-soft">The coordinator settles it. Measuring the pad once more helps most.</p>
      )}
    </article>
  );
}

function arithmetic({ suspicion, pace, mm, odometerMi }: Question, me: Me): string {
  if (suspicion && mm !== null)
    return `${thicknessInWords(mm, me.thicknessUnit)}. ${suspicionInWords(suspicion, me.thicknessUnit)}`;
  if (pace)
    return `${formatMiles(odometerMi, me.distanceUnit)} where about ${formatMiles(pace.expectedMi, me.distanceUnit)} was expected at ${formatMiles(pace.usualPerDay, me.distanceUnit)} a day: ${formatMiles(odometerMi - pace.expectedMi, me.distanceUnit)} ahead. Was the odometer read rightly?`;
  return '';
}

/** What a correction would most likely be. */
function startingValue({ suspicion, pace }: Question, me: Me): string {
  if (suspicion?.insteadMm !== undefined && suspicion.kind !== 'sides')
    return thicknessInWords(suspicion.insteadMm, me.thicknessUnit).replace(/ (mm|in)$/, '');
  return pace ? `${Math.round(pace.expectedMi)} mi` : '';
}

/** An odometer is believed or corrected; its readings are withdrawn one by one. */
function answersFor({ about }: Question): readonly (typeof ANSWERS)[number][] {
  return ANSWERS.filter(({ answer }) => about === 'reading' || answer === 'it_is_so' || answer === 'correct');
}

/** The answer that fits best: a named mistake is corrected, a figure that stays a riddle is measured again. */
function likeliest({ suspicion, answer, about }: Question): (typeof ANSWERS)[number]['answer'] {
  if (answer === 'measured_twice') return 'it_is_so';
  if (about === 'odometer') return 'correct';
  return suspicion?.insteadMm !== undefined && suspicion.kind !== 'sides' ? 'correct' : 'measure_again';
}
