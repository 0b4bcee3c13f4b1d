import { useState } from 'react';
import { toast } from 'sonner';
import type { StockRow } from '@mile-mark/contract/parts';
import { ApiProblem } from '../../api/client.ts';
import { useMove } from '../../api/parts.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

/** Counts one bin: what the record says is told only after the figure is in, so that nobody counts towards it. */
export function Count({ row, onClose, onNext }: { row: StockRow; onClose: () => void; onNext?: () => void }) {
  const [counted, setCounted] = useState('');
  const [id] = useNewId();
  const move = useMove();
  const problem = move.error instanceof ApiProblem ? move.error : undefined;
  const figure = /^\d+$/.test(counted.trim()) ? Number(counted.trim()) : undefined;
  return (
    <Modal open onClose={onClose} title={`Count bin ${row.bin}, ${row.depot}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (figure === undefined) return;
          move.mutate(
            {
              id,
              kind: 'count',
              part: row.part,
              depot: row.depot,
              bin: row.bin,
              ...(row.lot === null ? {} : { lot: row.lot }),
              counted: figure,
            },
            {
              onSuccess: ({ difference }) => {
                toast(
                  difference === 0
                    ? `${row.bin}: as on record.`
                    : `${row.bin}: ${Math.abs(difference ?? 0)} ${(difference ?? 0) > 0 ? 'more' : 'fewer'} than on record; the record follows.`,
                );
                (onNext ?? onClose)();
              },
            },
          );
        }}
      >
        <p className="text-lg">
          <span className="figures font-semibold">{row.part}</span> {row.name}
          {row.lot !== null && `, lot ${row.lot}`}
        </p>
        <Field
          label="How many lie there?"
          large
          autoFocus
          inputMode="numeric"
          value={counted}
          onChange={(event) => setCounted(event.target.value)}
          error={
            problem?.of('counted') ??
            (counted !== '' && figure === undefined ? 'A whole number, nought or more, is accepted.' : undefined)
          }
        />
        <Refusal problem={problem} />
        <Button look="next" large type="submit" disabled={figure === undefined || move.isPending}>
          {onNext ? 'Save, next bin' : 'Save'}
        </Button>
      </form>
    </Modal>
  );
}
