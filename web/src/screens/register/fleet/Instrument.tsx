import { useState } from 'react';
import type { Me } from '@mile-mark/contract/people';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { milesInWords } from '@mile-mark/contract/words';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import { ApiProblem } from '../../../api/client.ts';
import { useReplaceInstrument, useUndoInstrument } from '../../../api/register.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useSession } from '../../../api/people.ts';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { formatDate } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** Says that a vehicle's instrument was replaced: its odometer begins anew, what it drove does not. */
export function InstrumentReplaced({ vehicle, me, onClose }: { vehicle: FleetVehicle; me: Me; onClose: () => void }) {
  const { unit } = vehicle;
  const [id] = useNewId();
  const today = useSession().data?.today ?? '';
  const [form, setForm] = useState({ on: today, oldShowed: '', newShows: '0' });
  const replace = useReplaceInstrument();
  const undo = useUndoInstrument();
  const problem = replace.error instanceof ApiProblem ? replace.error : undefined;
  const save = async () => {
    await replace.mutateAsync({ of: unit, id, ...form, odometerUnit: me.distanceUnit });
    doneWithUndo(
      `${unit} is read on a new instrument from ${formatDate(form.on)}; its marks are told by that one.`,
      () => undo.mutateAsync(id),
    );
    onClose();
  };
  const wanting = form.on === '' || form.oldShowed.trim() === '' || form.newShows.trim() === '';
  return (
    <FormSheet
      title={`Instrument of ${unit} replaced`}
      save="Save"
      error={replace.error}
      disabled={replace.isPending || wanting}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <p className="max-w-prose text-soft">
        What the vehicle drove goes on; figures on record before that day stay as the old instrument showed them. From
        that day on, odometers are typed as the new one shows them.
      </p>
      {vehicle.odometerMi !== null && <p>Last on record: {milesInWords(vehicle.odometerMi, me.distanceUnit)}.</p>}
      <DateField
        label="The new one is read from"
        value={form.on}
        max={today && dateOfDay(dayNumber(today) + 1)}
        hint="A day on which the old one was read is still its own."
        onChange={(on) => setForm({ ...form, on })}
        error={problem?.of('on')}
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          label={`The old one showed last, ${me.distanceUnit}`}
          inputMode="numeric"
          value={form.oldShowed}
          onChange={(event) => setForm({ ...form, oldShowed: event.target.value })}
          error={problem?.of('oldShowed')}
        />
        <Field
          label={`The new one began at, ${me.distanceUnit}`}
          inputMode="numeric"
          value={form.newShows}
          onChange={(event) => setForm({ ...form, newShows: event.target.value })}
          error={problem?.of('newShows')}
        />
      </div>
    </FormSheet>
  );
}
