import { useState } from 'react';
import { toast } from 'sonner';
import type { Shop } from '@mile-mark/contract/plan';
import { moneyInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { useChangePlanTerms } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { figure, minorOf } from '../../api/typed.ts';
import { hours } from './figures.ts';

type Way = Shop['terms']['travel'][number];

const otherOf = ({ between }: Way, depot: string) => between.find((one) => one !== depot) ?? '';

/** Ways from a depot to others: where there is one, a plan may have its vehicles done there, and theirs here. */
export function Ways({ shop, depot, may }: { shop: Shop; depot: string; may: boolean }) {
  const [open, setOpen] = useState(false);
  const own = shop.terms.travel.filter(({ between }) => between.includes(depot));
  if (shop.depots.length < 2) return null;
  return (
    <section aria-label="Ways to other depots">
      <h2 className="flex flex-wrap items-baseline gap-3 text-lg font-semibold">
        Ways to other depots
        {may && (
          <Button look="bare" className="text-base font-normal" onClick={() => setOpen(true)}>
            Change …
          </Button>
        )}
      </h2>
      {own.length === 0 ? (
        <p className="text-soft">None stated: {depot} does its own vehicles, and no other depot does them.</p>
      ) : (
        <>
          <ul>
            {own.map((way) => (
              <li key={otherOf(way, depot)}>
                <span className="font-medium">{otherOf(way, depot)}</span>:{' '}
                <span className="figures">{hours(way.hours)} h</span> and {moneyInWords(way.costMinor, shop.currency)}{' '}
                there and back
              </li>
            ))}
          </ul>
          <p className="text-soft">A plan has a vehicle done there where that costs less, way included.</p>
        </>
      )}
      {open && <WaysForm shop={shop} depot={depot} onClose={() => setOpen(false)} />}
    </section>
  );
}

/** States the ways from a depot, a line for each other; blank where vehicles don't go. */
function WaysForm({ shop, depot, onClose }: { shop: Shop; depot: string; onClose: () => void }) {
  const change = useChangePlanTerms();
  const { terms, currency } = shop;
  const [rows, setRows] = useState(() =>
    shop.depots
      .filter((one) => one.depot !== depot)
      .map((one) => {
        const way = terms.travel.find(({ between }) => between.includes(depot) && between.includes(one.depot));
        return {
          other: one.depot,
          hours: way ? String(way.hours) : '',
          cost: way ? (way.costMinor / 100).toFixed(2) : '',
        };
      }),
  );
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const rest = terms.travel.filter(({ between }) => !between.includes(depot));
  const stated = rows.filter((row) => row.hours.trim() !== '' || row.cost.trim() !== '');
  const set = (other: string, typed: Partial<(typeof rows)[number]>) =>
    setRows(rows.map((row) => (row.other === other ? { ...row, ...typed } : row)));
  const { by: _by, on: _on, ...kept } = terms;
  return (
    <Modal open onClose={onClose} title={`Ways from ${depot}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const own = stated.map((row) => ({
            between: [depot, row.other],
            hours: figure(row.hours),
            costMinor: row.cost.trim() === '' ? 0 : minorOf(row.cost),
          }));
          change.mutate(
            { ...kept, travel: [...rest, ...own] },
            {
              onSuccess: () => {
                toast('Kept. Plan anew to see what it changes.');
                onClose();
              },
            },
          );
        }}
      >
        <p>
          There and back, as it costs at each visit. Leave a line blank where vehicles of the two don’t go to each
          other.
        </p>
        {rows.map((row) => {
          const at = rest.length + stated.indexOf(row);
          return (
            <fieldset key={row.other} className="grid grid-cols-[1fr_8rem_10rem] items-end gap-3">
              <legend className="sr-only">{row.other}</legend>
              <span className="pb-2 font-medium">{row.other}</span>
              <Field
                label="Hours"
                inputMode="decimal"
                placeholder="none"
                value={row.hours}
                onChange={(event) => set(row.other, { hours: event.target.value })}
                error={problem?.of(`travel.${at}.hours`)}
              />
              <Field
                label={`Driver and fuel, ${currency}`}
                inputMode="decimal"
                placeholder="none"
                value={row.cost}
                onChange={(event) => set(row.other, { cost: event.target.value })}
                error={problem?.of(`travel.${at}.costMinor`)}
              />
            </fieldset>
          );
        })}
        <Refusal problem={problem} />
        <div>
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
