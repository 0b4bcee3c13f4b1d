import { useNewId } from '../ui/useNewId.ts';
import { mayDo } from '@mile-mark/contract';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { ChangeAnswer, WearChange } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { changeInWords, thicknessInWords, chanceInWords } from '@mile-mark/contract/words';
import { Button } from '../ui/Button.tsx';
import { Field } from '../ui/Field.tsx';
import { formatDate } from '../ui/format.ts';

type Answer = ChangeAnswer['answer'];
/** Answers that want a note. */
type Noted = Extract<Answer, 'cause_found' | 'nothing_found'>;

const DECIDED: Record<Answer, string> = {
  look: 'To be looked at',
  cause_found: 'Cause found',
  nothing_found: 'Nothing found',
  duty_changed: 'The duty was stated anew',
};

interface Props {
  change: WearChange;
  me: Me;
  onAnswer: (body: ChangeAnswer) => void;
  /** What the server said of the last answer, where it refused it. */
  problem?: string | undefined;
}

/** From these chances on it is said that new pads ended it, and that they did not. */
const [ENDED, GOES_ON] = [0.05, 0.95];

function underNewPads(fittedOn: string, outlived: number): string {
  const day = formatDate(fittedOn);
  if (outlived <= ENDED) return `New pads on ${day} ended it.`;
  if (outlived >= GOES_ON) return `It goes on under the pads fitted on ${day}.`;
  return `New pads were fitted on ${day}, and no cause is on record: chance that it goes on ${chanceInWords(outlived)}.`;
}

/** A change of wear with its evidence, likely cause and first checks, and what was and can be decided. */
export function ChangeCard({ change, me, onAnswer, problem }: Props) {
  const [id, renewId] = useNewId();
  const [noting, setNoting] = useState<Noted>();
  // A finding may be answered more than once (looked at, then its cause): each answer has an id of its own.
  const answers = change.answers.length;
  useEffect(renewId, [answers, renewId]);
  const answer = (what: Answer, note = '') => onAnswer({ id, answer: what, ...(note ? { note } : {}) });
  return (
    <article
      aria-label={changeInWords(change).seen}
      className={`border-l-4 bg-sheet px-3 py-2 ${change.open ? 'border-brick' : 'border-line text-soft'}`}
    >
      <Evidence change={change} me={me} />
      {change.answers.map(({ answer: given, by, at, note: said }) => (
        <p key={at} className="text-soft">
          {DECIDED[given]}: {by}, {formatDate(at.slice(0, 10))}
          {said && `. “${said}”`}
        </p>
      ))}
      {problem && (
        <p role="alert" className="font-medium text-brick">
          {problem}
        </p>
      )}
      {change.open && mayDo(me.role, 'decide') && !noting && (
        <Verbs change={change} onAnswer={answer} onNote={setNoting} />
      )}
      {change.open && noting && (
        <NoteForm what={noting} onSave={(note) => answer(noting, note)} onLeave={() => setNoting(undefined)} />
      )}
    </article>
  );
}

function Evidence({ change, me }: { change: WearChange; me: Me }) {
  const { seen, cause, check } = changeInWords(change);
  const mm = (value: number) => thicknessInWords(Math.max(0, value), me.thicknessUnit);
  const state = change.until
    ? underNewPads(change.until, change.outlived ?? 0)
    : change.goneOn
      ? `Later readings no longer show it (${formatDate(change.goneOn)}).`
      : undefined;
  return (
    <>
      <p>
        <strong>{seen}</strong> Since {formatDate(change.since)}; {change.looks} {change.looks === 1 ? 'look' : 'looks'}{' '}
        show it, chance that it is so {chanceInWords(change.probability)}. {state}
      </p>
      {change.wear.length > 0 && (
        <p className="figures">
          {change.wear.map(({ side, pad, mm: worn, usualMm }) => (
            <span key={`${side}${pad}`} className="mr-4">
              {side} {pad}: wore {mm(worn)}, {mm(usualMm)} would be usual
            </span>
          ))}
        </p>
      )}
      {change.open && (
        <p>
          {cause} {check}
        </p>
      )}
    </>
  );
}

interface VerbsProps {
  change: WearChange;
  onAnswer: (what: Answer) => void;
  /** An answer that wants a note is begun. */
  onNote: (what: Noted) => void;
}

/** What can be decided of a change that is open. */
function Verbs({ change, onAnswer, onNote }: VerbsProps) {
  const ofRoute = change.kind === 'route';
  return (
    <div className="mt-1 flex flex-wrap gap-2">
      {!change.answers.some(({ answer }) => answer === 'look') && (
        <Button look={ofRoute ? 'plain' : 'next'} onClick={() => onAnswer('look')}>
          Have it looked at
        </Button>
      )}
      {ofRoute && (
        <Link
          className="rounded-sm border border-[#c99700] bg-paint px-3 py-1 font-semibold text-[#26282a]"
          to={`/duty?for=${change.unit}&since=${change.since}`}
        >
          State its duty …
        </Link>
      )}
      {ofRoute && <Button onClick={() => onAnswer('duty_changed')}>The duty is right now</Button>}
      <Button onClick={() => onNote('cause_found')}>Cause found …</Button>
      <Button onClick={() => onNote('nothing_found')}>Nothing found …</Button>
    </div>
  );
}

function NoteForm({ what, onSave, onLeave }: { what: Noted; onSave: (note: string) => void; onLeave: () => void }) {
  const [note, setNote] = useState('');
  return (
    <form
      className="mt-1 flex max-w-xl items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onSave(note.trim());
      }}
    >
      <div className="flex-1">
        <Field
          label={what === 'cause_found' ? 'What was the cause, and what was done' : 'What was looked at'}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          autoFocus
          maxLength={500}
        />
      </div>
      <Button look="next" type="submit" disabled={note.trim().length < 3}>
        Put it on record
      </Button>
      <Button look="bare" onClick={onLeave}>
        Leave it
      </Button>
    </form>
  );
}
