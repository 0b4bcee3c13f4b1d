import { countInWords } from '@mile-mark/contract/words';
import type { ImportResult } from '@mile-mark/contract/imports';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiProblem } from '../../api/client.ts';
import { useWithdrawImport } from '../../api/imports.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

type Taken = Pick<ImportResult, 'id' | 'kind' | 'fileName' | 'records'>;

const NOUN: Partial<Record<Taken['kind'], string>> = { readings: 'reading', services: 'service' };

/** Takes a sheet of readings or services back whole; offered where there is something to take back. */
export function TakeBackImport({ taken, onDone }: { taken: Taken; onDone?: () => void }) {
  const [open, setOpen] = useState(false);
  if ((taken.kind !== 'readings' && taken.kind !== 'services') || taken.records === 0) return null;
  return (
    <>
      <Button onClick={() => setOpen(true)}>Take it back …</Button>
      {open && (
        <Ask
          taken={taken}
          onClose={() => setOpen(false)}
          onDone={() => {
            setOpen(false);
            onDone?.();
          }}
        />
      )}
    </>
  );
}

function Ask({ taken, onClose, onDone }: { taken: Taken; onClose: () => void; onDone: () => void }) {
  const [id] = useNewId();
  const [reason, setReason] = useState('');
  const take = useWithdrawImport();
  const atField = take.error instanceof ApiProblem ? take.error.of('reason') : undefined;
  return (
    <Modal open onClose={onClose} title={`Take ${taken.fileName} back`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const send = async () => {
            const { records, vehicles } = await take.mutateAsync({ importId: taken.id, id, reason });
            toast(
              `${countInWords(records, NOUN[taken.kind] ?? 'record')} of ${countInWords(vehicles, 'vehicle')} withdrawn; their marks are computed anew.`,
            );
            onDone();
          };
          void send().catch(() => undefined);
        }}
      >
        <p>
          Its {countInWords(taken.records, NOUN[taken.kind] ?? 'record')} no longer count, and stay on record with who
          took them back and why. Rows still open are settled with it. The same file may come in again.
        </p>
        <Field
          label="Why"
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          placeholder="the wrong person, another year, …"
          error={atField}
        />
        {take.isError && !atField && (
          <p role="alert" className="font-medium text-brick">
            {take.error.message}
          </p>
        )}
        <div>
          <Button look="next" type="submit" disabled={reason.trim().length < 3 || take.isPending}>
            Take it back
          </Button>
        </div>
      </form>
    </Modal>
  );
}
