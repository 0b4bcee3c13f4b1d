import { useState } from 'react';
import { toast } from 'sonner';
import type { JobAxle } from '@mile-mark/contract/jobs';
import { actionInWords } from '@mile-mark/contract/words';
import { JOB_ACTIONS, type JobAction } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useChangeScope } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

type Where = 'both' | 'left' | 'right';

/** Adds something to what is done at an axle, or leaves it out, with the reason. */
export function ChangeScope({ jobId, axle, onClose }: { jobId: string; axle: JobAxle; onClose: () => void }) {
  const [id] = useNewId();
  const change = useChangeScope(jobId);
  const [form, setForm] = useState<{ action: JobAction; where: Where; reason: string }>({
    action: 'calipers',
    where: 'both',
    reason: '',
  });
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const had = axle.scope.find(({ action }) => action === form.action);
  const send = (wanted: boolean) =>
    change.mutate(
      {
        id,
        axle: axle.axle,
        action: form.action,
        sides: form.where === 'both' ? 'both' : [form.where],
        wanted,
        reason: form.reason,
      },
      {
        onSuccess: () => {
          toast(wanted ? 'Added; the card has its steps.' : 'Left out; the reason stands in the story.');
          onClose();
        },
      },
    );
  return (
    <Modal open onClose={onClose} title={`What is done at axle ${axle.axle}`}>
      <div className="flex flex-col gap-3">
        <div className="grid grid-cols-2 gap-3">
          <Choose
            label="What"
            value={form.action}
            onChange={(event) => setForm({ ...form, action: event.target.value as JobAction })}
            error={problem?.of('action')}
          >
            {JOB_ACTIONS.map((action) => (
              <option key={action} value={action}>
                {actionInWords({ action, sides: 'both' })}
              </option>
            ))}
          </Choose>
          <Choose
            label="Where"
            value={form.where}
            onChange={(event) => setForm({ ...form, where: event.target.value as Where })}
          >
            <option value="both">both sides</option>
            <option value="left">left</option>
            <option value="right">right</option>
          </Choose>
        </div>
        <Field
          label="Reason"
          value={form.reason}
          onChange={(event) => setForm({ ...form, reason: event.target.value })}
          error={problem?.of('reason')}
        />
        {change.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="text-brick">
            {change.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="next" disabled={change.isPending} onClick={() => send(true)}>
            Add it
          </Button>
          {had && !had.mandatory && (
            <Button disabled={change.isPending} onClick={() => send(false)}>
              Leave it out
            </Button>
          )}
        </div>
      </div>
    </Modal>
  );
}
