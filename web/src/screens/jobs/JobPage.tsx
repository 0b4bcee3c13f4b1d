import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { JobDetail, StoryLine } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { SEVERITY_WORDS, actionInWords, stepPlaceInWords, milesInWords } from '@mile-mark/contract/words';
import { useJob, useMoveJob } from '../../api/jobs.ts';
import { useMe } from '../../api/people.ts';
import { pathOf } from '../../api/request.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate, formatTime } from '../../ui/format.ts';
import { useNewId } from '../../ui/useNewId.ts';
import { KitOf } from '../parts/index.ts';
import { ChangeScope } from './ChangeScope.tsx';
import { DriveNotice } from './DriveNotice.tsx';
import { MoveJob } from './MoveJob.tsx';
import { Takes } from './Needs.tsx';
import { placeOf, standsInWords } from './words.ts';

/** One job: why, decided, booked, done, signed, in order; and what can be done with it now. */
export function JobPage() {
  const { id } = useParams();
  const me = useMe();
  const job = useJob(id);
  if (job.isPending) return <State title="Loading the job" what="Fetching its story." quiet />;
  if (job.isLoadingError)
    return (
      <State title="The job couldn’t load" what={job.error.message}>
        <Link className="underline" to="/jobs">
          All jobs
        </Link>
      </State>
    );
  return <Page job={job.data} me={me} />;
}

const SHAPE = 'inline-flex min-h-8 items-center rounded-sm border px-3';
const LINK = `${SHAPE} border-line bg-raised hover:border-ink`;
const NEXT = `${SHAPE} border-[#c99700] bg-paint font-semibold text-[#26282a]`;

function Page({ job, me }: { job: JobDetail; me: Me }) {
  return (
    <div className="h-full overflow-y-auto">
      <header className="flex flex-wrap items-baseline gap-x-5 gap-y-2 border-b border-line px-4 py-2">
        <h1 className="figures text-2xl font-semibold">
          Job,{' '}
          <Link className="underline decoration-line underline-offset-4" to={`/vehicles/${job.unit}`}>
            {job.unit}
          </Link>
        </h1>
        <span>{job.model}</span>
        <span className="text-soft">{job.depot}</span>
        <span className="font-semibold">{standsInWords(job)}</span>
        <span>{job.people.join(', ')}</span>
        {(job.odometerMi ?? job.odometerNowMi) !== null && (
          <span className="figures text-soft">
            {job.odometerMi === null ? 'about ' : ''}
            {milesInWords(job.odometerMi ?? job.odometerNowMi ?? 0, me.distanceUnit)}
          </span>
        )}
        <Verbs job={job} me={me} />
      </header>
      <DriveNotice unit={job.unit} link={false} />
      <div className="grid grid-cols-1 gap-6 p-4 lg:grid-cols-[1fr_1fr]">
        <div className="flex flex-col gap-4">
          {job.axles.map((axle) => (
            <AxleScope key={axle.axle} axle={axle} job={job} me={me} />
          ))}
          <KitOf jobId={job.id} me={me} />
          {job.state !== 'called off' && <Takes id={job.id} />}
          <Open job={job} />
          <Photos job={job} />
        </div>
        <Story lines={job.story} />
      </div>
    </div>
  );
}

/** What can be done with the job now; the next thing stands out. */
function Verbs({ job, me }: { job: JobDetail; me: Me }) {
  const move = useMoveJob(job.id);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [id, renew] = useNewId();
  const [asking, setAsking] = useState<'book' | 'call off'>();
  const ahead = job.state === 'proposed' || job.state === 'booked';
  const books = mayDo(me.role, 'book');
  const start = () =>
    move.mutate(
      { id, verb: 'start', revision: job.revision },
      {
        onSuccess: () => {
          renew();
          // What this page read of the card is of a job that was not begun: nothing could be signed on it.
          void queries
            .invalidateQueries({ queryKey: ['jobCard', { id: job.id }] })
            .then(() => navigate(`/jobs/${job.id}/card`));
        },
        onError: (error) => toast(error.message),
      },
    );
  return (
    <span className="ml-auto flex flex-wrap gap-2">
      <a className={LINK} href={pathOf('jobRecord', { id: job.id })} target="_blank" rel="noreferrer">
        Record (PDF)
      </a>
      {books && ahead && <Button onClick={() => setAsking('book')}>{job.day ? 'Move …' : 'Book …'}</Button>}
      {books && job.state !== 'closed' && job.state !== 'called off' && (
        <Button onClick={() => setAsking('call off')}>Call off …</Button>
      )}
      {job.state !== 'called off' && (
        <Link className={job.state === 'in work' ? NEXT : LINK} to={`/jobs/${job.id}/card`}>
          Service card
        </Link>
      )}
      {ahead && mayDo(me.role, 'work') && (
        <Button look="next" disabled={move.isPending} onClick={start}>
          Begin work
        </Button>
      )}
      {asking && <MoveJob job={job} verb={asking} onClose={() => setAsking(undefined)} />}
    </span>
  );
}

