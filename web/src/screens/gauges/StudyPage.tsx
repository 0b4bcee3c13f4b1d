import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { StudyDetail } from '@mile-mark/contract/gauges';
import { useStudy } from '../../api/gauges.ts';
import { Button } from '../../ui/Button.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { State } from '../../ui/State.tsx';
import { StudyEntry } from './StudyEntry.tsx';
import { StudyResultView } from './StudyResultView.tsx';

/** One gauge study: measured in its random order, then its figures and verdict. */
export function StudyPage() {
  const { id } = useParams();
  const study = useStudy(id);
  if (study.isPending) return <State title="Loading" what="Fetching the study." quiet />;
  if (study.isLoadingError) {
    return (
      <State title="The study couldn’t load" what={study.error.message}>
        <Button onClick={() => void study.refetch()}>Try again</Button>
      </State>
    );
  }
  return <Loaded study={study.data} />;
}

function Loaded({ study }: { study: StudyDetail }) {
  const [view, setView] = useState<'result' | 'values'>(study.figures ? 'result' : 'values');
  const shown = study.figures ? view : 'values';
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <Link className="underline" to="/gauges?view=studies">
          Gauge studies
        </Link>
        <h1 className="text-xl font-semibold">{study.name}</h1>
        <span className="text-soft">{study.gauge ?? 'gauge not on record'}</span>
        <span className="figures">
          {study.parts} parts × {study.technicians} technicians × {study.repeats} repeats
        </span>
        {study.seed !== null && <span className="figures text-soft">order by seed {study.seed}</span>}
        {study.figures && (
          <span className="ml-auto">
            <SegmentedControl
              label="Show"
              hideLabel
              value={shown}
              options={[
                { value: 'result', label: 'Result' },
                { value: 'values', label: 'Values' },
              ]}
              onChange={setView}
            />
          </span>
        )}
      </header>
      {shown === 'result' && study.figures ? (
        <StudyResultView study={study} figures={study.figures} />
      ) : (
        <StudyEntry study={study} />
      )}
    </div>
  );
}
