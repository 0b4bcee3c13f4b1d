import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { Part } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { moneyInWords } from '@mile-mark/contract/words';
import { useParts } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { useAddressed } from '../../ui/useAddressed.ts';
import { PartForm } from './PartForm.tsx';
import { Suppliers } from './Suppliers.tsx';

const MOST = 200;

/** The catalogue: what fits where, who sells it, what took its place. */
export function Catalogue({ me }: { me: Me }) {
  const parts = useParts();
  const [find, setFind] = useAddressed('find', '');
  const [editing, setEditing] = useState<Part | 'new'>();
  if (parts.isPending) return <State title="Loading" what="Fetching the catalogue." quiet />;
  if (parts.isLoadingError)
    return (
      <State title="The catalogue couldn’t load" what={parts.error.message}>
        <Button onClick={() => void parts.refetch()}>Try again</Button>
      </State>
    );
  const wanted = find.trim().toUpperCase();
  const rows = parts.data.filter(({ number, makerNumber, name, kind, maker, offers, fits }) =>
    `${number} ${makerNumber ?? ''} ${name} ${kind} ${maker} ${offers.map(({ supplierNumber }) => supplierNumber ?? '').join(' ')} ${fits.map(({ model }) => model ?? '').join(' ')}`
      .toUpperCase()
      .includes(wanted),
  );
  const supplies = mayDo(me.role, 'supply');
  return (
    <section aria-label="Catalogue">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <Field label="Number, name, model or maker" value={find} onChange={(event) => setFind(event.target.value)} />
        {supplies && <Button onClick={() => setEditing('new')}>Add a part …</Button>}
        <span className="text-soft">
          {rows.length} of {parts.data.length}
        </span>
      </div>
      {rows.length > 0 ? (
        <DataTable name="parts" className="w-full text-left">
          <Heads names={['Part', 'What', 'Fits', 'Unit holds', 'Best price', 'On hand', '']} />
          <tbody>
            {rows.slice(0, MOST).map((part) => (
              <Row key={part.id} part={part} onEdit={supplies ? () => setEditing(part) : undefined} />
            ))}
          </tbody>
        </DataTable>
      ) : (
        <p>
          {parts.data.length === 0 ? 'No part is in the catalogue yet. Add the first.' : 'No part passes the filter.'}
        </p>
      )}
      {rows.length > MOST && <p className="mt-2">The first {MOST}; type a number or a model for the others.</p>}
      <Suppliers me={me} />
      {editing && <PartForm part={editing === 'new' ? undefined : editing} onClose={() => setEditing(undefined)} />}
    </section>
  );
}

function Row({ part, onEdit }: { part: Part; onEdit: (() => void) | undefined }) {
  const [best] = part.offers;
  return (
    <tr className={`border-b border-hair align-top ${part.retired ? 'text-soft' : ''}`}>
      <td className="py-1 px-2">
        <span className="figures text-base font-semibold">{part.number}</span>
        <span className="block text-[12px] text-soft">
          {part.maker} {part.makerNumber}
        </span>
      </td>
      <td className="px-2">
        {part.name}
        {part.supersededBy !== null && <span className="block">now {part.supersededBy}; used up first</span>}
        {part.exchangeMinor !== null && best && (
          <span className="block">the old one brings {moneyInWords(part.exchangeMinor, best.currency)}</span>
        )}
        {part.retired && <span className="block">retired</span>}
      </td>
      <td className="px-2">{part.fits.length === 0 ? 'every vehicle' : part.fits.map(fitInWords).join('; ')}</td>
      <td className="figures px-2">{part.pieces}</td>
      <td className="figures px-2">
        {best ? (
          <>
            {moneyInWords(best.priceMinor, best.currency)}
            <span className="block font-sans text-[12px] text-soft">
              {best.supplier}, {best.leadDays} days{best.pack > 1 ? `, packs of ${best.pack}` : ''}
            </span>
          </>
        ) : (
          <span className="font-sans text-soft">nobody sells it</span>
        )}
      </td>
      <td className="figures px-2 text-base font-semibold">{part.onHand}</td>
      <td>{onEdit && <Button onClick={onEdit}>Edit …</Button>}</td>
    </tr>
  );
}

function fitInWords({ model, axle, side, rotorMm }: Part['fits'][number]): string {
  return [
    model ?? 'every model',
    axle === null ? '' : ` axle ${axle}`,
    side === 'both' ? '' : `, ${side}`,
    rotorMm === null ? '' : `, ${rotorMm} mm rotors`,
  ].join('');
}
