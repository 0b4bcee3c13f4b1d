import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { useState } from 'react';
import type { JointKindRow } from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useAddJointKind } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Modal } from '../../ui/Modal.tsx';

/** A kind of joint that is not on the list yet. */
export function NewKind({ onClose }: { onClose: () => void }) {
  const add = useAddJointKind();
  const [id] = useNewId();
  const [form, setForm] = useState<Omit<JointKindRow, 'id'>>({ name: '', brake: null, expected: false, hollow: false });
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  return (
    <Modal open onClose={onClose} title="A kind of joint for the list">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate({ id, ...form }, { onSuccess: onClose });
        }}
      >
        <Field
          label="Name"
          value={form.name}
          error={problem?.of('name') ?? (problem ? undefined : add.error?.message)}
          onChange={(event) => setForm({ ...form, name: event.target.value })}
        />
        <Choose
          label="Of which brakes"
          value={form.brake ?? ''}
          onChange={(event) => setForm({ ...form, brake: (event.target.value || null) as JointKindRow['brake'] })}
        >
          <option value="">all</option>
          <option value="hydraulic">hydraulic</option>
          <option value="air">air</option>
        </Choose>
        <Tick checked={form.expected} onChange={(checked) => setForm({ ...form, expected: checked })}>
          Every such axle has it: where it lacks, it is missing
        </Tick>
        <Tick checked={form.hollow} onChange={(checked) => setForm({ ...form, hollow: checked })}>
          A hollow screw, which holds far less
        </Tick>
        <div>
          <Button look="next" type="submit" disabled={form.name.trim() === '' || add.isPending}>
            Put it on the list
          </Button>
        </div>
      </form>
    </Modal>
  );
}
