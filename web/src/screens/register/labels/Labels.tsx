import { useQuery } from '@tanstack/react-query';
import QRCode from 'qrcode';
import { useState } from 'react';
import { useVehicles } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { State } from '../../../ui/State.tsx';

/** Labels at once: more would be slow to draw and to stick on. */
const MOST = 300;

/** Labels for the vehicles, to print on A4 or Letter: unit number and a code that opens Measure. */
export function Labels() {
  const vehicles = useVehicles();
  const [depot, setDepot] = useState('');
  const [find, setFind] = useState('');
  if (vehicles.isPending) return <State title="Loading" what="Fetching the vehicles." quiet />;
  if (vehicles.isLoadingError) return <State title="The vehicles couldn’t load" what={vehicles.error.message} />;
  const depots = [...new Set(vehicles.data.map((vehicle) => vehicle.depot))].sort();
  const passing = vehicles.data.filter(
    (vehicle) => (depot === '' || vehicle.depot === depot) && vehicle.unit.includes(find.trim().toUpperCase()),
  );
  const shown = passing.slice(0, MOST);
  return (
    <div className="h-full overflow-y-auto p-4 print:overflow-visible print:p-0">
      <div className="mb-4 flex flex-wrap items-end gap-4 print:hidden">
        <h1 className="text-xl font-semibold">Labels</h1>
        <Choose label="Depot" value={depot} onChange={(event) => setDepot(event.target.value)}>
          <option value="">All depots</option>
          {depots.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
        <Field label="Unit" value={find} onChange={(event) => setFind(event.target.value)} />
        <Button look="next" onClick={() => window.print()} disabled={shown.length === 0}>
          Print {shown.length} {shown.length === 1 ? 'label' : 'labels'}
        </Button>
        <p className="text-soft">
          Stick it where it is seen with the door open. Scanning it opens Measure for this vehicle.
        </p>
      </div>
      {shown.length === 0 && <p>No vehicle passes the filter.</p>}
      {passing.length > MOST && (
        <p className="mb-2 print:hidden">
          The first {MOST} of {passing.length}; choose a depot or a unit for the others.
        </p>
      )}
      <ul className="grid grid-cols-1 gap-3 min-[360px]:grid-cols-2 sm:grid-cols-3 lg:grid-cols-5 print:grid-cols-3 print:gap-2">
        {shown.map(({ unit, model, depot: where }) => (
          <li
            key={unit}
            className="flex break-inside-avoid items-center gap-3 border border-line bg-white p-2 text-black"
          >
            <Code unit={unit} />
            <span className="min-w-0">
              <span className="figures block text-3xl font-semibold">{unit}</span>
              <span className="block text-[11px]">{model}</span>
              <span className="block text-[11px]">{where}</span>
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Code({ unit }: { unit: string }) {
  const code = useQuery({
    queryKey: ['label', unit],
    staleTime: Infinity,
    queryFn: () =>
      QRCode.toDataURL(`${window.location.origin}/measure/${encodeURIComponent(unit)}`, {
        errorCorrectionLevel: 'M',
        margin: 2,
        width: 192,
      }),
  });
  return code.data ? (
    <img src={code.data} alt={`Code of ${unit}`} className="h-24 w-24" />
  ) : (
    <span className="h-24 w-24">{code.isError ? 'no code' : ''}</span>
  );
}
