import { milesInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { OwnInspection } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../../api/client.ts';
import { useWithdrawInspection } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { formatTime } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** Takes an inspection back whole, in one step: to the vehicle that was meant, or off the record. */
export function TakeBack({ inspection, me, onClose }: { inspection: OwnInspection; me: Me; onClose: () => void }) {
  const { unit, enteredAt, odometerMi, forbids } = inspection;
  const [id] = useNewId();
  const [moveTo, setMoveTo] = useState('');
  const [odometer, setOdometer] = useState<string>();
  const [reason, setReason] = useState('wrong vehicle');
  const take = useWithdrawInspection();
  const problem = take.error instanceof ApiProblem ? take.error : undefined;
  // Its odometer is asked for only where the one typed does not fit the other vehicle.
  const odometerWrong = problem?.of('inspection.odometer') ?? problem?.of('odometer');
  const to = moveTo.trim().toUpperCase();
  const send = (move: boolean) =>
    take.mutate(
      {
        inspectionId: inspection.id,
        id,
        reason,
        ...(move ? { moveTo: to } : {}),
        ...(move && odometer !== undefined ? { odometer, odometerUnit: me.distanceUnit } : {}),
      },
      {
        onSuccess: () => {
          toast(move ? `Moved from ${unit} to ${to}; both marks are computed anew.` : `Withdrawn from ${unit}.`);
          onClose();
        },
      },
    );
  const elsewhere = problem?.problem.errors?.filter(({ field }) => !/odometer|moveTo|reason/.test(field)) ?? [];
  return (
    <Modal open onClose={onClose} title={`Sheet of ${unit}, ${formatTime(enteredAt)}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (to !== '') send(true);
        }}
      >
        <p>
          Readings, findings, odometer, rotors and photos go together. What was entered stays to be seen on {unit}, with
          who took it back and why.
        </p>
        <Field
          label="It is of unit"
          large
          autoFocus
          autoCapitalize="characters"
          value={moveTo}
          onChange={(event) => setMoveTo(event.target.value)}
          error={problem?.of('moveTo')}
        />
        {(odometer !== undefined || odometerWrong !== undefined) && (
          <Field
            label={`Odometer of ${to}, ${me.distanceUnit}`}
            large
            inputMode="decimal"
            value={odometer ?? ''}
            placeholder={milesInWords(odometerMi, me.distanceUnit)}
            onChange={(event) => setOdometer(event.target.value)}
            error={odometerWrong}
          />
        )}
        <Field
          label="Why"
          large
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
        />
        {take.isError && (elsewhere.length > 0 || !problem?.problem.errors?.length) && (
          <p role="alert" className="text-brick">
            {elsewhere.map(({ message }) => message).join(' ') || take.error.message}
          </p>
        )}
        <div className="flex flex-wrap gap-2">
          <Button look="next" large type="submit" disabled={take.isPending || to === ''}>
            Move it {to && `to ${to}`}
          </Button>
          {forbids && !mayDo(me.role, 'decide') ? (
            <p className="self-center">It forbids driving: the coordinator withdraws it.</p>
          ) : (
            <Button large disabled={take.isPending} onClick={() => send(false)}>
              Withdraw it whole
            </Button>
          )}
        </div>
      </form>
    </Modal>
  );
}
