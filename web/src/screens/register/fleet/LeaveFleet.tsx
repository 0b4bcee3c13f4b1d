import { useState } from 'react';
import { type FleetVehicle, HOW_LEFT } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { useSession } from '../../../api/people.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useLeaveFleet, useRejoinFleet } from '../../../api/register.ts';
import { DateField } from '../../../ui/DateField.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { SegmentedControl } from '../../../ui/SegmentedControl.tsx';
import { formatDate } from '../../../ui/format.ts';

/** Says that a vehicle was sold or retired on a day. */
export function LeaveFleet({ vehicle, onClose }: { vehicle: FleetVehicle; onClose: () => void }) {
  const { unit, revision } = vehicle;
  const today = useSession().data?.today ?? '';
  const [form, setForm] = useState<{ on: string; how: (typeof HOW_LEFT)[number] }>({ on: today, how: 'sold' });
  const leave = useLeaveFleet();
  const rejoin = useRejoinFleet();
  const problem = leave.error instanceof ApiProblem ? leave.error : undefined;
  const save = async () => {
    await leave.mutateAsync({ of: unit, ...form, revision });
    doneWithUndo(`${unit} was ${form.how} on ${formatDate(form.on)}; it has no mark any more.`, () =>
      rejoin.mutateAsync(unit),
    );
    onClose();
  };
  return (
    <FormSheet
      title={`${unit} leaves the fleet`}
      save={`It was ${form.how}`}
      error={leave.error}
      disabled={leave.isPending || form.on === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <SegmentedControl label="How" value={form.how} options={HOW_LEFT} onChange={(how) => setForm({ ...form, how })} />
      <DateField
        label="On"
        value={form.on}
        max={today}
        onChange={(on) => setForm({ ...form, on })}
        error={problem?.of('on')}
      />
      <p className="max-w-prose text-soft">
        It leaves Ahead, plans and shelves at once. What was measured and done stays on record, and still teaches the
        forecasts of its sisters.
      </p>
    </FormSheet>
  );
}
