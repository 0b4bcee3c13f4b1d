import { useState } from 'react';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { useSession } from '../../../api/people.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useDepots, useMoveVehicle, useUndoVehicleMove } from '../../../api/register.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { formatDate } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** Moves a vehicle to another depot on a day, for good or for a time. */
export function MoveVehicle({ vehicle, onClose }: { vehicle: FleetVehicle; onClose: () => void }) {
  const { unit, depot: from } = vehicle;
  const [id] = useNewId();
  const today = useSession().data?.today ?? '';
  const others = useDepots().data?.filter(({ name }) => name !== from) ?? [];
  const [form, setForm] = useState({ depot: '', on: today, backOn: '' });
  const move = useMoveVehicle();
  const undo = useUndoVehicleMove();
  const problem = move.error instanceof ApiProblem ? move.error : undefined;
  const depot = form.depot || (others[0]?.name ?? '');
  const save = async () => {
    const { on, backOn } = form;
    await move.mutateAsync({ of: unit, id, depot, on, ...(backOn === '' ? {} : { backOn }) });
    const when = on > today ? ` goes to ${depot} on ${formatDate(on)}` : ` is in ${depot} now`;
    doneWithUndo(`${unit}${when}.`, () => undo.mutateAsync(id));
    onClose();
  };
  return (
    <FormSheet
      title={`Move ${unit}`}
      save="Move it"
      error={move.error}
      disabled={move.isPending || depot === '' || form.on === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      {others.length === 0 && <p>There is no other depot; open one under Depots first.</p>}
      <Choose
        label="To"
        value={depot}
        onChange={(event) => setForm({ ...form, depot: event.target.value })}
        error={problem?.of('depot')}
      >
        {others.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </Choose>
      <div className="grid gap-3 sm:grid-cols-2">
        <DateField label="On" value={form.on} onChange={(on) => setForm({ ...form, on })} error={problem?.of('on')} />
        <DateField
          label="Back on, where it is for a time"
          value={form.backOn}
          min={form.on}
          onChange={(backOn) => setForm({ ...form, backOn })}
          error={problem?.of('backOn')}
        />
      </div>
      <p className="max-w-prose text-soft">
        Plans, kits and Ahead follow from that day. Jobs stay where they are booked: one booked in {from} meanwhile is
        closed or called off first.
      </p>
    </FormSheet>
  );
}
