import type { ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { ThisWeek as Week } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { countInWords, nextThing, scopeInWords, SEVERITY_WORDS, thicknessInWords } from '@mile-mark/contract/words';
import { useThisWeek } from '../../api/jobs.ts';
import { useMe } from '../../api/people.ts';
import { useDepots } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate, formatMiles } from '../../ui/format.ts';
import { placeOf, standsInWords } from './words.ts';

const CELL = 'px-2 py-1 align-top';

/** This week: what must not wait, on one page, for whoever answers for the yard; printed as PDF for the meeting. */
export function ThisWeek() {
  const me = useMe();
  const [address, setAddress] = useSearchParams();
  const depot = address.get('depot') ?? '';
  const week = useThisWeek(depot);
  const depots = useDepots();
  const asked = depot ? `?depot=${encodeURIComponent(depot)}` : '';
  return (
    <div className="h-full overflow-y-auto px-4 py-2">
      <header className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-lg font-semibold">This week</h1>
        {week.data && (
          <span className="figures text-soft">
            {formatDate(week.data.today)} to {formatDate(week.data.until)}
          </span>
        )}
        <Choose
          label="Depot"
          hideLabel
          value={depot}
          onChange={(event) => setAddress(event.target.value ? { depot: event.target.value } : {}, { replace: true })}
        >
          <option value="">All depots</option>
          {depots.data?.map(({ id, name }) => (
            <option key={id}>{name}</option>
          ))}
        </Choose>
        <a
          className="ml-auto inline-flex min-h-8 items-center rounded-sm border border-line bg-raised px-3 hover:border-ink touch:min-h-11 print:hidden"
          href={`/api/this-week.pdf${asked}`}
          target="_blank"
          rel="noreferrer"
        >
          Print it (PDF)
        </a>
      </header>
      {week.isPending ? (
        <State title="Loading" what="Gathering marks, jobs and findings of the week." quiet />
      ) : week.isLoadingError ? (
        <State title="This week couldn’t load" what={week.error.message}>
          <Button onClick={() => void week.refetch()}>Try again</Button>
        </State>
      ) : (
        <Found week={week.data} me={me} />
      )}
    </div>
  );
}

interface PartProps {
  title: string;
  count: number;
  none: string;
  children: ReactNode;
}

function Part({ title, count, none, children }: PartProps) {
  return (
    <section>
      <h2 className="mb-1 font-semibold">
        {title}
        {count > 0 && <span className="figures ml-2">{count}</span>}
      </h2>
      {count === 0 ? <p className="text-soft">{none}</p> : children}
    </section>
  );
}

function Unit({ unit, to }: { unit: string; to: string }) {
  return (
    <Link className="figures inline-flex text-base font-semibold underline touch:min-h-11 touch:items-center" to={to}>
      {unit}
    </Link>
  );
}

