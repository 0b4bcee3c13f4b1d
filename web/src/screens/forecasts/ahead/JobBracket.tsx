import { Link } from 'react-router';
import type { JobRow } from '@mile-mark/contract/jobs';
import type { PlannedVisit } from '@mile-mark/contract/plan';
import { scopeInWords } from '@mile-mark/contract/words';
import { formatDate } from '../../../ui/format.ts';
import { LANE_PX } from './Post.tsx';
import type { RoadScale } from './scale.ts';

const WIDTH = 22;

/** A booked job in the lane: a bracket at its day, open where it is only proposed, filled where it is in work. */
export function JobBracket({ job, scale, today }: { job: JobRow; scale: RoadScale; today: string }) {
  const left = scale.x(job.day ?? today);
  const told = `${job.unit}: job ${job.state}${job.day ? ` for ${formatDate(job.day)}` : ''}${job.bay ? `, ${job.bay}` : ''}; ${scopeInWords(job.axles)}`;
  return (
    <Link
      to={`/jobs/${job.id}`}
      tabIndex={-1}
      aria-label={told}
      title={told}
      className={`absolute z-[2] border-x-[3px] border-ink ${job.state === 'in work' ? 'bg-ink/20' : ''} ${job.state === 'proposed' ? 'border-dotted' : ''}`}
      style={{ left: left - WIDTH / 2, width: WIDTH, top: 1, height: LANE_PX - 3 }}
    >
      <span aria-hidden className="absolute -left-[3px] top-0 h-[3px] w-[8px] bg-ink" />
      <span aria-hidden className="absolute -right-[3px] top-0 h-[3px] w-[8px] bg-ink" />
      <span aria-hidden className="absolute -left-[3px] bottom-0 h-[3px] w-[8px] bg-ink" />
      <span aria-hidden className="absolute -right-[3px] bottom-0 h-[3px] w-[8px] bg-ink" />
    </Link>
  );
}

/** A visit of the published plan that is no job yet: a thin foot under the lane at its day, out of the posts' way. */
export function PlannedBracket({ visit, scale }: { visit: PlannedVisit; scale: RoadScale }) {
  const { unit, axles, date, planId, depot } = visit;
  const told = `${unit}: planned for ${formatDate(date)}, ${axles.length === 1 ? `axle ${axles[0]}` : `axles ${axles.join(', ')}`}`;
  return (
    <Link
      to={`/plan?plan=${planId}&depot=${encodeURIComponent(depot)}`}
      tabIndex={-1}
      aria-label={told}
      title={told}
      className="absolute z-[2] border-x-2 border-b-2 border-slate"
      style={{ left: scale.x(date) - WIDTH / 2, width: WIDTH, bottom: 1, height: 9 }}
    />
  );
}
