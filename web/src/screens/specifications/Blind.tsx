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
  const release = useRelease();
  // Kept until the server has answered: a request lost on the way is sent again as the same one.
  const attempt = useRef(crypto.randomUUID());
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
    attempt.current = crypto.randomUUID();
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
    release.mutate(
      {
        revisionId: revision.id,
        id: attempt.current,
        typed,
        ...(conflict && holds !== '' ? { settled: { holds, why } } : {}),
      },
      {
        onSuccess: (next) => {
          attempt.current = crypto.randomUUID();
          setAnswer(next);
          if (next.released) {
            toast('Released: it counts from now on.');
            onDone();
          }
        },
        onError: (error) => {
          if (error instanceof ApiProblem) attempt.current = crypto.randomUUID();
        },
      },
    );
  };
  return (
    <form
      className="mt-2 flex flex-col gap-3 border-t border-line pt-2"
      aria-label="Typed from the document"
      onSubmit={submit}
    >
      {joint ? (
        <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
          <TorqueFields
            draft={torque}
            wrong={{ ...differing, ...(tried ? wrong : {}) }}
            onChange={(next) => change(() => setTorque({ ...torque, ...next }))}
          />
        </div>
      ) : (
        <div className="grid grid-cols-2 gap-3 md:grid-cols-3">
          {LIMIT_FIELDS.map((name) => (
            <Field
              key={name}
              label={`${FIELD_NAMES[name] ?? name}, mm`}
              autoComplete="off"
              value={limits[name]}
              error={(tried ? wrong[name] : undefined) ?? differing[name]}
              onChange={(event) => change(() => setLimits({ ...limits, [name]: event.target.value }))}
            />
          ))}
        </div>
      )}
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
            attempt.current = crypto.randomUUID();
            if (next.holds) setHolds(next.holds);
            if (next.why !== undefined) setWhy(next.why);
          }}
        />
      )}
      {answer && answer.differing.length > 0 && (
        <p role="alert" className="font-medium text-brick">
          It is not released: {answer.differing.map((field) => FIELD_NAMES[field] ?? field).join(', ')}{' '}
          {answer.differing.length === 1 ? 'differs' : 'differ'}. If the document says what you typed, take the revision
          back with that as the reason.
        </p>
      )}
      {release.isError && (
        <p role="alert" className="font-medium text-brick">
          {problem ? problem.message : `${release.error.message} What you typed is still here; send it again.`}
        </p>
      )}
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
