import { type FormEvent, useRef, useState } from 'react';
import { toast } from 'sonner';
import {
  FIELD_NAMES,
  type ReleaseAnswer,
  type ReleaseAttempt,
  type Revision,
  type Specification,
} from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useRelease } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { TorqueFields } from './TorqueFields.tsx';
import { axleDraftOf, LIMIT_FIELDS, NO_TORQUE, readAxle, readTorque, type TorqueDraft } from './draft.ts';

type Holds = 'first' | 'statedToo';

/** The blind typing, and the settling of a pair that contradicts itself. */
export function Blind({
  specification,
  revision,
  onDone,
}: {
  specification: Specification;
  revision: Revision;
  onDone: () => void;
}) {
  const { release, send, renew } = useAttempt();
  const joint = specification.joint !== null;
  const [torque, setTorque] = useState<TorqueDraft>(NO_TORQUE);
  const [limits, setLimits] = useState(() => axleDraftOf(undefined));
  // Chosen by whoever releases, never proposed.
  const [holds, setHolds] = useState<Holds | ''>('');
  const [why, setWhy] = useState('');
  const [answer, setAnswer] = useState<ReleaseAnswer>();
  const [tried, setTried] = useState(false);
  const readT = readTorque(torque);
  const readL = readAxle(limits);
  const wrong = joint ? readT.wrong : readL.wrong;
  const conflict = answer?.conflict;
  const differing = Object.fromEntries(
    (answer?.differing ?? []).map((field) => [
      field,
      `Not what ${revision.enteredBy} entered. Look at p. ${revision.source.page} again; the other figure is not shown.`,
    ]),
  );
  const problem = release.error instanceof ApiProblem ? release.error : undefined;
  const change = (next: () => void) => {
    next();
    setAnswer(undefined);
    renew();
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (Object.keys(wrong).length > 0) return;
    const typed: ReleaseAttempt['typed'] | undefined = joint
      ? { about: 'joint', torque: readT.torque }
      : readL.values?.about === 'axle'
        ? readL.values
        : undefined;
    if (!typed) return;
    send(
      { revisionId: revision.id, typed, ...(conflict && holds !== '' ? { settled: { holds, why } } : {}) },
      (next) => {
        setAnswer(next);
        if (next.released) onDone();
      },
    );
  };
  return (
    <form
      className="mt-2 flex flex-col gap-3 border-t border-line pt-2"
      aria-label="Typed from the document"
      onSubmit={submit}
    >
      <TypedAgain
        {...{ joint, torque, limits }}
        torqueWrong={{ ...differing, ...(tried ? wrong : {}) }}
        limitWrong={(name) => (tried ? wrong[name] : undefined) ?? differing[name]}
        onTorque={(next) => change(() => setTorque({ ...torque, ...next }))}
        onLimits={(next) => change(() => setLimits({ ...limits, ...next }))}
      />
      {joint && readT.torque === null && !conflict && (
        <p className="text-soft">Nothing typed yet. Where the document states no torque, compare it as it is.</p>
      )}
      {conflict && (
        <Settled
          conflict={conflict}
          holds={holds}
          why={why}
          wrong={problem?.of('settled.why')}
          onChange={(next) => {
            renew();
            if (next.holds) setHolds(next.holds);
            if (next.why !== undefined) setWhy(next.why);
          }}
        />
      )}
      <Outcome answer={answer} error={release.error} />
      <div className="flex gap-2">
        <Button
          look="next"
          type="submit"
          disabled={release.isPending || (conflict != null && (holds === '' || why.trim().length < 3))}
        >
          {conflict ? 'Settle and release' : 'Compare and release'}
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </div>
    </form>
  );
}

interface SettledProps {
  conflict: NonNullable<ReleaseAnswer['conflict']>;
  holds: Holds | '';
  why: string;
  wrong: string | undefined;
  onChange: (next: { holds?: Holds; why?: string }) => void;
}

/** Which of two figures that contradict each other holds, and how that is known. */
function Settled({ conflict, holds, why, wrong, onChange }: SettledProps) {
  return (
    <div role="alert" className="flex flex-col gap-2 border-l-4 border-paint bg-raised px-3 py-2">
      <p>
        <strong>Both of you typed alike, but the document contradicts itself:</strong> {conflict.first} and{' '}
        {conflict.statedToo} differ by {conflict.percent.toFixed(0)} %. Which one holds?
      </p>
      <SegmentedControl<Holds | ''>
        label="Holds"
        value={holds}
        onChange={(next) => next !== '' && onChange({ holds: next })}
        options={[
          { value: 'first', label: conflict.first },
          { value: 'statedToo', label: conflict.statedToo },
        ]}
      />
      <Field
        label="How is that known?"
        value={why}
        error={wrong}
        onChange={(event) => onChange({ why: event.target.value })}
      />
      <p className="text-soft">If neither is sure, take it back and ask the maker.</p>
    </div>
  );
}

type Attempt = Omit<Parameters<ReturnType<typeof useRelease>['mutate']>[0], 'id'>;

/** An attempt keeps its id until the server has answered: a request lost on the way is sent again as the same one. */
function useAttempt() {
  const release = useRelease();
  const id = useRef(crypto.randomUUID());
  const renew = () => {
    id.current = crypto.randomUUID();
  };
  const send = (attempt: Attempt, onAnswer: (answer: ReleaseAnswer) => void) =>
    release.mutate(
      { id: id.current, ...attempt },
      {
        onSuccess: (answer) => {
          renew();
          if (answer.released) toast('Released: it counts from now on.');
          onAnswer(answer);
        },
        onError: (error) => {
          if (error instanceof ApiProblem) renew();
        },
      },
    );
  return { release, send, renew };
}

type Limits = ReturnType<typeof axleDraftOf>;

interface AgainProps {
  joint: boolean;
  torque: TorqueDraft;
  limits: Limits;
  torqueWrong: Record<string, string>;
  limitWrong: (name: keyof Limits) => string | undefined;
  onTorque: (next: Partial<TorqueDraft>) => void;
  onLimits: (next: Partial<Limits>) => void;
}

/** Empty fields for what the document says, whoever entered it. */
function TypedAgain({ joint, torque, limits, torqueWrong, limitWrong, onTorque, onLimits }: AgainProps) {
  if (joint)
    return (
      <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
        <TorqueFields draft={torque} wrong={torqueWrong} onChange={onTorque} />
      </div>
    );
  return (
    <div className="grid grid-cols-2 gap-3 md:grid-cols-3">
      {LIMIT_FIELDS.map((name) => (
        <Field
          key={name}
          label={`${FIELD_NAMES[name] ?? name}, mm`}
          autoComplete="off"
          value={limits[name]}
          error={limitWrong(name)}
          onChange={(event) => onLimits({ [name]: event.target.value })}
        />
      ))}
    </div>
  );
}

/** What differs, or why nothing was compared. */
function Outcome({ answer, error }: { answer: ReleaseAnswer | undefined; error: Error | null }) {
  const problem = error instanceof ApiProblem ? error : undefined;
  return (
    <>
      {answer && answer.differing.length > 0 && (
        <p role="alert" className="font-medium text-brick">
          It is not released: {answer.differing.map((field) => FIELD_NAMES[field] ?? field).join(', ')}{' '}
          {answer.differing.length === 1 ? 'differs' : 'differ'}. If the document says what you typed, take the revision
          back with that as the reason.
        </p>
      )}
      {error && (
        <p role="alert" className="font-medium text-brick">
          {problem ? problem.message : `${error.message} What you typed is still here; send it again.`}
        </p>
      )}
    </>
  );
}
