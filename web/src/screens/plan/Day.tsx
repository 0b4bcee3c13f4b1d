import { addDays, format, parseISO } from 'date-fns';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { DayBoard } from '@mile-mark/contract/plan';
import { useDayBoard } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { axlesInWords, groupBy, hours, WEEKDAYS, weekdayOf } from './figures.ts';

const NOWHERE = 'No bay yet';

/** A day in the bays: who is there, what is in which bay, whether its kit is, how far it is; late ones first. */
export function Day({
  me,
  depot,
  date,
  onDate,
}: {
  me: Me;
  depot: string;
  date: string;
  onDate: (date: string) => void;
}) {
  const board = useDayBoard(depot, date);
  if (board.isPending) return <State title="Loading" what="Fetching the day." quiet />;
  if (board.isLoadingError)
    return (
      <State title="The day couldn’t load" what={board.error.message}>
        <Button onClick={() => void board.refetch()}>Try again</Button>
      </State>
    );
  const { today, open, people, jobs } = board.data;
  const day = board.data.date;
  const go = (by: number) => onDate(format(addDays(parseISO(day), by), 'yyyy-MM-dd'));
  const late = jobs.filter(({ lateSince }) => lateSince !== null);
  const bays = [
    ...groupBy(
      jobs.filter(({ lateSince }) => lateSince === null),
      ({ bay }) => bay ?? NOWHERE,
    ),
  ];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <div className="mb-3 flex flex-wrap items-end gap-2">
        <Button large aria-label="The day before" onClick={() => go(-1)}>
          ←
        </Button>
        <div className="w-44">
          <DateField label="Day" hideLabel large value={day} onChange={onDate} />
        </div>
        <Button large aria-label="The day after" onClick={() => go(1)}>
          →
        </Button>
        {day !== today && (
          <Button large onClick={() => onDate('')}>
            Today
          </Button>
        )}
        <p className="ml-2 self-center text-[15px]">
          {WEEKDAYS[weekdayOf(day)]} {formatDate(day)}
          {!open && <span className="font-semibold"> — the shop is shut</span>}
        </p>
      </div>
      <People people={people} />
      {late.length > 0 && (
        <section aria-label="Late" className="mb-4 border-l-4 border-brick pl-3">
          <h2 className="text-lg font-semibold">Late {late.length}</h2>
          <Jobs jobs={late} />
          {mayDo(me.role, 'plan') && (
            <Link className="underline underline-offset-2" to="/plan?view=weeks">
              Plan anew: late ones are taken up first
            </Link>
          )}
        </section>
      )}
      {jobs.length === 0 && (
        <p className="text-[15px] text-soft">
          {open ? 'Nothing is booked for this day.' : 'Nothing is booked, and nobody works on brakes here on this day.'}
        </p>
      )}
      <div className="grid gap-4 md:grid-cols-2">
        {bays.map(([bay, own]) => (
          <section key={bay} aria-label={bay} className="border border-line bg-sheet p-3">
            <h2 className="flex items-baseline gap-3 text-lg font-semibold">
              {bay}
              <span className="figures text-base font-normal text-soft">
                {hours(own.reduce((sum, one) => sum + one.hours, 0))} h
              </span>
            </h2>
            <Jobs jobs={own} />
          </section>
        ))}
      </div>
    </div>
  );
}

function People({ people }: { people: DayBoard['people'] }) {
  const shown = people.filter(({ hours: there, away }) => there > 0 || away !== null);
  if (shown.length === 0) return null;
  return (
    <p className="mb-3 flex flex-wrap gap-x-5 gap-y-1 text-[15px]">
      {shown.map(({ name, certified, hours: there, away }) => (
        <span key={name}>
          <span className={away === null ? 'font-medium' : 'line-through'}>{name}</span>{' '}
          <span className="text-soft">{away ?? `${hours(there)} h${certified ? ', air brakes' : ''}`}</span>
        </span>
      ))}
    </p>
  );
}

function Jobs({ jobs }: { jobs: DayBoard['jobs'] }) {
  return (
    <ul>
      {jobs.map((job) => (
        <li key={job.jobId} className="border-t border-hair py-2 first:border-t-0">
          <Link
            to={job.state === 'closed' ? `/jobs/${job.jobId}` : `/jobs/${job.jobId}/card`}
            className="flex min-h-12 flex-wrap items-baseline gap-x-3"
          >
            <span className="figures text-xl font-semibold underline decoration-line underline-offset-4">
              {job.unit}
            </span>
            <span className="text-[15px]">{axlesInWords(job.axles)}</span>
            <span className="text-soft">{job.model}</span>
            <span className={`ml-auto ${job.state === 'in work' ? 'font-semibold' : ''}`}>{job.state}</span>
          </Link>
          <p>
            <span className="figures">{hours(job.hours)} h</span>
            {job.people.length > 0 && <>, {job.people.join(', ')}</>}
            {job.kit !== '' && (
              <>
                , <span className={job.kitShort ? 'font-semibold text-brick' : ''}>{job.kit}</span>
              </>
            )}
            {job.lateSince !== null && <>, booked for {formatDate(job.lateSince)}</>}
          </p>
          {job.doNotDrive && <p className="font-semibold text-brick">Not to be driven until it is settled.</p>}
        </li>
      ))}
    </ul>
  );
}
