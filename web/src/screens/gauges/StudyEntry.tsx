import { useNewId } from '../../ui/useNewId.ts';
import { useState } from 'react';
import type { StudyDetail } from '@mile-mark/contract/gauges';
import { ApiProblem } from '../../api/client.ts';
import { useAddStudyValue } from '../../api/gauges.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';

/** Measures a study in its random order: the next run large, the list to correct a value below. */
export function StudyEntry({ study }: { study: StudyDetail }) {
  const add = useAddStudyValue(study.id);
  const open = study.plan.find(({ measured }) => !measured);
  const [id, renewId] = useNewId();
  const [chosen, setChosen] = useState<number>();
  const [typed, setTyped] = useState('');
  const run = study.plan.find((one) => one.run === chosen) ?? open;
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  return (
    <div className="grid gap-6 lg:grid-cols-[22rem_1fr]">
      {run ? (
        <form
          className="flex flex-col gap-3 self-start border-l-4 border-ink bg-sheet p-4"
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate(
              { id, run: run.run, value: typed },
              {
                onSuccess: () => {
                  renewId();
                  setTyped('');
                  setChosen(undefined);
                },
              },
            );
          }}
        >
          <p className="text-soft">
            Measurement {run.run} of {study.runs}
            {run.typed !== null && ` (so far ${run.typed})`}
          </p>
          <p className="text-2xl font-semibold">
            {run.technician}: {run.part}
          </p>
          <Field
            label={`Thickness, ${study.unit}`}
            large
            autoFocus
            key={run.run}
            inputMode="decimal"
            autoComplete="off"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            error={problem?.of('value') ?? (add.isError && !problem ? add.error.message : undefined)}
            hint="Don’t look at earlier figures; that is what the random order is for."
          />
          <Button look="next" large type="submit" disabled={typed.trim() === '' || add.isPending}>
            Enter it
          </Button>
        </form>
      ) : (
        <p className="self-start border-l-4 border-slate bg-sheet p-4">
          All is measured. Choose a value to measure it again.
        </p>
      )}
      <section>
        <h2 className="mb-1 font-semibold">
          In this order; {study.measured} of {study.runs} done
        </h2>
        <ol className="figures grid grid-cols-2 gap-x-6 md:grid-cols-3">
          {study.plan.map((one) => (
            <li key={one.run}>
              <button
                className={`grid w-full grid-cols-[2.2rem_1fr_auto] gap-2 border-b border-hair py-0.5 text-left ${one.run === run?.run ? 'bg-raised font-semibold' : ''}`}
                onClick={() => {
                  setChosen(one.run);
                  renewId();
                  setTyped('');
                }}
              >
                <span className="text-soft">{one.run}</span>
                <span className="truncate">
                  {one.technician}, {one.part}
                </span>
                <span>{one.measured ? (one.typed ?? 'measured') : '·'}</span>
              </button>
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}
