import { useState } from 'react';
import { toast } from 'sonner';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../../api/client.ts';
import { type NewServiceBody, useAddService } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { useNewId } from '../../../ui/useNewId.ts';

/** Records that pads or rotors were fitted: a new life begins for the axle's pads. */
export function RecordService({ vehicle, me, onClose }: { vehicle: VehicleDetail; me: Me; onClose: () => void }) {
  const [id] = useNewId();
  const [form, setForm] = useState({
    axle: vehicle.axleDetails[0]?.axle ?? 1,
    date: vehicle.today,
    odometer: '',
    fitted: 'pads' as NewServiceBody['fitted'],
  });
  const add = useAddService();
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  return (
    <Modal open onClose={onClose} title={`Fitted on ${vehicle.unit}`}>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(
            { id, unit: vehicle.unit, odometerUnit: me.distanceUnit, ...form },
            {
              onSuccess: () => {
                toast('Recorded. The axle starts a new life.');
                onClose();
              },
            },
          );
        }}
      >
        <Choose
          label="Axle"
          value={form.axle}
          onChange={(event) => setForm({ ...form, axle: Number(event.target.value) })}
          error={problem?.of('axle')}
        >
          {vehicle.axleDetails.map(({ axle }) => (
            <option key={axle}>{axle}</option>
          ))}
        </Choose>
        <Choose
          label="Fitted, both sides"
          value={form.fitted}
          onChange={(event) => setForm({ ...form, fitted: event.target.value as NewServiceBody['fitted'] })}
        >
          <option>pads</option>
          <option>pads and rotors</option>
          <option>rotors</option>
        </Choose>
        <DateField
          label="Date"
          max={vehicle.today}
          value={form.date}
          onChange={(iso) => setForm({ ...form, date: iso })}
          error={problem?.of('date')}
        />
        <Field
          label="Odometer (41,200 mi or 65 000 km)"
          value={form.odometer}
          onChange={(event) => setForm({ ...form, odometer: event.target.value })}
          error={problem?.of('odometer')}
        />
        {add.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="col-span-2 text-brick">
            {add.error.message}
          </p>
        )}
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending}>
            Record it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
