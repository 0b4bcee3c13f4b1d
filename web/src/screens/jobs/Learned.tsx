import { DataTable } from '../../ui/DataTable.tsx';
import { Link } from 'react-router';
import type { JobLessons, Told } from '@mile-mark/contract/jobs';
import { minutesInWords, stepPlaceInWords } from '@mile-mark/contract/words';
import { useJobLessons } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';

const CLASS_WORDS = { pickup: 'pickups', van: 'vans', heavy: 'heavy trucks' } as const;
const AXLE_WORDS = ['no axle', 'one axle', 'two axles', 'three axles'];
const MOST_STEPS = 12;

/** What closed jobs taught: how long work takes here, what was missing half-way, what came back. */
export function Learned() {
  const lessons = useJobLessons();
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-3 flex flex-wrap items-baseline gap-4">
        <h1 className="text-lg font-semibold">What jobs taught</h1>
        {lessons.data && (
          <p className="text-soft">
            From {lessons.data.closed} closed {lessons.data.closed === 1 ? 'job' : 'jobs'}. A figure stands with the
            range that holds it four times in five: wide where few jobs speak.
          </p>
        )}
        <Link className="ml-auto underline" to="/jobs">
          All jobs
        </Link>
      </header>
      {lessons.isPending ? (
        <State title="Loading" what="Reading the closed cards." quiet />
      ) : lessons.isLoadingError ? (
        <State title="It couldn’t load" what={lessons.error.message}>
          <Button onClick={() => void lessons.refetch()}>Try again</Button>
        </State>
      ) : lessons.data.closed === 0 ? (
        <State
          title="Nothing yet"
          what="Cards teach when they are closed: sign steps as they are done, and pause for breaks."
        />
      ) : (
        <div className="grid grid-cols-1 gap-x-8 gap-y-5 lg:grid-cols-2">
          <div className="flex flex-col gap-5">
            <JobTimes jobs={lessons.data.jobs} />
            <StepTimes steps={lessons.data.steps} />
          </div>
          <div className="flex flex-col gap-5">
            <Faults lessons={lessons.data} />
            <Parts parts={lessons.data.parts} />
          </div>
        </div>
      )}
    </div>
  );
}

const percent = (share: number) =>
  share > 0 && share < 0.1 ? (share * 100).toFixed(1) : String(Math.round(share * 100));
const shareInWords = ({ value, low, high }: Told) => `${percent(value)} % (${percent(low)} to ${percent(high)})`;
const rangeInWords = ({ low, high }: Told) => `${minutesInWords(low)} to ${minutesInWords(high)}`;
const CELL = 'px-2 py-1';

interface Timed {
  what: string;
  class: keyof typeof CLASS_WORDS;
  minutes: Told;
  usualMin: number;
  jobs: number;
}

/** How long things take: the median with its range, beside the usual. */
function Times({ head, rows }: { head: string; rows: readonly Timed[] }) {
  return (
    <DataTable name="minutes-by-work" className="w-full">
      <Heads names={[head, 'On', 'Takes', 'Range', 'Usual', 'Jobs']} />
      <tbody>
        {rows.map((one) => (
          <tr key={`${one.class}/${one.what}`} className="border-b border-hair">
            <td className={CELL}>{one.what}</td>
            <td className={CELL}>{CLASS_WORDS[one.class]}</td>
            <td className={`${CELL} figures font-semibold whitespace-nowrap`}>{minutesInWords(one.minutes.value)}</td>
            <td className={`${CELL} figures whitespace-nowrap text-soft`}>{rangeInWords(one.minutes)}</td>
            <td className={`${CELL} figures whitespace-nowrap text-soft`}>{minutesInWords(one.usualMin)}</td>
            <td className={`${CELL} figures`}>{one.jobs}</td>
          </tr>
        ))}
      </tbody>
    </DataTable>
  );
}

