import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { PartsTerms } from '@mile-mark/contract/parts';
import type { Me } from '@mile-mark/contract/people';
import { moneyInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { useChangePartsTerms, usePartsTerms, useSuppliers } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { formatDate } from '../../ui/format.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { figure, minorOf } from '../../api/typed.ts';

const percent = (share: number) => `${Number((share * 100).toFixed(1))} %`;

/** What orders rest on, in a line; a form behind it. */
export function Terms({ me }: { me: Me }) {
  const terms = usePartsTerms();
  const [changing, setChanging] = useState(false);
  if (!terms.data) return terms.isLoadingError ? <p role="alert">{terms.error.message}</p> : null;
  const { service, holdingShare, budget, by, on } = terms.data;
  return (
    <section aria-label="What orders rest on" className="mt-6 border-t border-line pt-2">
      <h2 className="flex flex-wrap items-baseline gap-3 font-semibold">
        What proposals rest on
        {mayDo(me.role, 'supply') && (
          <Button look="bare" onClick={() => setChanging(true)}>
            Change …
          </Button>
        )}
      </h2>
      <p>
        Enough over the lead time in <span className="figures font-semibold">{percent(service)}</span> of cases; a year
        on the shelf costs <span className="figures font-semibold">{percent(holdingShare)}</span> of the price;{' '}
        {budget ? (
          <>
            a month may bind{' '}
            <span className="figures font-semibold">{moneyInWords(budget.minor, budget.currency)}</span>,{' '}
            <span className="figures">{moneyInWords(budget.spentMinor, budget.currency)}</span> of this one is bound.
          </>
        ) : (
          'no budget binds.'
        )}
        {by !== null && on !== null && (
          <span className="text-soft">
            {' '}
            Since {formatDate(on)}, {by}.
          </span>
        )}
      </p>
      {changing && <TermsForm terms={terms.data} onClose={() => setChanging(false)} />}
    </section>
  );
}

function TermsForm({ terms, onClose }: { terms: PartsTerms; onClose: () => void }) {
  const suppliers = useSuppliers();
  const currencies = [...new Set((suppliers.data ?? []).map(({ currency }) => currency))];
  const [form, setForm] = useState({
    service: String(Number((terms.service * 100).toFixed(1))),
    holding: String(Number((terms.holdingShare * 100).toFixed(1))),
    budget: terms.budget ? (terms.budget.minor / 100).toFixed(2) : '',
    currency: terms.budget?.currency ?? currencies[0] ?? '',
  });
  const change = useChangePartsTerms();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  return (
    <Modal open onClose={onClose} title="What proposals rest on">
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(
            {
              revision: terms.revision,
              service: figure(form.service) / 100,
              holdingShare: figure(form.holding) / 100,
              budget:
                form.budget.trim() === ''
                  ? null
                  : { minor: minorOf(form.budget), currency: form.currency || (currencies[0] ?? '') },
            },
            {
              onSuccess: () => {
                toast('Demand and proposals are computed anew.');
                onClose();
              },
            },
          );
        }}
      >
        <Field
          label="Enough in so many cases, %"
          value={form.service}
          onChange={(event) => setForm({ ...form, service: event.target.value })}
          error={problem?.of('service')}
        />
        <Field
          label="A year on the shelf costs, % of the price"
          value={form.holding}
          onChange={(event) => setForm({ ...form, holding: event.target.value })}
          error={problem?.of('holdingShare')}
        />
        <Field
          label="A month may bind (blank: no budget)"
          value={form.budget}
          onChange={(event) => setForm({ ...form, budget: event.target.value })}
          error={problem?.of('budget.minor')}
        />
        <Choose
          label="Currency"
          value={form.currency || (currencies[0] ?? '')}
          onChange={({ target }) => setForm({ ...form, currency: target.value })}
          error={problem?.of('budget.currency')}
        >
          {currencies.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Choose>
        <p className="col-span-2 text-soft">
          What has to go out first is proposed first; a line that the budget cuts says so, and waits for the next month.
        </p>
        <Refusal problem={problem} className="col-span-2" />
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
