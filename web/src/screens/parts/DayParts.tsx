import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { JobKit, PartsDay, StockRow } from '@mile-mark/contract/parts';
import { kitStateInWords, moneyInWords, needInWords, needPlaceInWords } from '@mile-mark/contract/words';
import { Button } from '../../ui/Button.tsx';
import { formatDate } from '../../ui/format.ts';

export function Group({
  name,
  what,
  count,
  none,
  children,
}: {
  name: string;
  what: string;
  count: number;
  none: string;
  children: ReactNode;
}) {
  return (
    <section aria-label={name}>
      <h2 className="border-b border-line pb-1 text-lg font-semibold">
        {name} {count > 0 && <span className="figures">{count}</span>}{' '}
        <span className="text-[13px] font-normal text-soft">{what}</span>
      </h2>
      {count === 0 ? <p className="py-1.5 text-soft">{none}</p> : <ul>{children}</ul>}
    </section>
  );
}

export function Row({ kit, children }: { kit: JobKit; children?: ReactNode }) {
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hair py-1.5">
      <span className="grow">
        <Link
          className="figures text-lg font-semibold underline decoration-line underline-offset-4"
          to={`/jobs/${kit.jobId}`}
        >
          {kit.unit}
        </Link>{' '}
        {kit.model}, {kit.depot}
        <span className={`block ${kit.state === 'short' ? 'font-medium text-brick' : 'text-soft'}`}>
          {kit.booked ? formatDate(kit.day) : `mark ${formatDate(kit.day)}`}: {kitStateInWords(kit)}
        </span>
        {kit.notices[0] && <span className="block">{kit.notices[0].text}</span>}
      </span>
      {children}
    </li>
  );
}

/** The lines of a kit that are not there. */
export function Missing({ kit }: { kit: JobKit }) {
  return (
    <ul className="basis-full pl-4">
      {kit.needs
        .filter(({ now }) => now.state === 'short' || (now.state === 'comes' && !now.inTime))
        .map((need) => (
          <li key={`${need.kind}/${need.axle ?? ''}/${need.side}`}>
            <span className="font-medium">{need.kind}</span> {needPlaceInWords(need)}{' '}
            <span className="figures">{need.options[0]?.part ?? ''}</span>: {needInWords(need)}
          </li>
        ))}
    </ul>
  );
}

export function Proposals({
  proposals,
  today,
  onOrders,
  act,
}: {
  proposals: PartsDay['proposals'];
  today: string;
  onOrders: (order?: string) => void;
  act: boolean;
}) {
  return (
    <>
      {proposals.map((one) => (
        <li key={one.orderId} className="flex items-center gap-3 border-b border-hair py-1.5">
          <span className="grow">
            {one.supplier} for {one.depot}, {one.lines} {one.lines === 1 ? 'line' : 'lines'},{' '}
            <span className="figures">{moneyInWords(one.totalMinor, one.currency)}</span>
          </span>
          {one.latest !== null && (
            <span className={one.latest <= today ? 'font-medium text-brick' : ''}>
              {one.latest <= today ? 'order today' : `by ${formatDate(one.latest)}`}
            </span>
          )}
        </li>
      ))}
      <li className="pt-2">
        <Button
          look={act ? 'next' : 'plain'}
          className="shrink-0 whitespace-nowrap touch:min-h-12"
          onClick={() => onOrders(proposals[0]?.orderId)}
        >
          Look over and approve
        </Button>
      </li>
    </>
  );
}

export function Lies({ row, what, children }: { row: StockRow; what: string; children?: ReactNode }) {
  return (
    <li className="flex items-center gap-3 border-b border-hair py-1.5">
      <span className="figures text-lg font-semibold whitespace-nowrap">{row.bin}</span>
      <span className="grow">
        <span className="figures">{row.part}</span> {row.name}, {row.depot}
        <span className="block text-soft">
          {row.units} by the record; {what}
        </span>
      </span>
      {children}
    </li>
  );
}