function JobTimes({ jobs }: Pick<JobLessons, 'jobs'>) {
  const rows = jobs.map(({ work, axles, ...one }) => ({
    ...one,
    what: `${work}, ${AXLE_WORDS[axles] ?? `${axles} axles`}`,
  }));
  return (
    <section>
      <h2 className="mb-1 font-semibold">How long a job takes</h2>
      {rows.length === 0 ? (
        <p className="text-soft">No closed card was signed as the work went on; none tells its time.</p>
      ) : (
        <Times head="Work" rows={rows} />
      )}
    </section>
  );
}

/** Steps that surely take longer or less than is usual, the furthest first. */
function StepTimes({ steps }: Pick<JobLessons, 'steps'>) {
  const apart = steps
    .filter(({ minutes, usualMin }) => minutes.low > usualMin || minutes.high < usualMin)
    .slice(0, MOST_STEPS)
    .map(({ step, ...one }) => ({ ...one, what: stepPlaceInWords(step) }));
  return (
    <section>
      <h2 className="mb-1 font-semibold">Steps that take other than usual here</h2>
      {apart.length === 0 ? (
        <p className="text-soft">No step is surely slower or faster than usual.</p>
      ) : (
        <Times head="Step" rows={apart} />
      )}
    </section>
  );
}

function Faults({ lessons: { faults, followed, withinDays } }: { lessons: JobLessons }) {
  return (
    <section>
      <h2 className="mb-1 font-semibold">What came back within {withinDays} days of a job, at the same axle</h2>
      {followed.length === 0 ? (
        <p className="text-soft">Nothing did.</p>
      ) : (
        <>
          {faults.length > 0 && (
            <DataTable name="steps-off-the-usual" className="mb-3 w-full">
              <Heads names={['Fault', 'After', 'Jobs', 'Share of such jobs']} />
              <tbody>
                {faults.map((one) => (
                  <tr key={`${one.text}/${one.work}`} className="border-b border-hair">
                    <td className={`${CELL} font-medium`}>{one.text}</td>
                    <td className={CELL}>{one.work}</td>
                    <td className={`${CELL} figures whitespace-nowrap`}>
                      {one.jobs} of {one.of}
                    </td>
                    <td className={`${CELL} figures whitespace-nowrap`}>{shareInWords(one.share)}</td>
                  </tr>
                ))}
              </tbody>
            </DataTable>
          )}
          <DataTable name="parts-asked-for" className="w-full">
            <Heads names={['Unit', 'Fault', 'Told', 'After the job', 'Done by']} />
            <tbody>
              {followed.map((one) => (
                <tr key={`${one.unit}/${one.text}/${one.foundOn}`} className="border-b border-hair">
                  <td className={`${CELL} figures font-semibold`}>{one.unit}</td>
                  <td className={CELL}>{one.text}</td>
                  <td className={`${CELL} whitespace-nowrap`}>{formatDate(one.foundOn)}</td>
                  <td className={CELL}>
                    <Link className="underline" to={`/jobs/${one.jobId}`}>
                      {one.work}
                    </Link>
                    , {one.days} {one.days === 1 ? 'day' : 'days'} before
                  </td>
                  <td className={CELL}>{one.by.join(', ')}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
        </>
      )}
    </section>
  );
}

function Parts({ parts }: Pick<JobLessons, 'parts'>) {
  return (
    <section>
      <h2 className="mb-1 font-semibold">Parts asked for half-way</h2>
      {parts.length === 0 ? (
        <p className="text-soft">None was.</p>
      ) : (
        <DataTable name="faults-after-jobs" className="w-full">
          <Heads names={['Part', 'On', 'Asked for', 'Jobs', 'Share of jobs']} />
          <tbody>
            {parts.map((one) => (
              <tr key={`${one.class}/${one.what}`} className="border-b border-hair">
                <td className={`${CELL} font-medium`}>{one.what}</td>
                <td className={CELL}>{CLASS_WORDS[one.class]}</td>
                <td className={`${CELL} figures`}>{one.quantity}</td>
                <td className={`${CELL} figures whitespace-nowrap`}>
                  {one.jobs} of {one.of}
                </td>
                <td className={`${CELL} figures whitespace-nowrap`}>{shareInWords(one.share)}</td>
              </tr>
            ))}
          </tbody>
        </DataTable>
      )}
    </section>
  );
}
