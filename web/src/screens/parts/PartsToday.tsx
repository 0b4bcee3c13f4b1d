import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { JobKit, PartsDay, StockRow } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { usePartsDay } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { Count } from './Count.tsx';
import { Group, Lies, Missing, Proposals, Row } from './DayParts.tsx';
import { MoveOn } from './Move.tsx';
import { PickKit } from './PickKit.tsx';

interface Props {
  depot: string;
  me: Me;
  /** Leads to the orders, to one of them where it is named. */
  onOrders: (order?: string) => void;
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
  const { toPick, expiring, toCount, proposals } = day.data;
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
      <Coming day={day.data} supplies={supplies} onOrders={onOrders} onMove={setMoving} />
      {picking && <PickKit kit={picking} onClose={() => setPicking(undefined)} />}
      {moving && <MoveOn transfer={moving} onClose={() => setMoving(undefined)} />}
      {counting && <Count row={counting} onClose={() => setCounting(undefined)} />}
    </div>
  );
}

interface ComingProps {
  day: PartsDay;
  supplies: boolean;
  /** Leads to the orders, to one of them where it is named. */
  onOrders: (order?: string) => void;
  onMove: (transfer: PartsDay['transfers'][number]) => void;
}

/** What is missing, and what is on its way. */
function Coming({ day: { short, toReceive, transfers }, supplies, onOrders, onMove }: ComingProps) {
  return (
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
              <Button className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={() => onOrders(one.orderId)}>
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
              <Button className="shrink-0 whitespace-nowrap touch:min-h-12" onClick={() => onMove(one)}>
                Move …
              </Button>
            )}
          </li>
        ))}
      </Group>
    </div>
  );
}
