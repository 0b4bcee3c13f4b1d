import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Shop } from '@mile-mark/contract/plan';
import { ApiProblem } from '../../api/client.ts';
import { useAddAbsence } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { TOAST_TO_ACT_MS } from '../../ui/toasts.ts';
import { useNewId } from '../../ui/useNewId.ts';

type Kind = 'person' | 'vehicle' | 'depot';

/** Does what a form is for, and not what a browser would. */
const submits = (save: () => void) => (event: { preventDefault: () => void }) => {
  event.preventDefault();
  save();
};

/** What a form of another kind begins with. */
const chosen = (kind: Kind, people: readonly string[], depot: string) => ({
  kind,
  comesIn: false,
  of: kind === 'person' ? (people[0] ?? '') : kind === 'depot' ? depot : '',
});

/** Somebody or a vehicle is away, the shop is shut, or a vehicle comes in for other work. */
export function AddAbsence({ shop, depot, onClose }: { shop: Shop; depot: string; onClose: () => void }) {
  const [id] = useNewId();
  const add = useAddAbsence();
  const go = useNavigate();
  const people = shop.people.map(({ name }) => name);
  const [form, setForm] = useState({
    kind: 'person' as Kind,
    of: people[0] ?? '',
    from: shop.today,
    to: shop.today,
    reason: '',
    comesIn: false,
  });
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const save = () =>
    add.mutate(
      { id, ...form },
      {
        onSuccess: () => {
          toast(`${form.of} is on record.`, {
            duration: TOAST_TO_ACT_MS,
            action: { label: 'Plan anew', onClick: () => void go('/plan?view=weeks') },
          });
          onClose();
        },
      },
    );
  return (
    <Modal open onClose={onClose} title="Away, shut, or in for other work">
      <form className="grid grid-cols-2 gap-3" onSubmit={submits(save)}>
        <Choose
          label="Who or what"
          value={form.kind}
          onChange={({ target }) => setForm({ ...form, ...chosen(target.value as Kind, people, depot) })}
        >
          <option value="person">A person</option>
          <option value="vehicle">A vehicle</option>
          <option value="depot">A whole shop</option>
        </Choose>
        {form.kind === 'vehicle' ? (
          <Field
            label="Unit"
            value={form.of}
            onChange={(event) => setForm({ ...form, of: event.target.value })}
            error={problem?.of('of')}
          />
        ) : (
          <Choose
            label="Name"
            value={form.of}
            onChange={({ target }) => setForm({ ...form, of: target.value })}
            error={problem?.of('of')}
          >
            {(form.kind === 'person' ? people : shop.depots.map((one) => one.depot)).map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
        )}
        <DateField
          label="From"
          value={form.from}
          onChange={(from) => setForm({ ...form, from, to: form.to < from ? from : form.to })}
          error={problem?.of('from')}
        />
        <DateField
          label="To, that day included"
          value={form.to}
          onChange={(to) => setForm({ ...form, to })}
          error={problem?.of('to')}
        />
        <div className="col-span-2">
          <Field
            label="Why"
            value={form.reason}
            onChange={(event) => setForm({ ...form, reason: event.target.value })}
            error={problem?.of('reason')}
          />
        </div>
        {form.kind === 'vehicle' && (
          <div className="col-span-2">
            <Tick checked={form.comesIn} onChange={(comesIn) => setForm({ ...form, comesIn })}>
              It comes in for that, and brakes can be done with it
            </Tick>
          </div>
        )}
        <Refusal problem={problem} className="col-span-2" />
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
