import type { MarkCause, WhyMark } from '@mile-mark/contract/forecasts';
import { Why } from '../../../ui/Why.tsx';
import { daysBetween, formatDate, inDays } from '../../../ui/format.ts';

type Axle = WhyMark['axles'][number];
const CAUSES: Record<MarkCause, { label: string; reason: string }> = {
  others: {
    label: 'Others’ readings',
    reason:
      'What readings of other vehicles taught since: how its models wear, how its appraisers read, how sure past forecasts were.',
  },
  limits: { label: 'Limits', reason: 'Legal limits, specifications and the shop’s margin, where they were changed.' },
  policy: { label: 'Risk and costs', reason: 'The chance you allow, and the shop’s costs, where they were changed.' },
  driven: { label: 'Miles driven since', reason: 'Odometers since: more or fewer miles than was expected.' },
  pace: {
    label: 'Miles a day of its duty',
    reason: 'Another duty drives more or fewer miles a day: the same wear by another day.',
  },
  severity: {
    label: 'Severity of its duty',
    reason: 'Another duty, stated or measured by telematics, brakes harder or softer by the mile.',
  },
  readings: {
    label: 'Its own readings',
    reason: 'Every reading of it since, each weighed by appraiser and gauge, with the changes of wear that they show.',
  },
  pads: { label: 'Pads fitted', reason: 'New pads start a new life.' },
};

/** Causes that are of the vehicle itself. */
const OWN: readonly MarkCause[] = ['driven', 'pace', 'severity', 'readings', 'pads'];
/** From so many days on a move that nothing of its own made is said in words. */
const MOVED_DAYS = 7;

/** What moved a mark since a month ago, cause by cause: bars from where it stood to where it went, in days. */
export function Waterfall({ why, axle }: { why: WhyMark; axle: Axle }) {
  const start = axle.from.date;
  let at = start;
  const steps = axle.steps.map(({ cause, to }) => {
    const step = { cause, from: at, to: to.date, moved: daysBetween(at, to.date) };
    at = to.date;
    return step;
  });
  const moved = steps.filter(({ moved: days }) => days !== 0);
  const dates = [start, ...steps.map(({ to }) => to)];
  const low = dates.reduce((a, b) => (b < a ? b : a));
  const span = Math.max(
    7,
    daysBetween(
      low,
      dates.reduce((a, b) => (b > a ? b : a)),
    ),
  );
  const share = (date: string) => (daysBetween(low, date) / span) * 100;
  const row = (name: React.ReactNode, from: string, to: string, days: number | null, look: string) => (
    <div className="grid grid-cols-[11rem_1fr_5.5rem] items-center gap-2 py-0.5">
      <span>{name}</span>
      <span className="relative h-5 border-x border-hair bg-sheet">
        <span
          className={`absolute inset-y-0.5 ${look}`}
          style={{
            left: `${Math.min(share(from), share(to))}%`,
            width: `max(3px, ${Math.abs(share(to) - share(from))}%)`,
          }}
        />
      </span>
      <span className="figures text-right">
        {days === null ? formatDate(to) : days > 0 ? `${inDays(days)} later` : `${inDays(days)} sooner`}
      </span>
    </div>
  );
  const end = dates.at(-1) as string;
  const daysOf = (causes: readonly MarkCause[]) =>
    steps.reduce((sum, one) => sum + (causes.includes(one.cause) ? Math.abs(one.moved) : 0), 0);
  const notItsOwn = daysOf(['others']) >= MOVED_DAYS && daysOf(OWN) < MOVED_DAYS;
  return (
    <section aria-label="What moved the mark">
      <h2 className="font-semibold">What moved the mark since {formatDate(why.since ?? start)}</h2>
      <p className="mb-1 text-soft">
        {daysBetween(start, end) === 0
          ? 'It stands where it stood'
          : `${inDays(daysBetween(start, end))} ${end > start ? 'later' : 'sooner'} than then`}
        {why.afterwards && '; what the fleet had taught by then was learnt afterwards from that day’s record'}.
      </p>
      {row(<strong>It stood at</strong>, start, start, null, 'bg-ink')}
      {steps
        .filter(({ moved: days }) => days !== 0)
        .map(({ cause, from, to, moved: days }) => (
          <div key={cause}>
            {row(
              <Why label={CAUSES[cause].label} reason={<p>{CAUSES[cause].reason}</p>}>
                {CAUSES[cause].label}
              </Why>,
              from,
              to,
              days,
              days > 0 ? 'bg-later' : 'bg-sooner',
            )}
          </div>
        ))}
      {row(<strong>It stands at</strong>, end, end, null, 'bg-ink')}
      {notItsOwn && (
        <p className="mt-1 border-l-4 border-line bg-sheet px-2 py-1">
          Nothing of its own moved it: what other vehicles’ readings taught did, because its own are few or old. A look
          at it would settle more than theirs.
        </p>
      )}
      <p className="mt-1 text-[13px] text-soft">
        Each cause is taken in on top of those above it, in this order, so their days add up.
      </p>
      {moved.length < steps.length && (
        <p className="mt-1 text-[13px] text-soft">
          Moved nothing:{' '}
          {steps
            .filter(({ moved: days }) => days === 0)
            .map(({ cause }) => CAUSES[cause].label.toLowerCase())
            .join(', ')}
          .
        </p>
      )}
    </section>
  );
}
