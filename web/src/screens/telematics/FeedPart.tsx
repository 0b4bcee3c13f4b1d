import { DataTable } from '../../ui/DataTable.tsx';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { FeedView } from '@mile-mark/contract/telematics';
import { useFeed, usePollFeed } from '../../api/telematics.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';

const FAULTS: Record<FeedView['faults'][number]['fault'], string> = {
  falls: 'odometer falls',
  leaps: 'odometer leaps',
  twice: 'day came twice',
  gap: 'silent before',
  unknown: 'unknown unit',
  unreadable: 'not readable',
};

/** The telematics feed: whom it hears, and what it said that was not believed. */
export function FeedPart({ me }: { me: Me }) {
  const feed = useFeed();
  const poll = usePollFeed();
  if (feed.isPending) return <State title="Loading" what="Fetching how the feed stands." quiet />;
  if (feed.isLoadingError) return <State title="It couldn’t load" what={feed.error.message} />;
  const { connected, polledAt, failedAt, failure, vehicles, faults } = feed.data;
  if (!connected)
    return (
      <State
        title="No telematics feed is connected"
        what="Set FEED_URL to a service that answers GET /days; odometers and duties then come without typing. Until then state duties here, or read a trace."
      />
    );
  return (
    <div className="flex flex-col gap-4">
      <div className="flex items-baseline gap-4">
        <p>
          {polledAt
            ? `Read last on ${formatDate(polledAt.slice(0, 10))} at ${polledAt.slice(11, 16)}.`
            : 'Not read yet.'}{' '}
          It hears {vehicles.length} vehicles; odometers and duties of these come without typing, read every quarter of
          an hour.
        </p>
        {mayDo(me.role, 'register') && (
          <Button onClick={() => poll.mutate()} disabled={poll.isPending}>
            Read it now
          </Button>
        )}
      </div>
      {failure && (
        <p role="alert" className="border-l-4 border-brick bg-sheet px-3 py-2">
          The feed could not be read
          {failedAt && ` on ${formatDate(failedAt.slice(0, 10))} at ${failedAt.slice(11, 16)}`}: {failure}. What came
          before stays; it is tried again by itself.
        </p>
      )}
      <section>
        <h2 className="mb-1 font-semibold">
          {faults.length === 0
            ? 'Nothing to doubt'
            : `${faults.length} ${faults.length === 1 ? 'line' : 'lines'} flagged: not believed, or with something to know`}
        </h2>
        {faults.length > 0 && (
          <DataTable name="feed" className="w-full">
            <thead>
              <tr className="border-b border-line text-left text-soft">
                <th className="py-1 font-normal">Day</th>
                <th className="font-normal">Unit</th>
                <th className="font-normal">What</th>
                <th className="font-normal">Why</th>
              </tr>
            </thead>
            <tbody>
              {faults.map(({ id, day, unit, fault, note }) => (
                <tr key={id} className="border-b border-hair">
                  <td className="figures py-1 pr-3 whitespace-nowrap">{formatDate(day)}</td>
                  <td className="figures pr-3 font-semibold">
                    {fault === 'unknown' || fault === 'unreadable' ? (
                      unit
                    ) : (
                      <Link to={`/vehicles/${unit}`}>{unit}</Link>
                    )}
                  </td>
                  <td className="pr-3 whitespace-nowrap">{FAULTS[fault]}</td>
                  <td>{note}</td>
                </tr>
              ))}
            </tbody>
          </DataTable>
        )}
      </section>
      <section>
        <h2 className="mb-1 font-semibold">Heard</h2>
        <ul className="figures grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-4">
          {vehicles.map(({ unit, lastDay, days }) => (
            <li key={unit} className="border-b border-hair py-0.5">
              <Link className="font-semibold" to={`/vehicles/${unit}`}>
                {unit}
              </Link>{' '}
              {days} days, last {formatDate(lastDay)}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
