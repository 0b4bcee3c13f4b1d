import { useState } from 'react';
import type { ModelKitLine, ModelKitWork } from '@mile-mark/contract/parts';
import { ACTION_WORDS } from '@mile-mark/contract/words';
import { AMOUNTS, isConsumable, KIT_PARTS, type KitPart } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddKitChange } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { figure } from '../../api/typed.ts';

/** What is being changed: a line, or, without one, what is taken beside. */
export interface Changing {
  axle: number;
  action: ModelKitWork['action'];
  line: ModelKitLine | undefined;
}

interface Props {
  model: string;
  version: number;
  changing: Changing;
  onDone: (told: string) => void;
  onClose: () => void;
}

/** Takes more, less or nothing of a kind with a work; why is kept with it. */
export function KitChangeForm({ model, version, changing: { axle, action, line }, onDone, onClose }: Props) {
  const [kind, setKind] = useState<KitPart>(line?.kind ?? 'clip set');
  const [quantity, setQuantity] = useState('');
  const [reason, setReason] = useState('');
  const [id] = useNewId();
  const change = useAddKitChange();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const save = (amount: number | null) =>
    change.mutate(
      { id, version, model, axle, kind, action, quantity: amount, reason },
      { onSuccess: () => onDone(`The kits of ${model} are version ${version + 1}.`) },
    );
  return (
    <Modal open onClose={onClose} title={`${model}, axle ${axle}, with ${ACTION_WORDS[action]}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          // A blank is no number, and said at the field.
          save(figure(quantity));
        }}
      >
        {line ? (
          <p className="font-semibold">{line.kind}</p>
        ) : (
          <Choose
            label="Kind"
            value={kind}
            onChange={({ target }) => setKind(target.value as KitPart)}
            error={problem?.of('kind')}
          >
            {KIT_PARTS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Choose>
        )}
        {line && problem?.of('kind') && (
          <p role="alert" className="font-medium text-brick">
            {problem.of('kind')}
          </p>
        )}
        <Field
          label={isConsumable(kind) ? `${AMOUNTS[kind].unit} an axle (0: none)` : 'Pieces a wheel (0: none)'}
          large
          value={quantity}
          inputMode="decimal"
          onChange={(event) => setQuantity(event.target.value)}
          error={problem?.of('quantity')}
        />
        <Field
          label="Why"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={problem?.of('reason')}
        />
        <p className="text-soft">
          It counts for jobs that begin from now on; work in progress keeps its kit. The maker’s list goes before the
          shop’s habit.
        </p>
        <Refusal problem={problem} />
        <div className="flex flex-wrap gap-3">
          <Button look="next" type="submit" disabled={change.isPending}>
            Save
          </Button>
          {line?.changed && (
            <Button disabled={change.isPending} onClick={() => save(null)}>
              As usual again
            </Button>
          )}
        </div>
      </form>
    </Modal>
  );
}
