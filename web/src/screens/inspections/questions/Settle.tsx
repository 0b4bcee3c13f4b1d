import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Question, SettledQuestion } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { suspicionInWords, thicknessInWords, chanceInWords, milesInWords } from '@mile-mark/contract/words';
import { placeInWords } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useAnswerQuestion } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { formatDate } from '../../../ui/format.ts';
import { TOAST_TO_ACT_MS } from '../../../ui/toasts.ts';
import { isForControl } from '../../../ui/typing.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** An answer as it was given: `confirmed`. */
export function answerInWords(answer: SettledQuestion['answer']): string {
  return { it_is_so: 'confirmed', correct: 'corrected', withdraw: 'withdrawn', measure_again: 'to be measured again' }[
    answer
  ];
}

export function headline({ place, mm, pace, typed }: Question, me: Me): string {
  if (place && mm !== null)
    return `Axle ${place.axle} ${place.side} ${place.pad}: ${thicknessInWords(mm, me.thicknessUnit)}`;
  return pace ? `Odometer ${typed} runs ahead` : typed;
}

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
type Answer = (typeof ANSWERS)[number]['answer'];

interface Props {
  question: Question;
  me: Me;
  /** Takes an answer back, by its id. */
  onUndo: (answerId: string) => Promise<unknown>;
}

export function Settle({ question, me, onUndo }: Props) {
  const settle = useAnswerQuestion();
  const [value, setValue] = useState(startingValue(question, me));
  const [note, setNote] = useState('');
  const problem = settle.error instanceof ApiProblem ? settle.error : undefined;
  const mayDecide = mayDo(me.role, 'decide');
  const reading = question.about === 'reading';
  const [id] = useNewId();
  const answer = (chosen: Answer) => {
    if (settle.isPending) return;
    settle.mutate(
      {
        subject: question.id,
        id,
        answer: chosen,
        ...(chosen === 'correct' ? { value, ...(reading ? { unit: me.thicknessUnit } : {}) } : {}),
        ...(note.trim() ? { note } : {}),
      },
      {
        onSuccess: () => {
          const done = `${question.unit}, ${headline(question, me)}: ${answerInWords(chosen)}.`;
          if (!reading && chosen === 'correct') toast(done, { duration: TOAST_TO_ACT_MS });
          else doneWithUndo(done, () => onUndo(id), { undone: 'Taken back; the question is open again.' });
        },
      },
    );
  };
  useAnswerKeys(mayDecide ? answersFor(question) : [], answer);
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
      <Facts question={question} me={me} />
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
          <Answers question={question} pending={settle.isPending} correctable={value.trim() !== ''} onAnswer={answer} />
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

/** Keys 1 to 4 answer; the one that corrects goes to the field first. */
function useAnswerKeys(answers: readonly (typeof ANSWERS)[number][], onAnswer: (answer: Answer) => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event)) return;
      const chosen = answers.find(({ key }) => key === event.key);
      if (!chosen) return;
      if (chosen.answer === 'correct') {
        event.preventDefault();
        document.querySelector<HTMLInputElement>('[data-value]')?.select();
      } else onAnswer(chosen.answer);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

/** What was typed, by whom and when, and how odd it is. */
function Facts({ question, me }: { question: Question; me: Me }) {
  return (
    <dl className="mt-3 grid max-w-xl grid-cols-[10rem_1fr] gap-y-1">
      <dt className="text-soft">Typed</dt>
      <dd className="figures">{question.typed}</dd>
      <dt className="text-soft">Measured by</dt>
      <dd>
        {question.technician}, {question.gauge}
      </dd>
      <dt className="text-soft">When</dt>
      <dd className="figures">
        {formatDate(question.date)}, {milesInWords(question.odometerMi, me.distanceUnit)}
      </dd>
      {question.suspicion && (
        <>
          <dt className="text-soft">Chance that it is not a regular reading</dt>
          <dd className="figures">{chanceInWords(question.suspicion.probability)}</dd>
        </>
      )}
      <dt className="text-soft">Said at the field</dt>
      <dd>
        {question.answer === 'measured_twice'
          ? 'Measured twice, same result.'
          : question.answer === 'leave_to_coordinator'
            ? 'Left to the coordinator.'
            : 'Nothing; it came in by a file, or the doubt came later.'}
      </dd>
    </dl>
  );
}

interface AnswersProps {
  question: Question;
  pending: boolean;
  correctable: boolean;
  onAnswer: (answer: Answer) => void;
}

/** The answers, each with what follows from it; the likeliest stands out. */
function Answers({ question, pending, correctable, onAnswer }: AnswersProps) {
  const likely = likeliest(question);
  return (
    <ul className="flex flex-col gap-2">
      {answersFor(question).map((one) => (
        <li key={one.answer} className="flex items-baseline gap-3">
          <Button
            look={one.answer === likely ? 'next' : 'plain'}
            hotkey={one.key}
            type={one.answer === 'correct' ? 'submit' : 'button'}
            disabled={pending || (one.answer === 'correct' && !correctable)}
            onClick={one.answer === 'correct' ? undefined : () => onAnswer(one.answer)}
            className="min-w-52 text-left"
          >
            {one.label}
          </Button>
          <span className="text-soft">{one.told}</span>
        </li>
      ))}
    </ul>
  );
}

function arithmetic({ suspicion, pace, mm, odometerMi }: Question, me: Me): string {
  if (suspicion && mm !== null)
    return `${thicknessInWords(mm, me.thicknessUnit)}. ${suspicionInWords(suspicion, me.thicknessUnit)}`;
  if (pace)
    return `${milesInWords(odometerMi, me.distanceUnit)} where about ${milesInWords(pace.expectedMi, me.distanceUnit)} was expected at ${milesInWords(pace.usualPerDay, me.distanceUnit)} a day: ${milesInWords(odometerMi - pace.expectedMi, me.distanceUnit)} ahead. Was the odometer read rightly?`;
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
