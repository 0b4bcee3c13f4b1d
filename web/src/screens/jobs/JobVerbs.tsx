import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { useJobs } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { isForControl } from '../../ui/typing.ts';
import { AxleKitNote, KitNote } from '../parts/index.ts';
import { AddComplaint } from './AddComplaint.tsx';
import { BookIt } from './BookIt.tsx';
import { standsInWords } from './words.ts';

/**
 * The verbs of an axle: book it, or go on with the job its vehicle has; a complaint. Keys B and C do the same.
 *
 * @param next whether booking is the next thing to do
 */
export function JobVerbs({ unit, axle, me, next = false }: { unit: string; axle: number; me: Me; next?: boolean }) {
  const jobs = useJobs({ state: 'open' });
  const job = jobs.data?.find((one) => one.unit === unit);
  const [open, setOpen] = useState<'book' | 'complaint'>();
  const navigate = useNavigate();
  const books = mayDo(me.role, 'book');
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event) || event.ctrlKey || event.metaKey) return;
      if (document.querySelector('[role="dialog"]')) return;
      if (event.key === 'b' && !job && books) setOpen('book');
      if (event.key === 'c' && job) void navigate(`/jobs/${job.id}/card`);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [job, books, navigate]);
  return (
    <div className="contents">
      {job && (
        <p className="basis-full">
          <Link className="font-semibold underline" to={`/jobs/${job.id}`}>
            Its job
          </Link>{' '}
          is {standsInWords(job)}.
        </p>
      )}
      {job ? <KitNote unit={unit} /> : <AxleKitNote unit={unit} axle={axle} />}
      <div className="contents">
        {job ? (
          <Link
            className="inline-flex min-h-8 items-center rounded-sm border border-line bg-raised px-3 hover:border-ink"
            to={`/jobs/${job.id}/card`}
          >
            Service card <kbd className="figures ml-2 rounded-sm border border-current px-1 text-xs opacity-90">C</kbd>
          </Link>
        ) : (
          books && (
            <Button
              hotkey="B"
              look={next ? 'next' : 'plain'}
              className="touch:min-h-11"
              onClick={() => setOpen('book')}
            >
              Book it …
            </Button>
          )
        )}
        <Button className="touch:min-h-11" onClick={() => setOpen('complaint')}>
          Complaint …
        </Button>
      </div>
      {open === 'book' && <BookIt unit={unit} axle={axle} onClose={() => setOpen(undefined)} />}
      {open === 'complaint' && <AddComplaint unit={unit} onClose={() => setOpen(undefined)} />}
    </div>
  );
}