function AxleScope({ axle, job, me }: { axle: JobDetail['axles'][number]; job: JobDetail; me: Me }) {
  const [changing, setChanging] = useState(false);
  const open = job.state !== 'closed' && job.state !== 'called off';
  return (
    <section aria-label={`Axle ${axle.axle}`}>
      <h2 className="mb-1 flex items-baseline gap-3 font-semibold">
        Axle {axle.axle}
        {open && mayDo(me.role, 'work') && (
          <Button look="bare" onClick={() => setChanging(true)}>
            Change what is done …
          </Button>
        )}
      </h2>
      <ul>
        {axle.scope.map((item) => (
          <li key={item.action} className="grid grid-cols-[14rem_1fr] gap-3 border-b border-hair py-1">
            <span className="font-medium">{actionInWords(item)}</span>
            <span className="text-soft">
              {item.reason ?? whyOf(job, axle.axle, item.action)}
              {item.mandatory && ' · must be done'}
            </span>
          </li>
        ))}
        {axle.scope.length === 0 && <li className="text-soft">To be inspected; nothing is decided yet.</li>}
        {axle.declined.map((item) => (
          <li key={item.action} className="grid grid-cols-[14rem_1fr] gap-3 border-b border-hair py-1 text-soft">
            <span className="line-through">{actionInWords({ action: item.action, sides: 'both' })}</span>
            <span>left out: {item.reason}</span>
          </li>
        ))}
      </ul>
      {changing && <ChangeScope jobId={job.id} axle={axle} onClose={() => setChanging(false)} />}
    </section>
  );
}

/** Why something is done, as it was known when the job was made; the rule’s name where it came later. */
function whyOf(job: JobDetail, axle: number, action: string): string {
  const own = job.because.filter((one) => one.axle === axle && one.action === action);
  return own.map(({ text }) => text).join(' ');
}

function Open({ job }: { job: JobDetail }) {
  if (job.defects.length === 0) return null;
  return (
    <section aria-label="Open defects">
      <h2 className="mb-1 font-semibold">Open defects of {job.unit}</h2>
      <ul>
        {job.defects.map((one) => (
          <li key={one.id} className="border-b border-hair py-1">
            {placeOf(one)} <span className="font-medium">{one.text}</span>{' '}
            <span className="text-soft">
              {SEVERITY_WORDS[one.severity]}, {one.saidBy}, {formatDate(one.foundOn)}
              {one.deferred && `, put off until ${formatDate(one.deferred.until)}`}
            </span>
          </li>
        ))}
      </ul>
      <Link className="underline" to={`/jobs?unit=${encodeURIComponent(job.unit)}`}>
        Settle them
      </Link>
    </section>
  );
}

function Photos({ job }: { job: JobDetail }) {
  if (job.photos.length === 0) return null;
  return (
    <section aria-label="Photos">
      <h2 className="mb-1 font-semibold">Photos</h2>
      <ul className="flex flex-wrap gap-3">
        {job.photos.map(({ id, step, by }) => (
          <li key={id} className="text-[12px] text-soft">
            <a href={pathOf('jobPhoto', { id })} target="_blank" rel="noreferrer">
              <img src={pathOf('jobPhoto', { id })} alt={stepPlaceInWords(step)} className="h-28 border border-line" />
            </a>
            {stepPlaceInWords(step)}, {by}
          </li>
        ))}
      </ul>
    </section>
  );
}

const KINDS: Record<StoryLine['kind'], string> = {
  why: 'Why',
  decided: 'Decided',
  booked: 'Booked',
  done: 'Done',
  signed: 'Signed',
  note: 'Note',
};

function Story({ lines }: { lines: StoryLine[] }) {
  return (
    <section aria-label="Story">
      <h2 className="mb-1 font-semibold">Its story</h2>
      <ol>
        {lines.map((line, index) => (
          <li key={index} className="grid grid-cols-[4.5rem_1fr_auto] gap-3 border-b border-hair py-1">
            <span className={line.kind === 'signed' ? 'font-semibold' : 'text-soft'}>{KINDS[line.kind]}</span>
            <span>{line.text}</span>
            <span className="figures text-right text-[13px] text-soft">
              {line.by}, {formatDate(line.on)} {formatTime(line.at)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
