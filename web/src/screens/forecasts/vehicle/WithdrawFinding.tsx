import { useState } from 'react';
import { toast } from 'sonner';
import type { FindingSeen } from '@mile-mark/contract/inspections';
import { findingInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../../api/client.ts';
import { useWithdrawFinding } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { formatDate } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** Takes a finding back with a reason; what it asked for goes with it. */
export function WithdrawFinding({ finding, onClose }: { finding: FindingSeen; onClose: () => void }) {
  const [id] = useNewId();
  const [reason, setReason] = useState('');
  const withdraw = useWithdrawFinding();
  const problem = withdraw.error instanceof ApiProblem ? withdraw.error : undefined;
  return (
    <Modal open onClose={onClose} title={`Withdraw a finding of ${formatDate(finding.date)}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          withdraw.mutate(
            { findingId: finding.id, id, reason },
            {
              onSuccess: () => {
                toast(`${findingInWords(finding)}: withdrawn; it stays on record with your reason.`);
                onClose();
              },
            },
          );
        }}
      >
        <p>
          Axle {finding.axle}, {finding.side}: {findingInWords(finding)}, by {finding.technician}.
        </p>
        <Field
          label="Why"
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
        />
        {withdraw.isError && !problem?.of('reason') && (
          <p role="alert" className="text-brick">
            {withdraw.error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={withdraw.isPending || reason.trim() === ''}>
            Withdraw it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
