import { mayDo } from '@mile-mark/contract';
import { useRef, useState, type FormEvent } from 'react';
import { toast } from 'sonner';
import type { Me } from '@mile-mark/contract/people';
import {
  FIELD_NAMES,
  type ReleaseAnswer,
  type ReleaseAttempt,
  type Revision,
  type Specification,
} from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useOpenSpecifications, useRelease } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { formatDate } from '../../ui/format.ts';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { State } from '../../ui/State.tsx';
import { axleDraftOf, LIMIT_FIELDS, NO_TORQUE, readAxle, readTorque, type TorqueDraft } from './draft.ts';
import { FieldsShown } from './FieldsShown.tsx';
import { TakeBack } from './OneSpecification.tsx';
import { TorqueFields } from './TorqueFields.tsx';

/** What waits for a second person: they type the figures from the document, without seeing what was entered. */
export function ToRelease({ me }: { me: Me }) {
  const open = useOpenSpecifications();
  const [chosen, setChosen] = useState<string>();
  if (open.isPending) return <State title="Loading" what="Fetching what waits." quiet />;
  if (open.isLoadingError) return <State title="It couldn’t load" what={open.error.message} />;
  if (open.data.length === 0)
    return (
      <State title="Nothing waits" what="Everything entered is released. Enter more in the Library, or from a file." />
    );
  const mayRelease = mayDo(me.role, 'specify');
  return (
    <div className="flex max-w-5xl flex-col gap-3">
      <p className="max-w-prose text-soft">
        One person enters, another releases. Have the document before you and type its figures; what was entered is not
        shown. Only where both agree does the specification count.
      </p>
      <ul className="flex flex-col gap-2">
        {open.data.map((specification) => {
          const revision = specification.open;
          if (!revision) return null;
          const name = specification.joint?.name ?? 'Limits, fluid, bed-in';
          const full = specification.position ? `${name}, ${specification.position}` : name;
          return (
            <li key={specification.id} className="border-l-4 border-line bg-sheet p-3">
              <div className="flex flex-wrap items-baseline gap-x-4">
                <h2 className="font-semibold">
                  {specification.model}, axle {specification.axle}: {full}
                </h2>
                <p className="text-soft">
                  revision {revision.number}, entered by {revision.enteredBy} on {formatDate(revision.enteredOn)}
                  {specification.released ? '; replaces what counts now' : '; unknown until released'}
                </p>
              </div>
              <p>
                {revision.source.document}, <strong>p. {revision.source.page}</strong>, rev. {revision.source.revision},{' '}
                {formatDate(revision.source.date)}
                {revision.demo && ' · demo value'}
              </p>
              <FieldsShown values={revision.values} />
              {revision.mine ? (
                <>
                  <p className="mt-1">You entered it: somebody else must type it again and release it.</p>
                  {revision.attempts.map((attempt) => (
                    <p key={attempt.at} className="font-medium text-ochre">
                      {attempt.by} typed{' '}
                      {attempt.differing
                        .map(
                          ({ field, entered, typed }) =>
                            `${FIELD_NAMES[field] ?? field} ${typed} where you entered ${entered ?? ''}`,
                        )
                        .join('; ')}
                      . Look at the document again; take it back if you were wrong.
                    </p>
                  ))}
                </>
              ) : mayRelease && chosen === specification.id ? (
                <Blind
                  key={revision.id}
                  specification={specification}
                  revision={revision}
                  onDone={() => setChosen(undefined)}
                />
              ) : (
                mayRelease && (
                  <Button look="next" className="mt-2 mr-2" onClick={() => setChosen(specification.id)}>
                    Type it from the document
                  </Button>
                )
              )}
              {mayRelease && <TakeBack revision={revision} />}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

type Holds = 'first' | 'statedToo';

/** The blind typing, and the settling of a pair that contradicts itself. */
function Blind({
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
        <div role="alert" className="flex flex-col gap-2 border-l-4 border-paint bg-raised px-3 py-2">
          <p>
            <strong>Both of you typed alike, but the document contradicts itself:</strong> {conflict.first} and{' '}
            {conflict.statedToo} differ by {conflict.percent.toFixed(0)} %. Which one holds?
          </p>
          <SegmentedControl<Holds | ''>
            label="Holds"
            value={holds}
            onChange={(next) => {
              attempt.current = crypto.randomUUID();
              setHolds(next);
            }}
            options={[
              { value: 'first', label: conflict.first },
              { value: 'statedToo', label: conflict.statedToo },
            ]}
          />
          <Field
            label="How is that known?"
            value={why}
            error={problem?.of('settled.why')}
            onChange={(event) => {
              attempt.current = crypto.randomUUID();
              setWhy(event.target.value);
            }}
          />
          <p className="text-soft">If neither is sure, take it back and ask the maker.</p>
        </div>
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
