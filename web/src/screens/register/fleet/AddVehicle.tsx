import { useState } from 'react';
import { toast } from 'sonner';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../../api/client.ts';
import { useSession } from '../../../api/people.ts';
import { useAddVehicle, useDepots, useDuties, useModels } from '../../../api/register.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { useNewId } from '../../../ui/useNewId.ts';

interface Props {
  me: Me;
  onAdded: (unit: string) => void;
  onClose: () => void;
}

/** Puts a vehicle on record by hand: what it is, where it stands, what it drives and from when. */
export function AddVehicle({ me, onAdded, onClose }: Props) {
  const [id] = useNewId();
  const today = useSession().data?.today ?? '';
  const lists = {
    model: useModels().data?.map(({ name }) => name) ?? [],
    depot: useDepots().data?.map(({ name }) => name) ?? [],
    duty: useDuties().data?.map(({ name }) => name) ?? [],
  };
  const [form, setForm] = useState({ unit: '', model: '', depot: '', duty: '', dutyFrom: today, odometer: '' });
  const add = useAddVehicle();
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const said = (field: keyof typeof lists) => form[field] || (lists[field][0] ?? '');
  const entry = { model: said('model'), depot: said('depot'), duty: said('duty') };
  const missing = (Object.keys(lists) as (keyof typeof lists)[]).filter((field) => lists[field].length === 0);
  const save = async () => {
    await add.mutateAsync({ ...form, ...entry, id, odometerUnit: me.distanceUnit });
    const unit = form.unit.trim().replace(/\s+/g, ' ').toUpperCase();
    toast(`${unit} is on record; its first mark is made from its model and duty until it is measured.`);
    onAdded(unit);
    onClose();
  };
  const choose = (field: keyof typeof lists, label: string) => (
    <Choose
      label={label}
      value={entry[field]}
      onChange={(event) => setForm({ ...form, [field]: event.target.value })}
      error={problem?.of(field)}
    >
      {lists[field].map((name) => (
        <option key={name}>{name}</option>
      ))}
    </Choose>
  );
  return (
    <FormSheet
      title="Add a vehicle"
      save="Add it"
      error={add.error}
      disabled={add.isPending || form.unit.trim() === '' || form.odometer.trim() === '' || missing.length > 0}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      {missing.length > 0 && (
        <p role="alert" className="font-medium text-brick">
          {`There is no ${missing.join(', no ')} on record yet; that comes first.`}
        </p>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          label="Unit number"
          value={form.unit}
          onChange={(event) => setForm({ ...form, unit: event.target.value })}
          error={problem?.of('unit')}
        />
        {choose('model', 'Model')}
        {choose('depot', 'Depot')}
        {choose('duty', 'Duty')}
        <DateField
          label="On that duty since"
          value={form.dutyFrom}
          max={today}
          onChange={(dutyFrom) => setForm({ ...form, dutyFrom })}
          error={problem?.of('dutyFrom')}
        />
        <Field
          label={`Odometer on that day, ${me.distanceUnit}`}
          inputMode="numeric"
          value={form.odometer}
          onChange={(event) => setForm({ ...form, odometer: event.target.value })}
          error={problem?.of('odometer')}
        />
      </div>
    </FormSheet>
  );
}
