import type { ReactNode } from 'react';
import type { JobNeeds } from '@mile-mark/contract/jobs';
import { useCard } from '../../stores/card.ts';
import { kitLineInWords, minutesInWords } from '@mile-mark/contract/words';

/** What the job takes, as its card has it. */
export function Takes({ id }: { id: string }) {
  const card = useCard(id);
  if (!card.data) return card.isLoadingError ? <p role="alert">{card.error.message}</p> : null;
  return (
    <section aria-label="What it takes">
      <h2 className="mb-1 font-semibold">What it takes</h2>
      <Needs needs={card.data.card.needs} />
    </section>
  );
}

/** What a job takes: parts by axle, tools, wrenches, where it is lifted, how long it is likely to take. */
function Needs({ needs }: { needs: JobNeeds }) {
  const axles = [...new Set(needs.kit.map(({ axle }) => axle))];
  return (
    <dl className="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1">
      <dt className="text-soft">Time</dt>
      <dd>
        about {minutesInWords(needs.minutes)}{' '}
        <span className="text-soft">
          {needs.timedJobs > 0
            ? `by the shop’s own times, from ${needs.timedJobs} closed ${needs.timedJobs === 1 ? 'job' : 'jobs'}`
            : 'as is usual; the shop’s own times are not known yet'}
        </span>
      </dd>
      {axles.map((axle) => (
        <Row key={axle ?? 'all'} name={axle === null ? 'Consumables' : `Axle ${axle}`}>
          {needs.kit
            .filter((line) => line.axle === axle)
            .map((line) => `${kitLineInWords(line)}${line.oneTimeUse ? ' (never again)' : ''}`)
            .join(', ')}
        </Row>
      ))}
      {needs.freshJoints.length > 0 && <Row name="New bolts">{needs.freshJoints.join(', ')}</Row>}
      {needs.tools.length > 0 && <Row name="Tools">{needs.tools.join(', ')}</Row>}
      {needs.wrenches.length > 0 && (
        <Row name="Wrenches">
          <ul>
            {needs.wrenches.map((one) => (
              <li key={`${one.joint}/${one.with}`}>
                {one.joint}: {one.with} <span className="text-soft">socket {one.socket}</span>
              </li>
            ))}
          </ul>
        </Row>
      )}
      <Row name="Lifting">
        {needs.lifting.points ?? 'At the points of the maker’s manual.'}{' '}
        <span className="text-soft">
          Gross {Math.round(needs.lifting.grossKg).toLocaleString('en-US')} kg: jack and stands rated for the axle’s
          share of it, never the jack alone.
        </span>
      </Row>
    </dl>
  );
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd>{children}</dd>
    </>
  );
}
