import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { JobKit, PartsDay, StockRow } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { kitStateInWords, moneyInWords, needInWords, needPlaceInWords } from '@mile-mark/contract/words';
import { usePartsDay } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { Count } from './Count.tsx';
import { MoveOn } from './Move.tsx';
import { PickKit } from './PickKit.tsx';

interface Props {
  depot: string;
  me: Me;
  onOrders: () => void;
}

/** The parts keeper's day on one screen: what to do first stands first. */
export function PartsToday({ depot, me, onOrders }: Props) {
  const day = usePartsDay(depot);
  const [picking, setPicking] = useState<JobKit>();
  const [counting, setCounting] = useState<StockRow>();
  const [moving, setMoving] = useState<PartsDay['transfers'][number]>();
  if (day.isPending) return <State title="Loading" what="Fetching what is to be done." quiet />;
  if (day.isLoadingError)
    return (
      <State title="The day couldn’t load" what={day.error.message}>
        <Button onClick={() => void day.refetch()}>Try again</Button>
      </State>
    );
  const { toPick, short, toReceive, expiring, toCount, proposals, transfers } = day.data;
  const supplies = mayDo(me.role, 'supply');
  return (
    <div className="grid items-start gap-x-8 gap-y-5 lg:grid-cols-2">
      <div className="flex flex-col gap-5">
        <Group
          name="To pick"
          what="for jobs of today and the next two days"
          count={toPick.length}
          none="Nothing is to be picked."
        >
          {toPick.map((kit, i) => (
            <Row key={kit.jobId} kit={kit}>
              {mayDo(me.role, 'pick') && (
                <Button
                  look={i === 0 ? 'next' : 'plain'}
                  className="shrink-0 whitespace-nowrap touch:min-h-12"
                  onClick={() => setPicking(kit)}
                >
                  Pick …
                </Button>
              )}
            </Row>
          ))}
        </Group>
        <Group
          name="To order"
          what="proposals that wait for somebody"
          count={proposals.length}
          none="Nothing needs to be ordered today."
        >
          <Proposals
            proposals={proposals}
            today={day.data.today}
            onOrders={onOrders}
            act={supplies && toPick.length === 0}
          />
        </Group>
        <Group
          name="To count"
          what="the record and the shelf disagree"
          count={toCount.length}
          none="No bin is to be counted."
        >
          {toCount.map((row) => (
            <Lies key={`${row.part}/${row.depot}/${row.bin}/${row.lot ?? ''}`} row={row} what={row.count ?? ''}>
              {supplies && (
                <Button className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={() => setCounting(row)}>
                  Count …
                </Button>
              )}
            </Lies>
          ))}
        </Group>
        <Group
          name="Expiring"
          what="within thirty days"
          count={expiring.length}
          none="Nothing expires within thirty days."
        >
          {expiring.map((row) => (
            <Lies
              key={`${row.part}/${row.depot}/${row.bin}/${row.lot ?? ''}`}
              row={row}
              what={`${(row.expiresOn ?? '') < day.data.today ? 'expired' : 'expires'} ${formatDate(row.expiresOn ?? '')}${row.lot === null ? '' : `, lot ${row.lot}`}`}
            />
          ))}
        </Group>
      </div>
      <div className="flex flex-col gap-5">
        <Group
          name="Short"
          what="for jobs of the next ten days"
          count={short.length}
          none="Every kit of the next ten days is there or comes in time."
        >
          {short.map((kit) => (
            <Row key={kit.jobId} kit={kit}>
              <Missing kit={kit} />
            </Row>
          ))}
        </Group>
        <Group name="To receive" what="on its way" count={toReceive.length} none="Nothing is on its way.">
          {toReceive.map((one) => (
            <li key={one.orderId} className="flex items-center gap-3 border-b border-hair py-1.5">
              <span className="grow">
                <span className="figures font-semibold">{one.number}</span> {one.supplier}, {one.units}{' '}
                {one.units === 1 ? 'unit' : 'units'} for {one.depot}
              </span>
              <span className="figures">{one.day === null ? 'no day promised' : formatDate(one.day)}</span>
              {supplies && (
                <Button className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={onOrders}>
                  Receive …
                </Button>
              )}
            </li>
          ))}
        </Group>
        <Group
          name="To move"
          what="between depots, before any is bought"
          count={transfers.length}
          none="No depot has more than it needs of what another lacks."
        >
          {transfers.map((one) => (
            <li key={`${one.part}/${one.to}`} className="flex items-center gap-3 border-b border-hair py-1.5">
              <span className="grow">
                <span className="figures font-semibold">{one.units}</span> × <span className="figures">{one.part}</span>{' '}
                {one.name}: {one.from} → {one.to}
              </span>
              {supplies && (
                <Button className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={() => setMoving(one)}>
                  Move …
                </Button>
              )}
            </li>
          ))}
        </Group>
      </div>
      {picking && <PickKit kit={picking} onClose={() => setPicking(undefined)} />}
      {moving && <MoveOn transfer={moving} onClose={() => setMoving(undefined)} />}
      {counting && <Count row={counting} onClose={() => setCounting(undefined)} />}
    </div>
  );
}

function Group({
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

function Row({ kit, children }: { kit: JobKit; children?: ReactNode }) {
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
function Missing({ kit }: { kit: JobKit }) {
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

function Proposals({
  proposals,
  today,
  onOrders,
  act,
}: {
  proposals: PartsDay['proposals'];
  today: string;
  onOrders: () => void;
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
        <Button look={act ? 'next' : 'plain'} className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={onOrders}>
          Look over and approve
        </Button>
      </li>
    </>
  );
}

function Lies({ row, what, children }: { row: StockRow; what: string; children?: ReactNode }) {
  return (
    <li className="flex items-center gap-3 border-b border-hair py-1.5">
      <span className="figures text-lg font-semibold">{row.bin}</span>
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
