import { figureOf } from '@mile-mark/core';
import { useNewId } from '../../ui/useNewId.ts';
import { useState } from 'react';
import { toast } from 'sonner';
import { FitmentChange, type Fitment, type LibraryModel } from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useVehicles } from '../../api/register.ts';
import { useAddVariant, useChangeFitment, useChangeModel } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Modal } from '../../ui/Modal.tsx';

type Typed = Record<keyof Fitment, string>;
const typedOf = (fitment: Fitment): Typed => ({
  drive: fitment.drive ?? '',
  wheelbaseMm: fitment.wheelbaseMm === null ? '' : String(fitment.wheelbaseMm),
  builtFrom: fitment.builtFrom ?? '',
  builtTo: fitment.builtTo ?? '',
  axleOption: fitment.axleOption ?? '',
});
const read = (typed: Typed) =>
  FitmentChange.safeParse({
    drive: typed.drive || null,
    wheelbaseMm: figureOf(typed.wheelbaseMm, { thousandsLikely: true }) ?? null,
    builtFrom: typed.builtFrom || null,
    builtTo: typed.builtTo || null,
    axleOption: typed.axleOption || null,
  });

/** What tells this variant from its sisters; another variant; which vehicles are of it. */
export function VariantSheet({ model, onClose }: { model: LibraryModel; onClose: () => void }) {
  const change = useChangeFitment();
  const add = useAddVariant();
  const [id] = useNewId();
  const [typed, setTyped] = useState(() => typedOf(model.fitment));
  const [name, setName] = useState('');
  const parsed = read(typed);
  const wrong = parsed.success
    ? {}
    : Object.fromEntries(parsed.error.issues.map(({ path, message }) => [String(path[0]), message]));
  const nameWrong = add.error instanceof ApiProblem ? (add.error.of('name') ?? add.error.message) : add.error?.message;
  return (
    <Modal open onClose={onClose} title={`${model.name}: fitment and variants`}>
      <div className="flex flex-col gap-4">
        <p className="text-soft">
          Torques belong to the exact variant: two that look alike may differ. A new variant copies masses and axles,
          and no specification.
        </p>
        <FitmentFields model={model} typed={typed} wrong={wrong} onChange={setTyped} />
        <div>
          <Button
            disabled={!parsed.success || change.isPending}
            onClick={() =>
              parsed.success &&
              change.mutate(
                { modelId: model.id, revision: model.revision, ...parsed.data },
                { onSuccess: () => toast('The fitment is on record.') },
              )
            }
          >
            Keep this fitment
          </Button>
          {change.isError && <p role="alert">{change.error.message}</p>}
        </div>
        <div className="flex items-end gap-3 border-t border-line pt-3">
          <div className="grow">
            <Field
              label="Name of another variant, with the fitment above"
              value={name}
              error={nameWrong}
              onChange={(event) => setName(event.target.value)}
            />
          </div>
          <Button
            disabled={name.trim() === '' || !parsed.success || add.isPending}
            onClick={() =>
              parsed.success &&
              add.mutate({ modelId: model.id, id, name: name.trim(), fitment: parsed.data }, { onSuccess: onClose })
            }
          >
            Put it on record
          </Button>
        </div>
        <Move model={model} />
      </div>
    </Modal>
  );
}

interface FitmentProps {
  model: LibraryModel;
  typed: Typed;
  wrong: Partial<Record<string, string>>;
  onChange: (typed: Typed) => void;
}

function FitmentFields({ model, typed, wrong, onChange }: FitmentProps) {
  return (
    <div className="grid grid-cols-2 gap-3">
      {(
        [
          ['drive', 'Drive', 'text'],
          ['wheelbaseMm', 'Wheelbase, mm', 'text'],
          ['builtFrom', 'Built from', 'date'],
          ['builtTo', 'Built to', 'date'],
          ['axleOption', 'Axle option', 'text'],
        ] as const
      ).map(([field, label, type]) => (
        <Field
          key={field}
          label={label}
          type={type}
          value={typed[field]}
          error={wrong[field]}
          onChange={(event) => onChange({ ...typed, [field]: event.target.value })}
        />
      ))}
      <p className="self-end text-soft">Rated mass {model.gvwrKg.toLocaleString('en-US')} kg</p>
    </div>
  );
}

/** Says of a vehicle that it is of this variant. */
function Move({ model }: { model: LibraryModel }) {
  const move = useChangeModel();
  const vehicles = useVehicles();
  const [unit, setUnit] = useState('');
  const others = vehicles.data?.filter((vehicle) => vehicle.model !== model.name) ?? [];
  return (
    <div className="flex items-end gap-3 border-t border-line pt-3">
      <div className="grow">
        <Choose
          label="A vehicle that is of this variant"
          value={unit}
          error={move.error?.message}
          onChange={(event) => setUnit(event.target.value)}
        >
          <option value="">choose …</option>
          {others.map((vehicle) => (
            <option key={vehicle.unit} value={vehicle.unit}>
              {vehicle.unit}, now {vehicle.model}
            </option>
          ))}
        </Choose>
      </div>
      <Button
        disabled={unit === '' || move.isPending}
        onClick={() =>
          move.mutate(
            { unit, model: model.name },
            { onSuccess: () => toast(`${unit} is a ${model.name} from now on; its forecast is made anew.`) },
          )
        }
      >
        It is of this variant
      </Button>
    </div>
  );
}
