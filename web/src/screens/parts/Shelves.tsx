import { useState } from 'react';
import { useAddressed } from '../../ui/useAddressed.ts';
import { mayDo } from '@mile-mark/contract';
import type { StockRow } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { useStock } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { BinLabels } from './BinLabels.tsx';
import { Count } from './Count.tsx';
import { Move } from './Move.tsx';

/** As many rows are shown; who looks for more narrows it. */
const MOST = 200;

/** What lies in which bin; counting goes bin by bin along the shelf. */
export function Shelves({ depot, depots, me }: { depot: string; depots: readonly string[]; me: Me }) {
  const stock = useStock(depot);
  const [find, setFind] = useAddressed('find', '');
  const [walk, setWalk] = useState<StockRow[]>([]);
  const [moving, setMoving] = useState<StockRow | 'new'>();
  const [labels, setLabels] = useState(false);
  if (stock.isPending) return <State title="Loading" what="Fetching what lies where." quiet />;
  if (stock.isLoadingError)
    return (
      <State title="The shelves couldn’t load" what={stock.error.message}>
        <Button onClick={() => void stock.refetch()}>Try again</Button>
      </State>
    );
  const wanted = find.trim().toUpperCase();
  const rows = stock.data.filter(({ part, name, bin, kind }) =>
    `${part} ${name} ${bin} ${kind}`.toUpperCase().includes(wanted),
  );
  const supplies = mayDo(me.role, 'supply');
  if (labels) return <BinLabels rows={rows} onClose={() => setLabels(false)} />;
  const [counting] = walk;
  return (
    <section aria-label="Shelves">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <Field label="Part, name or bin" value={find} onChange={(event) => setFind(event.target.value)} />
        {supplies && <Button onClick={() => setMoving('new')}>Receive without an order …</Button>}
        {supplies && rows.length > 0 && (
          <Button onClick={() => setWalk(rows.slice(0, MOST))}>Count these, bin by bin</Button>
        )}
        {rows.length > 0 && <Button onClick={() => setLabels(true)}>Labels …</Button>}
      </div>
      {rows.length === 0 ? (
        <p>
          {stock.data.length === 0
            ? 'Nothing is on the shelves yet. Receive an order, or put in what lies there.'
            : 'Nothing passes the filter.'}
        </p>
      ) : (
        <DataTable name="shelves" className="w-full text-left">
          <Heads names={['Bin', 'Part', 'What', 'Units', 'Lot, expires', 'Depot', '']} />
          <tbody>
            {rows.slice(0, MOST).map((row) => (
              <tr key={`${row.depot}/${row.bin}/${row.part}/${row.lot ?? ''}`} className="border-b border-hair">
                <td className="figures py-1 px-2 text-base font-semibold">{row.bin}</td>
                <td className="figures px-2">{row.part}</td>
                <td className="px-2">{row.name}</td>
                <td className={`figures pr-3 text-base font-semibold ${row.units < 0 ? 'text-brick' : ''}`}>
                  {row.units}
                  {row.count !== null && (
                    <span className="block font-sans text-[13px] font-normal text-brick">to count: {row.count}</span>
                  )}
                </td>
                <td className="px-2">{row.lot === null ? '' : `${row.lot}, ${formatDate(row.expiresOn ?? '')}`}</td>
                <td className="px-2">{row.depot}</td>
                <td className="whitespace-nowrap">
                  {supplies && (
                    <span className="flex gap-2">
                      <Button onClick={() => setWalk([row])}>Count …</Button>
                      <Button onClick={() => setMoving(row)}>Move …</Button>
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </DataTable>
      )}
      {rows.length > MOST && (
        <p className="mt-2">
          The first {MOST} of {rows.length}; type a part or a bin for the others.
        </p>
      )}
      {counting && (
        <Count
          key={`${counting.bin}/${counting.part}/${counting.lot ?? ''}`}
          row={counting}
          onClose={() => setWalk([])}
          {...(walk.length > 1 ? { onNext: () => setWalk(walk.slice(1)) } : {})}
        />
      )}
      {moving && (
        <Move
          of={moving === 'new' ? undefined : moving}
          depot={depot}
          depots={depots}
          onClose={() => setMoving(undefined)}
        />
      )}
    </section>
  );
}
