import { Link, useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { countInWords } from '@mile-mark/contract/words';
import { useThisWeek } from '../../api/jobs.ts';
import { useMe } from '../../api/people.ts';
import { useDepots } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { placeOf } from './words.ts';

import {
  Findings,
  type FoundProps,
  Marks,
  Part,
  ToBorrow,
  ToCalibrate,
  ToDecide,
  Unit,
  WeeksJobs,
} from './WeekParts.tsx';

/** This week: what must not wait, on one page, for whoever answers for the yard; printed as PDF for the meeting. */
export function ThisWeek() {
  const me = useMe();
  const [address, setAddress] = useSearchParams();
  const depot = address.get('depot') ?? '';
  const week = useThisWeek(depot);
  const depots = useDepots();
  // A paper is of the whole fleet, or of one depot: who is limited to some prints each of theirs.
  const papers = depot === '' && me.depots.length > 0 ? me.depots : [depot];
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
        <div className="ml-auto flex flex-wrap gap-2 print:hidden">
          {papers.map((paper) => (
            <a
              key={paper}
              className="inline-flex min-h-8 items-center rounded-sm border border-line bg-raised px-3 hover:border-ink touch:min-h-11"
              href={`/api/this-week.pdf${paper ? `?depot=${encodeURIComponent(paper)}` : ''}`}
              target="_blank"
              rel="noreferrer"
            >
              {papers.length === 1 ? 'Print it (PDF)' : `Print ${paper} (PDF)`}
            </a>
          ))}
        </div>
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

function Found({ week, me }: FoundProps) {
  const { forbidding, questions } = week;
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
        <Marks week={week} me={me} />
        <ToDecide week={week} />
      </div>
      <div className="flex flex-col gap-5">
        <WeeksJobs week={week} />
        <Findings week={week} />
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
        <ToBorrow week={week} />
        <ToCalibrate week={week} />
      </div>
    </div>
  );
}
