import type { Demand } from '@mile-mark/contract/parts';
import { useDemand, useParts } from '../../api/parts.ts';
import { DataTable } from '../../ui/DataTable.tsx';
import { Term } from '../../drawings/Term.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { State } from '../../ui/State.tsx';
import { axisOf, INK, legendBelow } from '../../ui/charts.ts';
import { LineChart } from '../../ui/LineChart.tsx';
import { formatDate } from '../../ui/format.ts';
import { useAddressed } from '../../ui/useAddressed.ts';

/** What a depot will need of a part, week by week, against what it has; each figure with how it came about. */
export function NeedView({ depot }: { depot: string }) {
  const parts = useParts();
  const [chosen, setChosen] = useAddressed('part', '');
  if (parts.isPending) return <State title="Loading" what="Fetching the catalogue." quiet />;
  if (parts.isLoadingError) return <State title="The catalogue couldn’t load" what={parts.error.message} />;
  const list = parts.data.filter(({ retired }) => !retired);
  if (list.length === 0)
    return (
      <State
        title="No part yet"
        what="Put parts in the catalogue; what will be needed of them follows from the mile marks."
        quiet
      />
    );
  const part = list.some(({ number }) => number === chosen)
    ? chosen
    : (list.find(({ kind }) => kind === 'brake pad')?.number ?? list[0]?.number ?? '');
  return (
    <section aria-label="What is needed">
      <div className="mb-3 max-w-xl">
        <Choose label={`Part, at ${depot}`} value={part} onChange={({ target }) => setChosen(target.value)}>
          {list.map(({ number, name }) => (
            <option key={number} value={number}>
              {number} {name}
            </option>
          ))}
        </Choose>
      </div>
      <OnePart part={part} depot={depot} />
    </section>
  );
}

function OnePart({ part, depot }: { part: string; depot: string }) {
  const demand = useDemand(part, depot);
  if (demand.isPending) return <State title="Loading" what="Fetching what is needed." quiet />;
  if (demand.isLoadingError) return <State title="What is needed is not known" what={demand.error.message} />;
  const { items, lead, onHand, onOrder, reorderPoint, orderQuantity, why } = demand.data;
  return (
    <div className="grid grid-cols-1 gap-6 xl:grid-cols-[1fr_26rem]">
      {items.length > 0 && <Chart demand={demand.data} />}
      <div>
        <dl className="grid grid-cols-[11rem_1fr] gap-y-1">
          <dt className="text-soft">On hand, on order</dt>
          <dd className="figures text-lg font-semibold">
            {onHand} + {onOrder}
          </dd>
          <dt className="text-soft">Needed in {lead.days} days</dt>
          <dd className="figures text-lg font-semibold">
            {lead.quantiles['0.5']}{' '}
            <span className="text-[13px] font-normal">
              (at most {lead.quantiles['0.95']}, nineteen times in twenty)
            </span>
          </dd>
          <dt className="text-soft">
            <Term of="reorderPoint">Reorder point</Term>
          </dt>
          <dd className="figures text-lg font-semibold">{reorderPoint}</dd>
          <dt className="text-soft">To order now</dt>
          <dd className="figures text-lg font-semibold">{orderQuantity}</dd>
        </dl>
        <h2 className="mt-3 font-semibold">How these figures come about</h2>
        <ol className="list-decimal pl-5">
          {why.map((text) => (
            <li key={text} className="py-0.5">
              {text}
            </li>
          ))}
        </ol>
      </div>
    </div>
  );
}

/** Need added up week by week, with the range that holds nine times in ten of each week's own, against what there is. */
function Chart({ demand: { items, onHand, onOrder } }: { demand: Demand }) {
  let sum = 0;
  const added = items.map(({ mean }) => (sum += mean));
  const line = (label: string, data: number[], colour: string, rest: object = {}) => ({
    label,
    data,
    borderColor: colour,
    backgroundColor: colour,
    borderWidth: 2,
    pointRadius: 0,
    ...rest,
  });
  return (
    <div className="min-w-0">
      <div className="h-72 bg-sheet p-2">
        <LineChart
          aria-label="Units needed by week, added up, against stock and orders"
          options={{
            scales: { x: { title: { display: true, text: 'week from' } }, y: axisOf('units', { min: 0 }) },
            plugins: { legend: legendBelow(new Set()) },
          }}
          data={{
            labels: items.map(({ week }) => formatDate(week)),
            datasets: [
              line('needed, added up in the mean', added, INK.line),
              line(
                'on hand',
                items.map(() => onHand),
                INK.soft,
                { borderDash: [6, 4] },
              ),
              line(
                'on hand and on order',
                items.map(() => onHand + onOrder),
                INK.soft,
              ),
            ],
          }}
        />
      </div>
      <DataTable name="need" className="figures mt-2 w-full text-right">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="text-left font-medium">Week from</th>
            <th className="font-medium">In the mean</th>
            <th className="font-medium">Likely</th>
            <th className="font-medium">Nine times in ten</th>
          </tr>
        </thead>
        <tbody>
          {items.slice(0, 12).map(({ week, mean, quantiles }) => (
            <tr key={week} className="border-b border-hair">
              <td className="py-0.5 text-left">{formatDate(week)}</td>
              <td>{mean.toFixed(1)}</td>
              <td>{quantiles['0.5']}</td>
              <td>
                {quantiles['0.05']} to {quantiles['0.95']}
              </td>
            </tr>
          ))}
        </tbody>
      </DataTable>
    </div>
  );
}
