import { useState } from 'react';
import { ApiProblem } from '../../api/client.ts';
import { useAddPlan, useShop } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { figure } from '../../api/typed.ts';
import { useNewId } from '../../ui/useNewId.ts';

/** Asks for a plan: how far ahead, which depots, how long to look for it, and what can’t wait. */
export function Propose({ onClose, onAsked }: { onClose: () => void; onAsked: (id: string) => void }) {
  const [id] = useNewId();
  const shop = useShop();
  const add = useAddPlan();
  const depots = (shop.data?.depots ?? []).map(({ depot }) => depot);
  const [left, setLeft] = useState<readonly string[]>([]);
  const [form, setForm] = useState({ from: '', weeks: '26', seconds: '10', unit: '', axles: '1', sent: '', at: '' });
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const chosen = depots.filter((depot) => !left.includes(depot));
  const axles = form.axles
    .split(/[\s,;]+/)
    .filter((part) => part !== '')
    .map(Number);
  return (
    <Modal open onClose={onClose} title="Propose a plan">
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(
            {
              id,
              weeks: Number(form.weeks),
              seconds: figure(form.seconds),
              ...(form.from ? { fromDate: form.from } : {}),
              ...(left.length > 0 ? { depots: chosen } : {}),
              ...(form.sent.trim()
                ? { doneAt: [{ unit: form.sent.trim(), depot: form.at || (depots[0] ?? '') }] }
                : {}),
              ...(form.unit.trim() ? { urgent: [{ unit: form.unit.trim(), axles }] } : {}),
            },
            { onSuccess: () => onAsked(id) },
          );
        }}
      >
        <DateField
          label="From (blank: today)"
          value={form.from}
          onChange={(from) => setForm({ ...form, from })}
          min={shop.data?.today}
          error={problem?.of('fromDate')}
        />
        <Field
          label="Weeks ahead"
          inputMode="numeric"
          value={form.weeks}
          onChange={(event) => setForm({ ...form, weeks: event.target.value })}
          error={problem?.of('weeks')}
        />
        <Depots depots={depots} left={left} setLeft={setLeft} error={problem?.of('depots')} />
        <Field
          label="What can’t wait (a unit; blank: nothing)"
          value={form.unit}
          onChange={(event) => setForm({ ...form, unit: event.target.value })}
          error={problem?.of('urgent.0.unit')}
          hint="Placed on the first working day, whatever it moves."
        />
        <Field
          label="Its axles"
          value={form.axles}
          onChange={(event) => setForm({ ...form, axles: event.target.value })}
          error={problem?.of('urgent.0.axles') ?? problem?.of('urgent.0.axles.0')}
        />
        {(shop.data?.terms.travel.length ?? 0) > 0 && (
          <DoneAt
            depots={depots}
            sent={form.sent}
            at={form.at}
            problem={problem}
            onChange={(typed) => setForm({ ...form, ...typed })}
          />
        )}
        <Field
          label="Seconds for each depot"
          inputMode="decimal"
          value={form.seconds}
          onChange={(event) => setForm({ ...form, seconds: event.target.value })}
          error={problem?.of('seconds')}
          hint="It stops before, once no plan can cost less by more than half a per cent."
        />
        <p className="col-span-2 text-soft">
          What is in work, booked by hand or locked stays where it is. Nothing is booked or moved before you publish.
        </p>
        <Refusal problem={problem} className="col-span-2" />
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending || chosen.length === 0}>
            Propose
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function Depots({
  depots,
  left,
  setLeft,
  error,
}: {
  depots: readonly string[];
  left: readonly string[];
  setLeft: (left: readonly string[]) => void;
  error: string | undefined;
}) {
  return (
    <fieldset className="col-span-2">
      <legend className="text-soft">Depots</legend>
      <div className="flex flex-wrap gap-4">
        {depots.map((depot) => (
          <Tick
            key={depot}
            checked={!left.includes(depot)}
            onChange={(on) => setLeft(on ? left.filter((one) => one !== depot) : [...left, depot])}
          >
            {depot}
          </Tick>
        ))}
      </div>
      {error && (
        <p role="alert" className="font-medium text-brick">
          {error}
        </p>
      )}
    </fieldset>
  );
}

/** A vehicle that is to be done at a depot, its own or another, whatever it costs. */
function DoneAt({
  depots,
  sent,
  at,
  problem,
  onChange,
}: {
  depots: readonly string[];
  sent: string;
  at: string;
  problem: ApiProblem | undefined;
  onChange: (typed: { sent?: string; at?: string }) => void;
}) {
  return (
    <>
      <Field
        label="Have it done at a depot (a unit)"
        hint="Blank: each where it costs least, the way counted."
        value={sent}
        onChange={(event) => onChange({ sent: event.target.value })}
        error={problem?.of('doneAt.0.unit')}
      />
      <Choose
        label="At"
        value={at || (depots[0] ?? '')}
        onChange={({ target }) => onChange({ at: target.value })}
        error={problem?.of('doneAt.0.depot')}
      >
        {depots.map((depot) => (
          <option key={depot}>{depot}</option>
        ))}
      </Choose>
    </>
  );
}