function Found({ week, me }: { week: Week; me: Me }) {
  const { forbidding, marks, jobs, defects, questions, borrow, calibrate, today } = week;
  return (
    <div className="grid gap-x-8 gap-y-5 pb-6 xl:grid-cols-2">
      <div className="flex flex-col gap-5">
        <Part title="Not to be driven" count={forbidding.length} none="No vehicle stands as not to be driven.">
          <ul>
            {forbidding.map((one) => (
              <li key={one.id} className="border-l-8 border-brick bg-raised px-3 py-1.5">
                <Unit unit={one.unit} to={`/vehicles/${one.unit}`} /> {placeOf(one)}{' '}
                <strong className="text-brick">{one.text}</strong>
                {one.note && `: ${one.note}`}, {one.saidBy}, {formatDate(one.foundOn)}
              </li>
            ))}
          </ul>
        </Part>
        <Part title="Marks passed or due" count={marks.length} none="No mark falls within the week.">
          <DataTable name="marks-this-week" className="w-full bg-sheet">
            <Heads names={['Unit', 'Axle', 'Mark', 'Odometer', 'Thinnest', 'Next']} />
            <tbody className="figures">
              {marks.map((mark) => (
                <tr key={`${mark.unit}/${mark.axle}`} className="border-b border-hair">
                  <td className={CELL}>
                    <Unit unit={mark.unit} to={`/vehicles/${mark.unit}?axle=${mark.axle}`} />
                  </td>
                  <td className={CELL}>{mark.axle}</td>
                  <td
                    className={`${CELL} whitespace-nowrap ${mark.markDate < today ? 'font-semibold text-brick' : ''}`}
                  >
                    {formatDate(mark.markDate)}
                  </td>
                  <td className={`${CELL} whitespace-nowrap`}>{formatMiles(mark.markOdometerMi, me.distanceUnit)}</td>
                  <td className={`${CELL} whitespace-nowrap`}>{thicknessInWords(mark.thinnestMm, me.thicknessUnit)}</td>
                  <td className={`${CELL} font-sans`}>{nextThing(mark, today, week.riskTarget).what}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
        </Part>
      </div>
      <div className="flex flex-col gap-5">
        <Part title="Jobs" count={jobs.length} none="Nothing is in work or booked for the week.">
          <DataTable name="jobs-this-week" className="w-full bg-sheet">
            <Heads names={['Unit', 'Stands', 'What is done', 'Who']} />
            <tbody>
              {jobs.map((job) => (
                <tr key={job.id} className="border-b border-hair">
                  <td className={CELL}>
                    <Unit unit={job.unit} to={`/jobs/${job.id}`} />
                  </td>
                  <td className={CELL}>
                    {job.state === 'booked' && job.day !== null && job.day < today && (
                      <strong className="text-brick">late: </strong>
                    )}
                    {standsInWords(job)}
                  </td>
                  <td className={CELL}>{scopeInWords(job.axles)}</td>
                  <td className={CELL}>{job.people.join(', ') || <span className="text-soft">nobody yet</span>}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
        </Part>
        <Part title="Findings and complaints" count={defects.length} none="None is due.">
          <DataTable name="findings-this-week" className="w-full bg-sheet">
            <Heads names={['Unit', 'Where', 'What', 'Severity', 'Since']} />
            <tbody>
              {defects.map((one) => (
                <tr key={one.id} className="border-b border-hair">
                  <td className={CELL}>
                    <Unit unit={one.unit} to={`/jobs?unit=${encodeURIComponent(one.unit)}`} />
                  </td>
                  <td className={CELL}>{placeOf(one)}</td>
                  <td className={CELL}>{one.text}</td>
                  <td className={CELL}>{SEVERITY_WORDS[one.severity]}</td>
                  <td className={`${CELL} figures whitespace-nowrap`}>{formatDate(one.foundOn)}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
        </Part>
        <Part title="Questions" count={questions} none="No reading waits for a word.">
          <p>
            {countInWords(questions, 'reading or odometer', 'readings or odometers')} in doubt
            {mayDo(me.role, 'measure') ? (
              <>
                :{' '}
                <Link className="underline" to="/questions">
                  settle them
                </Link>
                .
              </>
            ) : (
              '; the coordinator settles them.'
            )}
          </p>
        </Part>
        <Part title="To be borrowed" count={borrow.length} none="Every near job has its wrench.">
          <ul>
            {borrow.map((one) => (
              <li key={`${one.depot} ${one.elsewhere.join()}`} className="border-b border-hair py-1">
                {one.depot}, for {one.units.join(', ')}:{' '}
                {one.joints.map(({ joint, torque }, index) => (
                  <span key={`${joint} ${torque}`}>
                    {index > 0 && '; '}
                    {joint} <span className="figures">{torque}</span>
                  </span>
                ))}
                . {one.elsewhere.length > 0 ? `From ${one.elsewhere.join(' or ')}.` : 'No depot has a wrench for it.'}
              </li>
            ))}
          </ul>
        </Part>
        <Part title="To be calibrated" count={calibrate.length} none="No calibration ends within a month.">
          <ul>
            {calibrate.map((one) => (
              <li key={one.id} className="border-b border-hair py-1">
                {one.name}, {one.depot}:{' '}
                <span className={one.calibrationDue !== null && one.calibrationDue < today ? 'text-brick' : ''}>
                  {one.calibrationDue === null ? '' : formatDate(one.calibrationDue)}
                </span>
              </li>
            ))}
          </ul>
        </Part>
      </div>
    </div>
  );
}
