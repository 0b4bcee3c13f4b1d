import { useState } from 'react';
import { toast } from 'sonner';
import type { Me } from '@mile-mark/contract/people';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { milesInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../../api/client.ts';
import { useChangeUnit, useCorrectStart, useModels } from '../../../api/register.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useChangeModel } from '../../../api/specifications.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { formatDate } from '../../../ui/format.ts';

interface Props {
  vehicle: FleetVehicle;
  onClose: () => void;
}

interface WhyProps {
  value: string;
  onChange: (reason: string) => void;
  error: string | undefined;
}

function Why({ value, onChange, error }: WhyProps) {
  return (
    <Field
      label="Why"
      hint="Kept with who changed it, and when."
      value={value}
      onChange={(event) => onChange(event.target.value)}
      error={error}
    />
  );
}

/** Gives a vehicle another unit number. */
export function AnotherUnit({ vehicle, onRenamed, onClose }: Props & { onRenamed: (unit: string) => void }) {
  const [form, setForm] = useState({ unit: vehicle.unit, reason: '' });
  const change = useChangeUnit();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const save = async () => {
    await change.mutateAsync({ of: vehicle.unit, ...form, revision: vehicle.revision });
    const unit = form.unit.trim().replace(/\s+/g, ' ').toUpperCase();
    toast(`${vehicle.unit} is ${unit} now; all on record went with it. Print its label anew.`);
    onRenamed(unit);
    onClose();
  };
  return (
    <FormSheet
      title={`Another unit number for ${vehicle.unit}`}
      save="Save"
      error={change.error}
      disabled={change.isPending || form.unit.trim() === '' || form.reason.trim() === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <Field
        label="Unit number"
        value={form.unit}
        onChange={(event) => setForm({ ...form, unit: event.target.value })}
        error={problem?.of('unit')}
      />
      <Why value={form.reason} onChange={(reason) => setForm({ ...form, reason })} error={problem?.of('reason')} />
    </FormSheet>
  );
}

/** Says that a vehicle is another model or variant. */
export function AnotherModel({ vehicle, onClose }: Props) {
  const { unit } = vehicle;
  const models = useModels().data?.filter(({ name }) => name !== vehicle.model) ?? [];
  const [chosen, setChosen] = useState('');
  const say = useChangeModel();
  const problem = say.error instanceof ApiProblem ? say.error : undefined;
  const model = chosen || (models[0]?.name ?? '');
  const save = async () => {
    await say.mutateAsync({ unit, model });
    doneWithUndo(`${unit} is a ${model} now; its marks are made anew.`, () =>
      say.mutateAsync({ unit, model: vehicle.model }),
    );
    onClose();
  };
  return (
    <FormSheet
      title={`Another model for ${unit}`}
      save="Save"
      error={say.error}
      disabled={say.isPending || model === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      {models.length === 0 && <p>There is no other model; add one under Models first.</p>}
      <Choose
        label="Model"
        value={model}
        onChange={(event) => setChosen(event.target.value)}
        error={problem?.of('model')}
      >
        {models.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </Choose>
      <p className="max-w-prose text-soft">
        Kit, specifications and limits become those of that model. Axles with readings or work on record must be there,
        braked alike.
      </p>
    </FormSheet>
  );
}

/** Corrects the odometer at which a vehicle's record begins. */
export function StartOdometer({ vehicle, me, onClose }: Props & { me: Me }) {
  const { unit, start } = vehicle;
  const [form, setForm] = useState({ odometer: '', reason: '' });
  const correct = useCorrectStart();
  const problem = correct.error instanceof ApiProblem ? correct.error : undefined;
  const save = async () => {
    await correct.mutateAsync({ of: unit, ...form, odometerUnit: me.distanceUnit });
    toast(`The record of ${unit} begins at ${form.odometer.trim()} now; its marks are made anew.`);
    onClose();
  };
  return (
    <FormSheet
      title={`Odometer at the start of ${unit}’s record`}
      save="Save"
      error={correct.error}
      disabled={correct.isPending || form.odometer.trim() === '' || form.reason.trim() === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      {start && (
        <p>
          On record: {milesInWords(start.odometerMi, me.distanceUnit)} on {formatDate(start.date)}.
        </p>
      )}
      <Field
        label={`It stood at, ${me.distanceUnit}`}
        inputMode="numeric"
        value={form.odometer}
        onChange={(event) => setForm({ ...form, odometer: event.target.value })}
        error={problem?.of('odometer')}
      />
      <Why value={form.reason} onChange={(reason) => setForm({ ...form, reason })} error={problem?.of('reason')} />
    </FormSheet>
  );
}
