import { milesInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import { useVehicles } from '../api/register.ts';
import { Button } from '../ui/Button.tsx';
import { Field } from '../ui/Field.tsx';
import { Modal } from '../ui/Modal.tsx';

/** As many are offered. */
const MOST = 8;

/** Any unit, from any screen: typed, and opened with Enter; measured, where that is what one came for. */
export function FindUnit({ me, onClose }: { me: Me; onClose: () => void }) {
  const vehicles = useVehicles();
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const wanted = typed.trim().toUpperCase();
  const found = (vehicles.data ?? [])
    .filter(({ unit, model, depot }) => `${unit} ${model} ${depot}`.toUpperCase().includes(wanted))
    .sort((a, b) => Number(b.unit.startsWith(wanted)) - Number(a.unit.startsWith(wanted)))
    .slice(0, MOST);
  const chosen = found[Math.min(at, found.length - 1)];
  const open = (path: string) => {
    onClose();
    void navigate(path);
  };
  return (
    <Modal open discardable onClose={onClose} title="Find a unit">
      <form
        role="search"
        onSubmit={(event) => {
          event.preventDefault();
          // Quicker than the list came: what was typed is opened as it is.
          const unit = chosen?.unit ?? (vehicles.isPending ? wanted : '');
          if (unit !== '') open(`/vehicles/${encodeURIComponent(unit)}`);
        }}
      >
        <Field
          label="Unit number, model or depot"
          large
          autoFocus
          autoComplete="off"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            setAt(0);
          }}
          onKeyDown={(event) => {
            const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
            if (step === 0) return;
            event.preventDefault();
            setAt(Math.min(Math.max(0, at + step), Math.max(0, found.length - 1)));
          }}
        />
      </form>
      {vehicles.isLoadingError && (
        <p role="alert" className="mt-2 text-brick">
          {vehicles.error.message}
        </p>
      )}
      {vehicles.data && found.length === 0 && (
        <p role="status" className="mt-2 text-soft">
          No vehicle on record is called so.
        </p>
      )}
      <ul className="mt-2">
        {found.map((one) => (
          <li
            key={one.unit}
            className={`flex items-center gap-2 border-b border-l-4 border-hair ${one === chosen ? 'border-l-ink bg-raised' : 'border-l-transparent'}`}
          >
            <button
              type="button"
              onClick={() => open(`/vehicles/${encodeURIComponent(one.unit)}`)}
              className="flex min-h-11 grow items-center gap-3 px-2 text-left hover:underline"
            >
              <span className="figures w-14 text-lg font-semibold">{one.unit}</span>
              <span className="grow">
                {one.model}, {one.depot}
              </span>
              {one.odometerMi !== null && (
                <span className="figures text-soft">{milesInWords(one.odometerMi, me.distanceUnit)}</span>
              )}
            </button>
            {mayDo(me.role, 'measure') && (
              <Button onClick={() => open(`/measure/${encodeURIComponent(one.unit)}`)}>Measure</Button>
            )}
          </li>
        ))}
      </ul>
    </Modal>
  );
}
