import { DataTable } from '../../ui/DataTable.tsx';
import { useState } from 'react';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Defect, JobRow, JobState } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { SEVERITY_WORDS, scopeInWords } from '@mile-mark/contract/words';
import { JOB_STATES } from '@mile-mark/core';
import { useDefects, useJobs } from '../../api/jobs.ts';
import { useMe } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { SettleDefect } from './SettleDefect.tsx';
import { placeOf, standsInWords } from './words.ts';
import { useAddressValues } from '../../ui/useAddressValues.ts';

const SHOWN: (JobState | 'open')[] = ['open', ...JOB_STATES];

/** Jobs: what is in work, booked and proposed; beside it every defect that nobody has closed. */
export function Jobs() {
  const me = useMe();
  const [address, set] = useAddressValues();
  const state = SHOWN.find((one) => one === address.get('state')) ?? 'open';
  const unit = address.get('unit')?.toUpperCase() ?? '';
  const jobs = useJobs({ state, ...(unit ? { unit } : {}) });
  return (
    <div className="grid h-full grid-cols-1 overflow-y-auto lg:grid-cols-[1fr_25rem] lg:overflow-hidden">
      <section aria-label="Jobs" className="flex min-h-0 flex-col lg:overflow-y-auto">
        <div className="flex flex-wrap items-center gap-3 px-4 py-2">
          <h1 className="mr-2 text-lg font-semibold">Jobs</h1>
          <div className="w-28">
            <Field
              label="Unit"
              hideLabel
              placeholder="Unit"
              value={unit}
              onChange={(event) => set({ unit: event.target.value })}
            />
          </div>
          <Choose
            label="State"
            hideLabel
            value={state}
            onChange={(event) => set({ state: event.target.value === 'open' ? '' : event.target.value })}
          >
            <option value="open">Open jobs</option>
            {JOB_STATES.map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </Choose>
          <Link className="ml-auto underline" to="/jobs/learned">
            What jobs taught
          </Link>
          <Link className="underline" to="/shop-policy">
            How the shop does it
          </Link>
        </div>
        {jobs.isPending ? (
          <State title="Loading" what="Fetching the jobs." quiet />
        ) : jobs.isLoadingError ? (
          <State title="The jobs couldn’t load" what={jobs.error.message}>
            <Button onClick={() => void jobs.refetch()}>Try again</Button>
          </State>
        ) : jobs.data.length === 0 ? (
          <State
            title="No job here"
            what={`Book one from a post on Ahead or from a vehicle’s page${unit ? `; the list shows ${unit} only` : ''}.`}
          />
        ) : (
          <JobTable jobs={jobs.data} />
        )}
      </section>
      <Defects me={me} unit={unit} />
    </div>
  );
}

function JobTable({ jobs }: { jobs: JobRow[] }) {
  return (
    <DataTable name="jobs" className="w-full text-left">
      <thead>
        <tr className="border-b border-line text-soft">
          {['Unit', 'Stands', 'What is done', 'Who', 'Depot'].map((head) => (
            <th key={head} className="py-1 pr-3 font-medium first:pl-4">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {jobs.map((job) => (
          <tr key={job.id} className="border-b border-hair align-top hover:bg-raised">
            <td className="py-1.5 pr-3 pl-4">
              <Link
                className="figures text-base font-semibold underline decoration-line underline-offset-4"
                to={`/jobs/${job.id}`}
              >
                {job.unit}
              </Link>
              <span className="block text-[12px] text-soft">{job.model}</span>
            </td>
            <td className="py-1.5 pr-3 whitespace-nowrap">
              <span className={job.state === 'in work' ? 'font-semibold' : ''}>{standsInWords(job)}</span>
              {job.state === 'in work' && <span className="figures block text-soft">{job.stepsDone} steps signed</span>}
            </td>
            <td className="py-1.5 pr-3">{scopeInWords(job.axles)}</td>
            <td className="py-1.5 pr-3">{job.people.join(', ') || <span className="text-soft">nobody yet</span>}</td>
            <td className="py-1.5 pr-4">{job.depot}</td>
          </tr>
        ))}
      </tbody>
    </DataTable>
  );
}

/** Open defects, the worst first. */
function Defects({ me, unit }: { me: Me; unit: string }) {
  const defects = useDefects();
  const [settling, setSettling] = useState<Defect>();
  const own = (defects.data ?? []).filter((one) => unit === '' || one.unit === unit);
  return (
    <section aria-label="Open defects" className="border-line bg-raised p-4 lg:overflow-y-auto lg:border-l">
      <h2 className="mb-2 text-lg font-semibold">
        {own.length} open {own.length === 1 ? 'defect' : 'defects'}
      </h2>
      {defects.isLoadingError && <p role="alert">{defects.error.message}</p>}
      {own.length === 0 && !defects.isPending && (
        <p className="text-soft">Nothing that was found or complained of is open.</p>
      )}
      <ul className="flex flex-col gap-2">
        {own.map((defect) => (
          <li
            key={defect.id}
            className={`border-l-4 pl-3 ${defect.severity === 'do not drive' && !defect.lifted ? 'border-brick' : 'border-line'}`}
          >
            <p>
              <Link className="figures text-base font-semibold underline" to={`/vehicles/${defect.unit}`}>
                {defect.unit}
              </Link>{' '}
              {placeOf(defect)} <span className="font-medium">{defect.text}</span>
            </p>
            <p className="text-[13px] text-soft">
              <span className={defect.severity === 'do not drive' ? 'font-semibold text-brick' : ''}>
                {SEVERITY_WORDS[defect.severity]}
              </span>
              , {defect.saidBy}, {formatDate(defect.foundOn)}
              {defect.ageDays > 0 && ` (${defect.ageDays} ${defect.ageDays === 1 ? 'day' : 'days'})`}
              {defect.note && `: “${defect.note}”`}
            </p>
            {defect.deferred && (
              <p className="text-[13px]">
                Put off until {formatDate(defect.deferred.until)} by {defect.deferred.by}: {defect.deferred.reason}
              </p>
            )}
            {defect.lifted && (
              <p className="text-[13px]">
                May be driven, says {defect.lifted.by}: {defect.lifted.reason}
              </p>
            )}
            {mayDo(me.role, 'work') && (
              <Button look="bare" onClick={() => setSettling(defect)}>
                Settle …
              </Button>
            )}
          </li>
        ))}
      </ul>
      {settling && <SettleDefect defect={settling} me={me} onClose={() => setSettling(undefined)} />}
    </section>
  );
}
