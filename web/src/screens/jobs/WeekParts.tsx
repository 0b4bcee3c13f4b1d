import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { ThisWeek as Week } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import {
  changeInWords,
  nextThing,
  scopeInWords,
  SEVERITY_WORDS,
  thicknessInWords,
  milesInWords,
} from '@mile-mark/contract/words';
import { DataTable } from '../../ui/DataTable.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { formatDate } from '../../ui/format.ts';
import { placeOf, standsInWords } from './words.ts';

const CELL = 'px-2 py-1 align-top';

export interface FoundProps {
  week: Week;
  me: Me;
}

interface PartProps {
  title: string;
  count: number;
  none: string;
  children: ReactNode;
}

export function Part({ title, count, none, children }: PartProps) {
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

export function Unit({ unit, to }: { unit: string; to: string }) {
  return (
    <Link className="figures inline-flex text-base font-semibold underline touch:min-h-11 touch:items-center" to={to}>
      {unit}
    </Link>
  );
}

/** Marks that are passed, or fall within the week. */
export function Marks({ week: { marks, today, riskTarget }, me }: FoundProps) {
  return (
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
              <td className={`${CELL} whitespace-nowrap ${mark.markDate < today ? 'font-semibold text-brick' : ''}`}>
                {formatDate(mark.markDate)}
              </td>
              <td className={`${CELL} whitespace-nowrap`}>{milesInWords(mark.markOdometerMi, me.distanceUnit)}</td>
              <td className={`${CELL} whitespace-nowrap`}>{thicknessInWords(mark.thinnestMm, me.thicknessUnit)}</td>
              <td className={`${CELL} font-sans`}>{nextThing(mark, today, riskTarget).what}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
    </Part>
  );
}

/** Changes of wear nobody has decided on: they may not run another week. */
export function ToDecide({ week: { changes } }: Pick<FoundProps, 'week'>) {
  return (
    <Part title="Changes of wear to decide on" count={changes.length} none="None waits for a decision.">
      <DataTable name="changes-this-week" className="w-full bg-sheet">
        <Heads names={['Unit', 'Seen', 'To be looked at']} />
        <tbody>
          {changes.map((change) => (
            <tr key={change.id} className="border-b border-hair">
              <td className={CELL}>
                <Unit unit={change.unit} to={`/vehicles/${change.unit}`} />
              </td>
              <td className={CELL}>
                {changeInWords(change).seen} Since {formatDate(change.since)}.
              </td>
              <td className={CELL}>{changeInWords(change).check}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
    </Part>
  );
}

/** In work, booked, and late. */
export function WeeksJobs({ week: { jobs, today } }: Pick<FoundProps, 'week'>) {
  return (
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
  );
}

/** Defects that are due, but for those that forbid driving. */
export function Findings({ week: { defects } }: Pick<FoundProps, 'week'>) {
  return (
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
  );
}

/** Wrenches that another depot has to lend. */
export function ToBorrow({ week: { borrow } }: Pick<FoundProps, 'week'>) {
  return (
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
  );
}

/** Wrenches whose calibration is over or ends soon. */
export function ToCalibrate({ week: { calibrate, today } }: Pick<FoundProps, 'week'>) {
  return (
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
  );
}
