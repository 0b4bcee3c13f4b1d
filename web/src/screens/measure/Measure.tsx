import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useVehicle, useVehicles } from '../../api/fleet.ts';
import { useMe } from '../../api/session.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { State } from '../../ui/State.tsx';
import { InspectionForm } from './InspectionForm.tsx';

/** Measure: choose a vehicle, then enter one inspection wheel by wheel. Dark, for the bay. */
export function Measure() {
  const { unit } = useParams();
  useEffect(() => {
    document.documentElement.dataset.theme = 'bay';
    return () => {
      delete document.documentElement.dataset.theme;
    };
  }, []);
  return (
    <div className="h-full overflow-y-auto bg-ground">
      {unit ? <OfVehicle key={unit} unit={unit} /> : <ChooseVehicle />}
    </div>
  );
}

function OfVehicle({ unit }: { unit: string }) {
  const me = useMe();
  const vehicle = useVehicle(unit);
  if (vehicle.isPending)
    return <State title={`Loading ${unit}`} what="Fetching what its pads are expected to measure." quiet />;
  if (vehicle.isError) {
    return (
      <State title={`${unit} did not come`} what={vehicle.error.message}>
        <Button onClick={() => void vehicle.refetch()}>Try again</Button>
      </State>
    );
  }
  return <InspectionForm vehicle={vehicle.data} me={me} />;
}

function ChooseVehicle() {
  const vehicles = useVehicles();
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const wanted = typed.trim().toUpperCase();
  const matches = vehicles.data?.filter(({ unit }) => unit.includes(wanted)).slice(0, 40) ?? [];
  const exact = vehicles.data?.find(({ unit }) => unit === wanted) ?? (matches.length === 1 ? matches[0] : undefined);
  return (
    <form
      className="mx-auto flex max-w-3xl flex-col gap-4 p-6"
      onSubmit={(event) => {
        event.preventDefault();
        // Before the list is there, what was typed is asked for as it stands.
        const unit = exact?.unit ?? (vehicles.isSuccess ? undefined : wanted);
        if (unit) void navigate(`/measure/${unit}`);
      }}
    >
      <h1 className="text-xl font-semibold">Which vehicle?</h1>
      <Field
        label="Unit number"
        large
        autoFocus
        autoComplete="off"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        error={
          wanted !== '' && vehicles.isSuccess && matches.length === 0
            ? `There is no vehicle ${wanted} on record.`
            : undefined
        }
        hint="Type it and press Enter, or choose below."
      />
      {vehicles.isError && <p role="alert">{vehicles.error.message}</p>}
      <ul className="grid grid-cols-2 gap-2 sm:grid-cols-4">
        {matches.map(({ unit, model, depot }) => (
          <li key={unit}>
            <button
              type="button"
              onClick={() => void navigate(`/measure/${unit}`)}
              className="min-h-14 w-full rounded border border-line bg-raised px-3 text-left hover:border-ink"
            >
              <span className="figures text-lg font-semibold">{unit}</span>
              <span className="block truncate text-[12px] text-soft">
                {model}, {depot}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </form>
  );
}
