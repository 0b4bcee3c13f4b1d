import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { MileMark } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { nextThing, type NextVerb, awayInWords, milesInWords } from '@mile-mark/contract/words';
import { usePrefetchWhy, useVehicle } from '../../../api/forecasts.ts';
import { Term } from '../../../drawings/Term.tsx';
import { State } from '../../../ui/State.tsx';
import { daysBetween, formatDate } from '../../../ui/format.ts';
import { DriveNotice, JobVerbs } from '../../jobs/index.ts';
import { Chain } from './Chain.tsx';

const SHAPE = 'inline-flex min-h-8 items-center rounded-sm border px-2.5 touch:min-h-11';
const VERB = `${SHAPE} border-line bg-raised hover:border-ink`;
const NEXT = `${SHAPE} border-[#c99700] bg-paint font-semibold text-[#26282a]`;
const KEY = 'figures ml-1.5 rounded-sm border border-current px-1 text-xs opacity-80';
/** Verbs that booking answers. */
const BOOKS: readonly NextVerb[] = ['do it now', 'book', 'measure and book'];

/** Why this date: the chain from the mark back to readings, rate, duty and limit, and the one thing to do next. */
export function WhyPanel({
  mark,
  me,
  today,
  riskTarget,
}: {
  mark: MileMark | undefined;
  me: Me;
  today: string;
  riskTarget: number;
}) {
  const vehicle = useVehicle(mark?.unit);
  const nearWhy = usePrefetchWhy(mark?.unit ?? '');
  if (!mark)
    return <State title="No axle chosen" what="Choose a post on the road to see why its mark is where it is." quiet />;
  const axle = vehicle.data?.axleDetails.find((one) => one.axle === mark.axle);
  const away = daysBetween(today, mark.markDate);
  const next = nextThing(mark, today, riskTarget);
  return (
    <div className="flex h-full flex-col gap-3 overflow-y-auto p-4">
      <header>
        <p className="text-soft">Why this date</p>
        <h2 className="figures text-2xl leading-tight font-semibold">
          {mark.unit}, axle {mark.axle}
        </h2>
        <p className="text-soft">
          {mark.model}, {mark.depot}
        </p>
      </header>
      <div className="border-l-4 border-ink pl-3">
        <p className="text-soft">
          <Term of="mileMark">{away < 0 ? 'Mile mark passed' : 'Mile mark'}</Term>
        </p>
        <p className="figures text-[22px] leading-tight font-semibold">
          {milesInWords(mark.markOdometerMi, me.distanceUnit)} · {formatDate(mark.markDate)}
        </p>
        <p>{awayInWords(away)}</p>
      </div>
      <p className={next.verb === 'nothing' ? 'border border-line p-2' : 'border border-[#c99700] bg-paint/25 p-2'}>
        <span className="font-semibold">{next.what}</span> {next.because}
      </p>
      <DriveNotice unit={mark.unit} />
      <nav aria-label="With this vehicle" className="flex flex-wrap gap-1.5">
        {mayDo(me.role, 'measure') && (
          <Link className={next.verb.startsWith('measure') ? NEXT : VERB} to={`/measure/${mark.unit}`}>
            Measure <kbd className={KEY}>M</kbd>
          </Link>
        )}
        <JobVerbs unit={mark.unit} axle={mark.axle} me={me} next={BOOKS.includes(next.verb)} />
        <Link className={VERB} to={`/vehicles/${mark.unit}`}>
          Open {mark.unit} <kbd className={KEY}>Enter</kbd>
        </Link>
        <Link className={VERB} to={`/vehicles/${mark.unit}/why/${mark.axle}`} {...nearWhy}>
          {mayDo(me.role, 'seeEverybody') ? 'What moved it, what if …' : 'What moved it'}
        </Link>
        <Link className={VERB} to={`/specifications?unit=${encodeURIComponent(mark.unit)}&axle=${mark.axle}`}>
          Torques <kbd className={KEY}>T</kbd>
        </Link>
      </nav>
      {axle && vehicle.data ? (
        <Chain mark={mark} axle={axle} vehicle={vehicle.data} me={me} riskTarget={vehicle.data.riskTarget} />
      ) : (
        <p className="text-soft">{vehicle.isError ? vehicle.error.message : 'Fetching the pads …'}</p>
      )}
    </div>
  );
}
