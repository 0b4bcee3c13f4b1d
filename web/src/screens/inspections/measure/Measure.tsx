import { useEffect } from 'react';
import { Link, useMatch, useParams } from 'react-router';
import { useVehicle } from '../../../api/forecasts.ts';
import { useMe } from '../../../api/people.ts';
import { useBay } from '../../../stores/bay.ts';
import { Button } from '../../../ui/Button.tsx';
import { State } from '../../../ui/State.tsx';
import { DriveNotice } from '../../jobs/index.ts';
import { Capture } from './Capture.tsx';
import { ChooseVehicle } from './ChooseVehicle.tsx';
import { InspectionForm } from './InspectionForm.tsx';

/** Measure: choose a vehicle, then capture one inspection wheel by wheel, or type one in as a sheet. Dark, for the bay. */
export function Measure() {
  const { unit } = useParams();
  const sheet = useMatch('/measure/:unit/sheet');
  useEffect(() => {
    document.documentElement.dataset.theme = 'bay';
    return () => {
      delete document.documentElement.dataset.theme;
    };
  }, []);
  return (
    <div className="h-full overflow-y-auto bg-ground">
      {unit && <DriveNotice unit={unit.toUpperCase()} link={false} />}
      {unit && sheet ? <Sheet key={unit} unit={unit} /> : <InTheBay unit={unit?.toUpperCase()} />}
    </div>
  );
}

function InTheBay({ unit }: { unit: string | undefined }) {
  const me = useMe();
  const bay = useBay();
  if (bay.isPending) return <State title="Loading" what="Fetching what the pads are expected to measure." quiet />;
  if (bay.isLoadingError) {
    return (
      <State
        title="The vehicles couldn’t load"
        what={`${bay.error.message} Open Measure once with a network; from then on it works without.`}
      >
        <Button onClick={() => void bay.refetch()}>Try again</Button>
      </State>
    );
  }
  if (!unit) return <ChooseVehicle state={bay.data} me={me} />;
  const vehicle = bay.data.bay.vehicles.find((one) => one.unit === unit);
  if (!vehicle) {
    return (
      <State
        title={`There is no vehicle ${unit} ${me.depots.length > 0 ? `at ${me.depots.join(' or ')}` : 'on record'}`}
        what={
          me.depots.length > 0
            ? 'You measure what is at your depots, and what they do of others.'
            : 'The label may be of another fleet, or the vehicle renumbered.'
        }
      >
        <Link className="underline" to="/measure">
          Choose a vehicle
        </Link>
      </State>
    );
  }
  return <Capture key={unit} state={bay.data} vehicle={vehicle} me={me} />;
}

function Sheet({ unit }: { unit: string }) {
  const me = useMe();
  const vehicle = useVehicle(unit);
  if (vehicle.isPending)
    return <State title={`Loading ${unit}`} what="Fetching what its pads are expected to measure." quiet />;
  if (vehicle.isLoadingError) {
    return (
      <State title={`${unit} couldn’t load`} what={vehicle.error.message}>
        <Button onClick={() => void vehicle.refetch()}>Try again</Button>
      </State>
    );
  }
  return <InspectionForm vehicle={vehicle.data} me={me} />;
}
