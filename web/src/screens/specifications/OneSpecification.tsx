import { mayDo } from '@mile-mark/contract';
import { useState } from 'react';
import type { Me } from '@mile-mark/contract/people';
import { FIELD_NAMES, type Revision, type Specification } from '@mile-mark/contract/specifications';
import { useRevisions, useWithdraw } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { formatDate } from '../../ui/format.ts';
import { FieldsShown } from './FieldsShown.tsx';

/** One specification: what counts, and every revision with who entered and who released it. */
export function OneSpecification({
  specification,
  me,
  onRevise,
}: {
  specification: Specification;
  me: Me;
  onRevise: (() => void) | undefined;
}) {
  const revisions = useRevisions(specification.id);
  const { joint, position, released, open } = specification;
  const name = joint ? (position ? `${joint.name}, ${position}` : joint.name) : 'Limits, fluid, bed-in';
  return (
    <section aria-label={`${name}: revisions`} className="border-l-4 border-ink bg-sheet p-3">
      <div className="mb-2 flex items-baseline gap-4">
        <h3 className="font-semibold">{name}</h3>
        {onRevise && !open && released && <Button onClick={onRevise}>Enter a new revision …</Button>}
        {open && <p className="text-soft">A revision waits; two can’t wait at once.</p>}
      </div>
      {revisions.isError && <p role="alert">{revisions.error.message}</p>}
      <ol className="flex flex-col gap-3">
        {revisions.data?.map((revision) => (
          <OneRevision key={revision.id} revision={revision} me={me} />
        ))}
      </ol>
    </section>
  );
}

const STATES: Record<Revision['state'], string> = {
  open: 'waits to be released',
  released: 'released, counts now',
  replaced: 'replaced by a later one',
  withdrawn: 'taken back',
};

function OneRevision({ revision, me }: { revision: Revision; me: Me }) {
  const { number, state, values, source, enteredBy, enteredOn, releasedBy, releasedOn, settled, withdrawn } = revision;
  const mayTakeBack =
    (state === 'open' && mayDo(me.role, 'specify')) || (state === 'released' && mayDo(me.role, 'withdrawReleased'));
  return (
    <li className="border-t border-hair pt-2">
      <p>
        <strong>Revision {number}</strong>: {STATES[state]}. Entered by {enteredBy} on {formatDate(enteredOn)}
        {revision.importedFrom && ` from the file ${revision.importedFrom}`}
        {releasedBy && releasedOn && `, typed again and released by ${releasedBy} on ${formatDate(releasedOn)}`}.
        {revision.demo && ' Demo value.'}
      </p>
      <p className="text-soft">
        {source.document}, p. {source.page}, rev. {source.revision}, {formatDate(source.date)}
      </p>
      {revision.blind && (
        <p className="text-soft">The figures are not shown: you may be the one to type them from the document.</p>
      )}
      <FieldsShown values={values} />
      {settled && <p>Its two units disagreed; settled: {settled}</p>}
      {withdrawn && (
        <p>
          Taken back by {withdrawn.by} on {formatDate(withdrawn.on)}: {withdrawn.reason}
        </p>
      )}
      {revision.attempts.map((attempt) => (
        <p key={attempt.at} className="text-ochre">
          {attempt.by} typed differently:{' '}
          {attempt.differing
            .map(
              ({ field, entered, typed }) =>
                `${FIELD_NAMES[field] ?? field} ${typed}${entered === null ? '' : `, entered ${entered}`}`,
            )
            .join('; ')}
        </p>
      ))}
      {mayTakeBack && <TakeBack revision={revision} />}
    </li>
  );
}

/** Takes a revision back, with a reason; asks once. */
export function TakeBack({ revision }: { revision: Pick<Revision, 'id' | 'state'> }) {
  const withdraw = useWithdraw();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  if (!asking)
    return (
      <Button className="mt-1" onClick={() => setAsking(true)}>
        {revision.state === 'released' ? 'Take it back: it is wrong …' : 'Take it back …'}
      </Button>
    );
  return (
    <form
      className="mt-1 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        withdraw.mutate({ revisionId: revision.id, reason });
      }}
    >
      <div className="w-80">
        <Field
          label={
            revision.state === 'released'
              ? 'Why? From now on the joint is unknown, and jobs done on it are flagged'
              : 'Why? It stays on record'
          }
          value={reason}
          error={withdraw.error?.message}
          onChange={(event) => setReason(event.target.value)}
        />
      </div>
      <Button type="submit" disabled={reason.trim().length < 3 || withdraw.isPending}>
        Take it back
      </Button>
      <Button onClick={() => setAsking(false)}>Leave it</Button>
    </form>
  );
}
