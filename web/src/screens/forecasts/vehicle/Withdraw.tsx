import { useState, type ReactNode } from 'react';
import { ApiProblem } from '../../../api/client.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { useNewId } from '../../../ui/useNewId.ts';

/** Takes something back with a reason; what is asked is the same whatever it is. */
export function Withdraw({
  title,
  error,
  pending,
  onWithdraw,
  onClose,
  children,
}: {
  title: string;
  error: Error | null;
  pending: boolean;
  onWithdraw: (of: { id: string; reason: string }) => void;
  onClose: () => void;
  children: ReactNode;
}) {
  const [id] = useNewId();
  const [reason, setReason] = useState('');
  const atReason = error instanceof ApiProblem ? error.of('reason') : undefined;
  return (
    <Modal open onClose={onClose} title={title}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onWithdraw({ id, reason });
        }}
      >
        {children}
        <Field
          label="Why"
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={atReason}
        />
        {error && !atReason && (
          <p role="alert" className="text-brick">
            {error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={pending || reason.trim() === ''}>
            Withdraw it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
