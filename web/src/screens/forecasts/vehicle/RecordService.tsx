import { milesInWords, thicknessInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../../api/client.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { type NewServiceBody, useAddService, useWithdrawService } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { DateField } from '../../../ui/DateField.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { daysBetween, formatDate } from '../../../ui/format.ts';
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
  const early = earlyFor(vehicle, form.axle, form.fitted, me);
  const [asked, setAsked] = useState('');
  const asking = early !== undefined && asked === early;
  const withdraw = useWithdrawService();
  const undo = () =>
    withdraw.mutateAsync({ serviceId: id, id: crypto.randomUUID(), reason: 'recorded by mistake, undone at once' });
  return (
    <Modal open onClose={onClose} title={`Fitted on ${vehicle.unit}`}>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (early !== undefined && !asking) {
            setAsked(early);
            return;
          }
          add.mutate(
            { id, unit: vehicle.unit, odometerUnit: me.distanceUnit, ...form },
            {
              onSuccess: () => {
                doneWithUndo('Recorded. The axle starts a new life.', undo, {
                  undone: `Undone: axle ${form.axle} goes on with the life it had.`,
                });
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
        {asking && (
          <p role="alert" className="col-span-2 border-l-4 border-[#c99700] bg-paint/20 px-3 py-2">
            {early}
          </p>
        )}
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending}>
            {asking ? 'They were fitted: record it' : 'Record it'}
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** A mark further ahead than this asks whether the pads were fitted indeed, days. */
const FAR_AHEAD_DAYS = 60;

/** What recording new pads would do to a mark that is far ahead, in words; undefined where it is near, or no pads go on. */
function earlyFor(
  { axleDetails, today }: VehicleDetail,
  number: number,
  fitted: NewServiceBody['fitted'],
  { distanceUnit, thicknessUnit }: Me,
): string | undefined {
  const mark = axleDetails.find(({ axle }) => axle === number)?.mark;
  if (fitted === 'rotors' || !mark || daysBetween(today, mark.markDate) <= FAR_AHEAD_DAYS) return undefined;
  const at = `${milesInWords(mark.markOdometerMi, distanceUnit)}, ${formatDate(mark.markDate)}`;
  return `The mark of axle ${number} is still far ahead (${at}), its pads at ${thicknessInWords(mark.thinnestMm, thicknessUnit)} at the thinnest. Recorded, it begins a new life: the readings so far no longer count for it, and its mark moves out until the new pads are measured.`;
}
