import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { FIELD_NAMES } from '@mile-mark/contract/specifications';
import { useOpenSpecifications } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { Blind } from './Blind.tsx';
import { FieldsShown } from './FieldsShown.tsx';
import { TakeBack } from './OneSpecification.tsx';

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
