import { toast } from 'sonner';
import type { FindingSeen } from '@mile-mark/contract/inspections';
import { findingInWords } from '@mile-mark/contract/words';
import { useWithdrawFinding } from '../../../api/inspections.ts';
import { formatDate } from '../../../ui/format.ts';
import { Withdraw } from './Withdraw.tsx';

/** Takes a finding back with a reason; what it asked for goes with it. */
export function WithdrawFinding({ finding, onClose }: { finding: FindingSeen; onClose: () => void }) {
  const withdraw = useWithdrawFinding();
  const done = () => {
    toast(`${findingInWords(finding)}: withdrawn; it stays on record with your reason.`);
    onClose();
  };
  return (
    <Withdraw
      title={`Withdraw a finding of ${formatDate(finding.date)}`}
      error={withdraw.error}
      pending={withdraw.isPending}
      onWithdraw={(of) => withdraw.mutate({ findingId: finding.id, ...of }, { onSuccess: done })}
      onClose={onClose}
    >
      <p>
        Axle {finding.axle}, {finding.side}: {findingInWords(finding)}, by {finding.technician}.
      </p>
    </Withdraw>
  );
}
