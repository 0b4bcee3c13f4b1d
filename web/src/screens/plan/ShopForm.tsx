import { useState } from 'react';
import { toast } from 'sonner';
import type { Shop } from '@mile-mark/contract/plan';
import { ApiProblem } from '../../api/client.ts';
import { useChangeShop } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { ShopPeople } from './ShopPeople.tsx';
import { at, CLASSES, figureOrNone, formOf, type Class, type ShopFormPart } from './shopFormState.ts';
import { WEEKDAYS } from './figures.ts';

/** States how a depot’s shop works by the week: open hours, bays, people with their hours, bounds. */
export function ShopForm({
  week,
  people,
  onClose,
}: {
  week: Shop['depots'][number];
  people: Shop['people'];
  onClose: () => void;
}) {
  const change = useChangeShop(week.depot);
  const [form, setForm] = useState(() => formOf(week));
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const caps = (Object.keys(CLASSES) as Class[]).filter((name) => form.caps[name].trim() !== '');
  return (
    <Modal open wide onClose={onClose} title={`The shop of ${week.depot}`}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(
            {
              revision: week.revision,
              open: form.open.map(({ from, to }) =>
                from.trim() === '' && to.trim() === '' ? null : { from: from.trim(), to: to.trim() },
              ),
              bays: form.bays,
              people: form.people.map((one) => ({ ...one, hours: one.hours.map(figureOrNone) })),
              overtimeHours: figureOrNone(form.overtime),
              offRoad: caps.map((name) => ({ class: name, most: figureOrNone(form.caps[name]) })),
            },
            {
              onSuccess: () => {
                toast('Kept. Plan anew to see what it changes.');
                onClose();
              },
            },
          );
        }}
      >
        <Opening form={form} setForm={setForm} problem={problem} />
        <Bays form={form} setForm={setForm} problem={problem} />
        <ShopPeople form={form} setForm={setForm} problem={problem} known={people} />
        <div className="grid grid-cols-4 gap-3">
          <Field
            label="At most over in a day, h"
            inputMode="decimal"
            value={form.overtime}
            onChange={(event) => setForm({ ...form, overtime: event.target.value })}
            error={problem?.of('overtimeHours')}
          />
          {(Object.keys(CLASSES) as Class[]).map((name) => (
            <Field
              key={name}
              label={`${CLASSES[name]} off the road at once`}
              inputMode="numeric"
              placeholder="no bound"
              value={form.caps[name]}
              onChange={(event) => setForm({ ...form, caps: { ...form.caps, [name]: event.target.value } })}
              error={problem?.of(`offRoad.${caps.indexOf(name)}.most`)}
            />
          ))}
        </div>
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

function Opening({ form, setForm, problem }: ShopFormPart) {
  return (
    <fieldset>
      <legend className="font-semibold">Open from and to; blank where it is shut</legend>
      <div className="mt-1 grid grid-cols-7 gap-2">
        {form.open.map((day, i) => (
          <div key={WEEKDAYS[i]} className="flex flex-col gap-1">
            {(['from', 'to'] as const).map((end) => (
              <Field
                key={end}
                label={end === 'from' ? (WEEKDAYS[i] ?? '') : `${WEEKDAYS[i]}, to`}
                hideLabel={end === 'to'}
                placeholder={end === 'from' ? '07:00' : '16:00'}
                value={day[end]}
                onChange={(event) =>
                  setForm({ ...form, open: at(form.open, i, { ...day, [end]: event.target.value }) })
                }
                error={problem?.of(`open.${i}.${end}`)}
              />
            ))}
          </div>
        ))}
      </div>
    </fieldset>
  );
}

function Bays({ form, setForm, problem }: ShopFormPart) {
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="font-semibold">Bays</legend>
      {problem?.of('bays') && (
        <p role="alert" className="font-medium text-brick">
          {problem.of('bays')}
        </p>
      )}
      {form.bays.map((bay, i) => (
        <div key={i} className="flex flex-wrap items-start gap-3">
          <Field
            label={`Bay ${i + 1}: name`}
            hideLabel
            value={bay.name}
            onChange={(event) => setForm({ ...form, bays: at(form.bays, i, { ...bay, name: event.target.value }) })}
            error={problem?.of(`bays.${i}.name`)}
          />
          <Choose
            label={`Bay ${i + 1}: for`}
            hideLabel
            value={bay.kind}
            onChange={({ target }) =>
              setForm({
                ...form,
                bays: at(form.bays, i, { ...bay, kind: target.value === 'heavy' ? 'heavy' : 'light' }),
              })
            }
          >
            <option value="light">Pickups and vans</option>
            <option value="heavy">Heavy vehicles</option>
          </Choose>
          <Button
            look="bare"
            className="self-center"
            onClick={() => setForm({ ...form, bays: form.bays.filter((_one, k) => k !== i) })}
          >
            Leave out
          </Button>
        </div>
      ))}
      <div>
        <Button
          onClick={() =>
            setForm({ ...form, bays: [...form.bays, { name: `Bay ${form.bays.length + 1}`, kind: 'light' }] })
          }
        >
          Another bay
        </Button>
      </div>
    </fieldset>
  );
}
