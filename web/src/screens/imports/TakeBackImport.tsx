import { countInWords } from '@mile-mark/contract/words';
import type { ImportResult } from '@mile-mark/contract/imports';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiProblem } from '../../api/client.ts';
import { useWithdrawImport } from '../../api/imports.ts';
import { useUndoables } from '../../stores/undo.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

const KEPT = 'They no longer count, and stay on record with who took them back and why.';
const UNDONE =
  'What it entered goes, and what it changed becomes what it was; where something stands on it since, you are told what.';

type Taken = Pick<ImportResult, 'id' | 'kind' | 'fileName' | 'records'>;

/** What a record of each kind is called, and what becomes of it. */
const KINDS: Record<Taken['kind'], { noun: string; becomes: string }> = {
  readings: { noun: 'reading', becomes: KEPT },
  services: { noun: 'service', becomes: KEPT },
  models: { noun: 'row', becomes: UNDONE },
  duties: { noun: 'row', becomes: UNDONE },
  vehicles: { noun: 'row', becomes: UNDONE },
  parts: { noun: 'line', becomes: UNDONE },
  orders: { noun: 'line', becomes: UNDONE },
  stock: { noun: 'count', becomes: 'Each count is followed by one of what stood there before it.' },
};

/** Takes an import back whole; offered where there is something to take back. */
export function TakeBackImport({ taken, onDone }: { taken: Taken; onDone?: () => void }) {
  const [open, setOpen] = useState(false);
  if (taken.records === 0) return null;
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
            const { vehicles } = await take.mutateAsync({ importId: taken.id, id, reason });
            useUndoables.getState().take(taken.id);
            toast(
              `${taken.fileName} is taken back${vehicles > 0 ? `; the marks of ${countInWords(vehicles, 'vehicle')} are computed anew` : ''}.`,
            );
            onDone();
          };
          void send().catch(() => undefined);
        }}
      >
        <p>
          It put {countInWords(taken.records, KINDS[taken.kind].noun)} on record. {KINDS[taken.kind].becomes} Rows still
          open are settled with it. The same file may come in again.
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
