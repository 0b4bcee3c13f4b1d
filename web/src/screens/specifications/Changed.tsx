import { useState } from 'react';
import { Link } from 'react-router';
import type { ChangedSince, Me } from '@mile-mark/contract';
import { useAnswerChanged, useChangedSince } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { formatDate } from '../../ui/format.ts';
import { State } from '../../ui/State.tsx';

const ANSWERS = [
  { answer: 'checked', label: 'Checked: it holds' },
  { answer: 'redone', label: 'Done again' },
  { answer: 'not_needed', label: 'Not needed' },
] as const;

/** Jobs done on a specification whose figures have changed since. */
export function Changed({ me }: { me: Me }) {
  const changed = useChangedSince();
  if (changed.isPending) return <State title="Loading" what="Fetching jobs done on what has changed." quiet />;
  if (changed.isError) return <State title="They did not come" what={changed.error.message} />;
  if (changed.data.length === 0)
    return (
      <State
        title="No job waits"
        what="When a released figure changes or is taken back, every job done on the old one stands here until somebody settles it."
      />
    );
  return (
    <div className="flex flex-col gap-3">
      <p className="max-w-prose text-soft">
        These axles were done while another figure counted. Those not done again since come first.
      </p>
      <table className="w-full bg-sheet">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th className="px-2 py-1 font-medium">Vehicle</th>
            <th className="px-2 font-medium">Joint</th>
            <th className="px-2 font-medium">Done</th>
            <th className="px-2 font-medium">Changed</th>
            <th className="px-2 font-medium">From, to</th>
            <th className="px-2 font-medium">Settle</th>
          </tr>
        </thead>
        <tbody>
          {changed.data.map((one) => (
            <ChangedRow
              key={`${one.revisionId} ${one.serviceId}`}
              one={one}
              may={me.role === 'coordinator' || me.role === 'technician'}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function ChangedRow({ one, may }: { one: ChangedSince; may: boolean }) {
  const settle = useAnswerChanged();
  const [note, setNote] = useState('');
  return (
    <tr className="border-b border-hair align-top">
      <td className="px-2 py-1.5">
        <Link className="figures font-semibold underline" to={`/vehicles/${one.unit}`}>
          {one.unit}
        </Link>
        , axle {one.axle}
      </td>
      <td className="px-2 py-1.5">{one.joint}</td>
      <td className="figures px-2 py-1.5">
        {formatDate(one.fittedOn)}
        {one.doneAgainOn && <span className="block text-soft">axle done again {formatDate(one.doneAgainOn)}</span>}
      </td>
      <td className="figures px-2 py-1.5">{formatDate(one.changedOn)}</td>
      <td className="px-2 py-1.5">
        {one.changes.map(({ field, from, to }) => (
          <span key={field} className="block">
            {field} <span className="figures">{from}</span> → <strong className="figures">{to}</strong>
          </span>
        ))}
      </td>
      <td className="px-2 py-1.5">
        {may && (
          <div className="flex flex-wrap items-end gap-2">
            <div className="w-44">
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
                  settle.mutate({ revisionId: one.revisionId, serviceId: one.serviceId, answer, note: note || null })
                }
              >
                {label}
              </Button>
            ))}
          </div>
        )}
        {settle.isError && (
          <p role="alert" className="text-brick">
            {settle.error.message}
          </p>
        )}
      </td>
    </tr>
  );
}
