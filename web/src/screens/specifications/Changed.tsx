import { mayDo } from '@mile-mark/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Me } from '@mile-mark/contract/people';
import type { ChangedAnswer, ChangedSince } from '@mile-mark/contract/specifications';
import { useAnswerChanged, useChangedSince } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { formatDate } from '../../ui/format.ts';
import { State } from '../../ui/State.tsx';

type Answer = ChangedAnswer['answer'];
const ANSWERS: { answer: Answer; label: string }[] = [
  { answer: 'checked', label: 'Checked: it holds' },
  { answer: 'redone', label: 'Done again' },
  { answer: 'not_needed', label: 'Not needed' },
];

/** Jobs done on a specification whose figures have changed since, change by change. */
export function Changed({ me }: { me: Me }) {
  const changed = useChangedSince();
  if (changed.isPending) return <State title="Loading" what="Fetching jobs done on what has changed." quiet />;
  if (changed.isLoadingError) return <State title="They couldn’t load" what={changed.error.message} />;
  if (changed.data.length === 0)
    return (
      <State
        title="No job waits"
        what="When a released figure changes or is taken back, every job done on the old one stands here until somebody settles it."
      />
    );
  const groups = new Map<string, ChangedSince[]>();
  for (const one of changed.data) groups.set(one.revisionId, [...(groups.get(one.revisionId) ?? []), one]);
  const may = mayDo(me.role, 'specify');
  return (
    <div className="flex max-w-6xl flex-col gap-5">
      <p className="max-w-prose text-soft">
        These axles were done while another figure counted. Those not done again since come first.
      </p>
      {[...groups].map(([revisionId, jobs]) => (
        <OneChange key={revisionId} jobs={jobs} may={may} />
      ))}
    </div>
  );
}

function OneChange({ jobs, may }: { jobs: ChangedSince[]; may: boolean }) {
  const settle = useAnswerChanged();
  const [reason, setReason] = useState('');
  const [first] = jobs;
  if (!first) return null;
  const name = `${first.model}, axle ${first.axle}: ${first.joint}`;
  const settleAll = async (answer: Answer) => {
    for (const { revisionId, serviceId } of jobs)
      await settle.mutateAsync({ revisionId, serviceId, answer, note: reason.trim() });
  };
  return (
    <section aria-label={name} className="border-l-4 border-ink bg-sheet p-3">
      <h2 className="font-semibold">{name}</h2>
      <p>
        Changed on {formatDate(first.changedOn)}:{' '}
        {first.changes.map(({ field, from, to }, index) => (
          <span key={field}>
            {index > 0 && '; '}
            {field} <span className="figures">{from}</span> → <strong className="figures">{to}</strong>
          </span>
        ))}
      </p>
      <ul className="mt-2">
        {jobs.map((one) => (
          <Job key={one.serviceId} one={one} may={may} />
        ))}
      </ul>
      {may && jobs.length > 1 && (
        <div role="group" aria-label="All of them together" className="mt-2 flex flex-wrap items-end gap-2">
          <div className="w-80">
            <Field
              label="Reason for all of them"
              value={reason}
              onChange={(event) => setReason(event.target.value)}
              error={settle.error?.message}
            />
          </div>
          {ANSWERS.map(({ answer, label }) => (
            <Button
              key={answer}
              disabled={reason.trim().length < 3 || settle.isPending}
              onClick={() => void settleAll(answer).catch(() => undefined)}
            >
              {label}
            </Button>
          ))}
          <span className="text-soft">
            {jobs.length} jobs{settle.isPending && ', being settled …'}
          </span>
        </div>
      )}
    </section>
  );
}

function Job({ one, may }: { one: ChangedSince; may: boolean }) {
  const settle = useAnswerChanged();
  const [note, setNote] = useState('');
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-1">
      <Link className="figures w-12 font-semibold underline" to={`/vehicles/${one.unit}`}>
        {one.unit}
      </Link>
      <span className="w-72">
        done <span className="figures">{formatDate(one.fittedOn)}</span>
        {one.doneAgainOn && (
          <span className="text-soft">
            , axle done again <span className="figures">{formatDate(one.doneAgainOn)}</span>
          </span>
        )}
      </span>
      {may && (
        <>
          <div className="w-48">
            <Field
              label={`Note on ${one.unit}`}
              hideLabel
              placeholder="Note"
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
          </div>
          {ANSWERS.map(({ answer, label }) => (
            <Button
              key={answer}
              disabled={settle.isPending}
              onClick={() =>
                settle.mutate({
                  revisionId: one.revisionId,
                  serviceId: one.serviceId,
                  answer,
                  note: note.trim() === '' ? null : note.trim(),
                })
              }
            >
              {label}
            </Button>
          ))}
        </>
      )}
      {settle.isError && (
        <p role="alert" className="text-brick">
          {settle.error.message}
        </p>
      )}
    </li>
  );
}
