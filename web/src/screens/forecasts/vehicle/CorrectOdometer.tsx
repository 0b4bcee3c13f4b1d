import { milesInWords } from '@mile-mark/contract/words';
import { useNewId } from '../../../ui/useNewId.ts';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../../api/client.ts';
import { useCorrectOdometer } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { formatDate } from '../../../ui/format.ts';

/** Enters a whole inspection anew at another odometer, with a reason; what was entered first stays to be seen. */
export function CorrectOdometer({ reading, me, onClose }: { reading: Reading; me: Me; onClose: () => void }) {
  const [odometer, setOdometer] = useState('');
  const [reason, setReason] = useState('');
  const [id] = useNewId();
  const correct = useCorrectOdometer();
  const problem = correct.error instanceof ApiProblem ? correct.error : undefined;
  return (
    <Modal open onClose={onClose} title={`Correct the odometer of ${formatDate(reading.date)}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          correct.mutate(
            { inspectionId: reading.inspectionId, id, odometer, odometerUnit: me.distanceUnit, reason },
            {
              onSuccess: () => {
                toast('Odometer corrected; the old entry stays on record.');
                onClose();
              },
            },
          );
        }}
      >
        <p>
          {milesInWords(reading.odometerMi, me.distanceUnit)}, by {reading.technician}. All readings of the inspection
          move with it.
        </p>
        <Field
          label="As it should have been (41,200 mi or 66 300 km)"
          autoFocus
          value={odometer}
          onChange={(event) => setOdometer(event.target.value)}
          error={problem?.of('odometer')}
        />
        <Field
          label="Why"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
          placeholder="two digits swapped"
        />
        {correct.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="text-brick">
            {correct.error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={correct.isPending || odometer.trim() === ''}>
            Correct it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
