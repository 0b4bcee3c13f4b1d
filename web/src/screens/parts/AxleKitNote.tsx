import { axleOrderInWords } from '@mile-mark/contract/words';
import { useAxleKits } from '../../api/parts.ts';
import { useSession } from '../../api/people.ts';
import { formatDate } from '../../ui/format.ts';

/** For an axle without a job: whether its kit would be there at its mark, and what to order by when. */
export function AxleKitNote({ unit, axle }: { unit: string; axle: number }) {
  const kit = useAxleKits(unit).data?.find((one) => one.axle === axle);
  const today = useSession().data?.today ?? '';
  if (!kit) return null;
  const { state, until, orders, faults } = kit;
  if (state !== 'short')
    return (
      <p className="order-last basis-full text-soft">
        Its kit {state === 'complete' ? 'is there' : 'is there with another number'} at the mark.
      </p>
    );
  return (
    <div className="order-last basis-full">
      <p className="font-semibold">Its kit would be short{until !== null && ` until ${formatDate(until)}`}:</p>
      <ul>
        {orders.map((order) => (
          <li key={order.part} className={order.by <= today ? 'font-medium text-brick' : ''}>
            {axleOrderInWords(order, today)}
          </li>
        ))}
        {faults.map((text) => (
          <li key={text} className="font-medium text-brick">
            {text}
          </li>
        ))}
      </ul>
    </div>
  );
}
