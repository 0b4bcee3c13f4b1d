import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { useStudies } from '../../api/gauges.ts';
import { formatDate } from '../../ui/format.ts';
import { ImportOne } from './ImportStudy.tsx';
import { PlanOne } from './PlanStudy.tsx';

/** Gauge studies so far; plan one, or take in one that was measured elsewhere. */
export function StudyList({ me }: { me: Me }) {
  const studies = useStudies();
  return (
    <div className="grid gap-6 lg:grid-cols-2">
      <section>
        <h2 className="mb-2 font-semibold">Studies</h2>
        {studies.data?.length === 0 && (
          <p className="max-w-prose text-soft">
            None yet. A study has several people measure the same loose pads several times, in random order. It tells
            gauge, appraisers and pads apart in an afternoon; everyday readings take months.
          </p>
        )}
        <ul>
          {studies.data?.map((study) => (
            <li key={study.id} className="flex items-baseline gap-4 border-b border-hair py-1.5">
              <Link className="font-medium underline underline-offset-2" to={`/gauges/studies/${study.id}`}>
                {study.name}
              </Link>
              <span className="text-soft">{study.gauge ?? 'gauge not on record'}</span>
              <span className="figures ml-auto">
                {study.parts} × {study.technicians} × {study.repeats}
              </span>
              <span className="figures w-28 text-right">
                {study.measured < study.runs ? `${study.measured} of ${study.runs} done` : 'complete'}
              </span>
              <span className="figures text-soft">{formatDate(study.createdAt)}</span>
            </li>
          ))}
        </ul>
        {mayDo(me.role, 'study') && <ImportOne />}
      </section>
      {mayDo(me.role, 'study') && <PlanOne />}
    </div>
  );
}
