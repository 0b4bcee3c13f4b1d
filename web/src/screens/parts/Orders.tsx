import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { Order, OrderLine } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { moneyInWords } from '@mile-mark/contract/words';
import { useOrders } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { Why } from '../../ui/Why.tsx';
import { formatDate } from '../../ui/format.ts';
import { useAddressed } from '../../ui/useAddressed.ts';
import { Approve } from './Approve.tsx';
import { CallOff } from './CallOff.tsx';
import { Receive } from './Receive.tsx';
import { Terms } from './Terms.tsx';

const STANDS: Record<Order['state'], string> = {
  proposed: 'proposed',
  approved: 'approved, going out',
  sent: 'sent',
  acknowledged: 'the supplier has it',
  received: 'received',
  rejected: 'rejected',
  'called off': 'called off',
};

/** Orders: proposals to look over, what is on its way, and what its supplier said. */
export function Orders({ depot, me }: { depot: string; me: Me }) {
  const orders = useOrders({ ...(depot ? { depot } : {}), state: 'open' });
  const done = useOrders({ ...(depot ? { depot } : {}), state: 'received' });
  const [chosen, setChosen] = useAddressed('order', '');
  if (orders.isPending) return <State title="Loading" what="Fetching the orders." quiet />;
  if (orders.isLoadingError)
    return (
      <State title="The orders couldn’t load" what={orders.error.message}>
        <Button onClick={() => void orders.refetch()}>Try again</Button>
      </State>
    );
  const all = [...orders.data, ...(done.data ?? [])];
  if (all.length === 0)
    return (
      <>
        <State
          title="No order"
          what="Where stock falls under its reorder point, a proposal for its supplier stands here."
          quiet
        />
        <Terms me={me} />
      </>
    );
  const order = all.find(({ id }) => id === chosen) ?? all[0];
  return (
    <>
      <div className="grid gap-6 lg:grid-cols-[20rem_1fr]">
        <nav aria-label="Orders">
          <ul>
            {all.map((one) => (
              <li key={one.id}>
                <button
                  type="button"
                  aria-current={one.id === order?.id}
                  onClick={() => setChosen(one.id)}
                  className={`w-full border-b border-hair px-2 py-2 text-left hover:bg-raised touch:min-h-12 ${one.id === order?.id ? 'border-l-4 border-l-ink bg-raised' : ''}`}
                >
                  <span className="figures font-semibold">{one.number}</span> {one.supplier}
                  <span className="block text-soft">
                    {one.depot}, {one.lines.length} {one.lines.length === 1 ? 'line' : 'lines'},{' '}
                    {moneyInWords(one.totalMinor, one.currency)}
                  </span>
                  <span className={one.state === 'proposed' ? 'font-medium' : 'text-soft'}>{STANDS[one.state]}</span>
                </button>
              </li>
            ))}
          </ul>
        </nav>
        {order && <OneOrder key={order.id} order={order} me={me} />}
      </div>
      <Terms me={me} />
    </>
  );
}

function OneOrder({ order, me }: { order: Order; me: Me }) {
  const supplies = mayDo(me.role, 'supply');
  const [asking, setAsking] = useState<'receive' | 'no more'>();
  // As it was when it was opened: what is looked over does not change under a finger.
  const [opened, setOpened] = useState<Order>();
  const coming = order.state === 'approved' || order.state === 'sent' || order.state === 'acknowledged';
  return (
    <section aria-label={`Order ${order.number}`} className="min-w-0">
      <header className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2 className="text-lg font-semibold">
          <span className="figures">{order.number}</span> {order.supplier} for {order.depot}
        </h2>
        <span>{STANDS[order.state]}</span>
        {order.approvedBy !== null && <span className="text-soft">approved by {order.approvedBy}</span>}
        {order.outside && <span className="text-soft">placed elsewhere</span>}
        {order.reference !== null && <span className="figures text-soft">their number {order.reference}</span>}
        <span className="ml-auto flex gap-2">
          {supplies && order.state === 'proposed' && (
            <Button look="next" onClick={() => setOpened(order)}>
              Look over, approve …
            </Button>
          )}
          {supplies && coming && (
            <Button onClick={() => setAsking('no more')}>
              {order.state === 'approved' ? 'Call it off …' : 'No more comes …'}
            </Button>
          )}
          {supplies && coming && (
            <Button look="next" onClick={() => setAsking('receive')}>
              Receive …
            </Button>
          )}
        </span>
      </header>
      <ul>
        {order.lines.map((line) => (
          <Line key={line.id} line={line} order={order} coming={coming} />
        ))}
      </ul>
      <p className="mt-2">
        Goods <span className="figures">{moneyInWords(order.totalMinor, order.currency)}</span>, freight{' '}
        <span className="figures">
          {order.freightMinor === 0 ? 'free' : moneyInWords(order.freightMinor, order.currency)}
        </span>
        {order.freightMinor > 0 &&
          order.freightFreeMinor !== null &&
          ` (free from ${moneyInWords(order.freightFreeMinor, order.currency)} on: ${moneyInWords(order.freightFreeMinor - order.totalMinor, order.currency)} more)`}
      </p>
      {order.said.length > 0 && (
        <section aria-label="What the supplier said" className="mt-4">
          <h3 className="font-semibold">What the supplier said</h3>
          <ul>
            {order.said.map(({ text }) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </section>
      )}
      {opened && <Approve order={opened} onClose={() => setOpened(undefined)} />}
      {asking === 'no more' && <CallOff order={order} onClose={() => setAsking(undefined)} />}
      {asking === 'receive' && <Receive order={order} onClose={() => setAsking(undefined)} />}
    </section>
  );
}

/** A line of an order: what, how many, why, and how far it is. */
function Line({ line, order, coming }: { line: OrderLine; order: Order; coming: boolean }) {
  return (
    <li className="border-b border-hair py-1.5">
      <span className="flex flex-wrap items-baseline gap-x-3">
        <span className="figures text-base font-semibold">{line.units}</span> ×
        <span className="figures font-semibold">{line.part}</span>
        <span className="grow">{line.name}</span>
        <span className="figures">{moneyInWords(line.units * line.priceMinor, line.currency)}</span>
        <Why
          label={`${line.part}: why`}
          reason={
            <ul>
              {line.why.map((text) => (
                <li key={text} className="py-0.5">
                  {text}
                </li>
              ))}
            </ul>
          }
        >
          why
        </Why>
      </span>
      <span className="flex flex-wrap gap-x-4 text-soft">
        {coming && (
          <span>
            {line.received} of {line.units} received
          </span>
        )}
        {line.promisedOn !== null && order.state !== 'received' && <span>promised {formatDate(line.promisedOn)}</span>}
        {line.latest !== null && order.state === 'proposed' && (
          <span className={line.latest <= order.madeOn ? 'font-medium text-brick' : ''}>
            {line.latest <= order.madeOn ? 'order today' : `order by ${formatDate(line.latest)}`}
          </span>
        )}
        {line.instead !== null && <span className="text-ink">comes as {line.instead}</span>}
        {line.ended === 'rejected' && <span className="font-medium text-brick">can’t be had</span>}
        {line.ended === 'short' && <span>no more comes</span>}
      </span>
      {line.doubts.map((text) => (
        <p key={text} className="font-medium text-brick">
          {text}
        </p>
      ))}
    </li>
  );
}
