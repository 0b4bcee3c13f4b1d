import { useState } from 'react';
import { toast } from 'sonner';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { ApiProblem } from '../../../api/client.ts';
import { useCorrectDuty, useDuties } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { formatDate } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

interface Props {
  vehicle: VehicleDetail;
  period: VehicleDetail['dutyPeriods'][number];
  onClose: () => void;
}

/** Says what a stretch of duty should have said, or that it never was. */
export function CorrectDuty({ vehicle, period, onClose }: Props) {
  const { unit, dutyPeriods } = vehicle;
  const [id] = useNewId();
  const duties = useDuties().data ?? [];
  const [form, setForm] = useState({ duty: period.duty.name, from: period.from, reason: '' });
  const correct = useCorrectDuty();
  const problem = correct.error instanceof ApiProblem ? correct.error : undefined;
  const { duty, from, reason } = form;
  const same = duty === period.duty.name && from === period.from;
  const wanting = correct.isPending || reason.trim() === '';
  const send = async (instead: { duty: string; from: string } | null, told: string) => {
    await correct.mutateAsync({ of: period.id, id, instead, reason });
    toast(`${unit}: ${told}; its marks are made anew.`);
    onClose();
  };
  const save = () => send({ duty, from }, `${duty} from ${formatDate(from)}`);
  const withdraw = () => send(null, `${period.duty.name} of ${formatDate(period.from)} is withdrawn`);
  return (
    <FormSheet
      title={`${period.duty.name} of ${unit}, from ${formatDate(period.from)}`}
      save="Save"
      error={correct.error}
      disabled={wanting || same || from === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <div className="grid gap-3 sm:grid-cols-2">
        <Choose
          label="Duty"
          value={duty}
          onChange={(event) => setForm({ ...form, duty: event.target.value })}
          error={problem?.of('instead.duty') ?? problem?.of('duty')}
        >
          {duties.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
        <DateField
          label="From"
          value={from}
          onChange={(day) => setForm({ ...form, from: day })}
          error={problem?.of('instead.from')}
          hint="The duty before ends where this one begins."
        />
      </div>
      <Field
        label="Why"
        hint="Kept with what was said before, who changed it, and when."
        value={reason}
        onChange={(event) => setForm({ ...form, reason: event.target.value })}
        error={problem?.of('reason')}
      />
      {dutyPeriods.length > 1 && (
        <p className="text-soft">
          It never was on this duty?{' '}
          <Button look="bare" disabled={wanting} onClick={() => void withdraw().catch(() => undefined)}>
            Withdraw it
          </Button>{' '}
          The duty beside it then holds for these days.
        </p>
      )}
    </FormSheet>
  );
}
