import { useState } from 'react';
import { toast } from 'sonner';
import type { JobDetail } from '@mile-mark/contract/jobs';
import { ApiProblem } from '../../api/client.ts';
import { useMoveJob } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { formatDate } from '../../ui/format.ts';
import { useNewId } from '../../ui/useNewId.ts';
import { DayAndBay } from './DayAndBay.tsx';

/** Books or moves a job to a day, or calls it off with a reason. */
export function MoveJob({ job, verb, onClose }: { job: JobDetail; verb: 'book' | 'call off'; onClose: () => void }) {
  const [id] = useNewId();
  const move = useMoveJob(job.id);
  const [form, setForm] = useState({ day: job.day ?? '', bay: job.bay ?? '', reason: '' });
  const problem = move.error instanceof ApiProblem ? move.error : undefined;
  const books = verb === 'book';
  return (
    <Modal open onClose={onClose} title={`${books ? (job.day ? 'Move' : 'Book') : 'Call off'} the job of ${job.unit}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const { day, bay, reason } = form;
          move.mutate(
            {
              id,
              verb,
              revision: job.revision,
              ...(books && day ? { day } : {}),
              ...(books && bay.trim() ? { bay } : {}),
              ...(reason.trim() ? { reason } : {}),
            },
            {
              onSuccess: () => {
                toast(books ? `Booked for ${formatDate(day)}.` : 'Called off.');
                onClose();
              },
            },
          );
        }}
      >
        {books && (
          <DayAndBay
            unit={job.unit}
            depot={job.depot}
            day={form.day}
            bay={form.bay}
            onDay={(day) => setForm({ ...form, day })}
            onBay={(bay) => setForm({ ...form, bay })}
            errorOf={(field) => problem?.of(field)}
          />
        )}
        <Field
          label={books ? 'Reason, where it is moved' : 'Reason'}
          value={form.reason}
          onChange={(event) => setForm({ ...form, reason: event.target.value })}
          error={problem?.of('reason')}
        />
        {move.isError && (
          <p role="alert" className="text-brick">
            {move.error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={move.isPending}>
            {books ? (job.day ? 'Move it' : 'Book it') : 'Call it off'}
          </Button>
        </div>
      </form>
    </Modal>
  );
}
