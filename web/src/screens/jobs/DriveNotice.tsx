import { OctagonAlert } from 'lucide-react';
import { Link } from 'react-router';
import { useDefects, useJobs } from '../../api/jobs.ts';
import { formatDate } from '../../ui/format.ts';
import { forbidding, placeOf } from './words.ts';

/** Says of a vehicle that it is not to be driven, and why; on every screen that shows it, until lifted or mended. */
export function DriveNotice({ unit, link = true }: { unit: string; link?: boolean }) {
  const defects = useDefects();
  const jobs = useJobs({ state: 'open', unit });
  const own = forbidding(defects.data ?? [], unit);
  const [first] = own;
  if (!first) return null;
  const job = jobs.data?.[0];
  return (
    <div role="alert" className="flex items-start gap-2 border-l-8 border-brick bg-raised px-3 py-2">
      <OctagonAlert aria-hidden className="mt-0.5 size-5 shrink-0 text-brick" />
      <p>
        <strong className="text-brick">{unit} is not to be driven.</strong>{' '}
        {own
          .map(
            (one) =>
              `${[placeOf(one), one.text].filter(Boolean).join(': ')} (${one.saidBy}, ${formatDate(one.foundOn)})`,
          )
          .join('; ')}
        .{' '}
        {link && (
          <Link className="underline" to={job ? `/jobs/${job.id}` : `/jobs?unit=${encodeURIComponent(unit)}`}>
            {job ? 'Its job' : 'Settle it'}
          </Link>
        )}
      </p>
    </div>
  );
}
