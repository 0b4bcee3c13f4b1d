import { SEVERITY_WORDS } from '@mile-mark/contract/words';
import { useState } from 'react';
import { toast } from 'sonner';
import { type Complaint, COMPLAINT_KINDS, COMPLAINTS } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddComplaint } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

/** A complaint: what it is, and save; who said it and a note where there is more. */
export function AddComplaint({ unit, onClose }: { unit: string; onClose: () => void }) {
  const [id] = useNewId();
  const [kind, setKind] = useState<Complaint>();
  const [form, setForm] = useState({ saidBy: '', note: '' });
  const add = useAddComplaint();
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const save = () => {
    if (!kind) return;
    const { saidBy, note } = form;
    add.mutate(
      { id, unit, kind, ...(saidBy.trim() ? { saidBy } : {}), ...(note.trim() ? { note } : {}) },
      {
        onSuccess: () => {
          toast(`${unit}: “${kind}” is on record, ${SEVERITY_WORDS[COMPLAINTS[kind].severity].toLowerCase()}.`);
          onClose();
        },
      },
    );
  };
  return (
    <Modal open onClose={onClose} title={`Complaint about ${unit}`}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <div role="group" aria-label="What is complained of" className="grid grid-cols-2 gap-2 sm:grid-cols-3">
          {COMPLAINT_KINDS.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={kind === one}
              onClick={() => setKind(one)}
              className={`min-h-12 rounded-sm border px-3 text-left text-[15px] ${kind === one ? 'border-ink bg-ink text-sheet' : 'border-line bg-raised hover:border-ink'}`}
            >
              {one}
            </button>
          ))}
        </div>
        {kind && (
          <p>
            <strong>{SEVERITY_WORDS[COMPLAINTS[kind].severity]}.</strong> To be looked at:{' '}
            {COMPLAINTS[kind].look.join(', ')}.
          </p>
        )}
        <div className="grid gap-3 sm:grid-cols-2">
          <Field
            label="Who said it (you, where left blank)"
            value={form.saidBy}
            onChange={(event) => setForm({ ...form, saidBy: event.target.value })}
            error={problem?.of('saidBy')}
          />
          <Field
            label="In their words, if there is more"
            value={form.note}
            onChange={(event) => setForm({ ...form, note: event.target.value })}
            error={problem?.of('note')}
          />
        </div>
        {add.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="text-brick">
            {add.error.message}
          </p>
        )}
        <div>
          <Button look="next" large type="submit" disabled={!kind || add.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}
