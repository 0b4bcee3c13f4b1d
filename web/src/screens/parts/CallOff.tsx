import { useState } from 'react';
import { toast } from 'sonner';
import type { Order } from '@mile-mark/contract/parts';
import { ApiProblem } from '../../api/client.ts';
import { useCallOffOrder } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

/** Calls an order off with the reason, or says that nothing more comes of it; what follows is said before. */
export function CallOff({ order, onClose }: { order: Order; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const [id] = useNewId();
  const callOff = useCallOffOrder(order.id);
  const problem = callOff.error instanceof ApiProblem ? callOff.error : undefined;
  return (
    <Modal open onClose={onClose} title={`${order.number}, ${order.supplier} for ${order.depot}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          callOff.mutate(
            { id, reason },
            {
              onSuccess: () => {
                toast(`${order.number} is called off.`);
                onClose();
              },
            },
          );
        }}
      >
        <p>{followsFrom(order)}</p>
        <Field
          label="Why"
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
        />
        {problem && !problem.of('reason') && (
          <p role="alert" className="font-medium text-brick">
            {problem.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={callOff.isPending}>
            {order.state === 'sent' || order.state === 'acknowledged' ? 'No more comes' : 'Call it off'}
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function followsFrom({ state }: Order): string {
  if (state === 'proposed') return 'Its parts are not proposed again for seven days, whatever is short.';
  if (state === 'approved') return 'It has not gone out yet. Its parts are not proposed again for seven days.';
  return 'What came stays on the shelf. The rest is no longer waited for, and is proposed anew where it is needed. Tell the supplier: this does not.';
}
