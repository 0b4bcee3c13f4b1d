import { useNewId } from '../../../ui/useNewId.ts';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { thicknessInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../../api/client.ts';
import { useCorrectReading } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';
import { formatDate } from '../../../ui/format.ts';

/** Supersedes a reading with a reason, or withdraws it; the old one stays to be seen, struck through. */
export function CorrectReading({ reading, me, onClose }: { reading: Reading; me: Me; onClose: () => void }) {
  const [thickness, setThickness] = useState('');
  const [reason, setReason] = useState('');
  const correct = useCorrectReading();
  const [id] = useNewId();
  const problem = correct.error instanceof ApiProblem ? correct.error : undefined;
  const submit = (withdraw: boolean) =>
    correct.mutate(
      { readingId: reading.id, id, reason, ...(withdraw ? {} : { thickness }) },
      {
        onSuccess: () => {
          toast(
            withdraw
              ? 'Reading withdrawn; it stays on record, struck through.'
              : 'Reading corrected; the old one stays on record.',
          );
          onClose();
        },
      },
    );
  return (
    <Modal open onClose={onClose} title={`Correct a reading of ${formatDate(reading.date)}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          submit(false);
        }}
      >
        <p>
          Axle {reading.axle}, {reading.side}, {reading.pad}: {thicknessInWords(reading.mm ?? 0, me.thicknessUnit)} by{' '}
          {reading.technician} (typed {reading.typed}).
        </p>
        <Field
          label="As it should have been (8.5, 11/32, 0.33 in)"
          autoFocus
          value={thickness}
          onChange={(event) => setThickness(event.target.value)}
          error={problem?.of('thickness')}
        />
        <Field
          label="Why"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
          placeholder="backing plate was included"
        />
        {correct.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="text-brick">
            {correct.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="next" type="submit" disabled={correct.isPending || thickness.trim() === ''}>
            Correct it
          </Button>
          <Button disabled={correct.isPending} onClick={() => submit(true)}>
            Withdraw it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
