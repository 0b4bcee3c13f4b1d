import { milesInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import type { OwnInspection } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { useOwnInspections, useVehicleSheets } from '../../../api/inspections.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate, formatTime } from '../../../ui/format.ts';
import { TakeBack } from './TakeBack.tsx';

/** As many at first. */
const FIRST = 4;

const several = (n: number, what: string) => (n === 0 ? [] : [`${n} ${what}${n === 1 ? '' : 's'}`]);

/** What one entered oneself within a day: each can be moved to another vehicle, or withdrawn whole. */
export function OwnSheets({ me }: { me: Me }) {
  const own = useOwnInspections();
  if (own.isPending) return null;
  if (own.isLoadingError) return <p className="text-soft">Your last sheets couldn’t load: {own.error.message}</p>;
  if (own.data.length === 0) return null;
  return <Sheets title="My last sheets" sheets={own.data} me={me} />;
}

/** What anybody entered of one vehicle, for the coordinator to put right. */
export function VehicleSheets({ unit, me }: { unit: string; me: Me }) {
  const sheets = useVehicleSheets(unit);
  if (sheets.isPending) return <p className="text-soft">Loading the sheets of {unit} …</p>;
  if (sheets.isLoadingError)
    return (
      <p role="alert" className="text-brick">
        The sheets of {unit} couldn’t load: {sheets.error.message}
      </p>
    );
  if (sheets.data.length === 0) return <p>Nothing was measured on {unit} yet.</p>;
  return <Sheets title={`Sheets of ${unit}`} sheets={sheets.data} me={me} />;
}

function Sheets({ title, sheets, me }: { title: string; sheets: OwnInspection[]; me: Me }) {
  const [chosen, setChosen] = useState<OwnInspection>();
  const [all, setAll] = useState(false);
  return (
    <section aria-labelledby="sheets">
      <h2 id="sheets" className="mb-1 text-xl font-semibold">
        {title}
      </h2>
      <ul className="flex flex-col">
        {sheets.slice(0, all ? undefined : FIRST).map((one) => (
          <li key={one.id} className="grid grid-cols-[3.2rem_1fr_auto] items-center gap-x-3 border-b border-hair py-1">
            <span className="figures text-lg font-semibold">{one.unit}</span>
            <span>
              <span className="figures">
                {one.date === one.enteredAt.slice(0, 10) ? formatTime(one.enteredAt) : formatDate(one.date)}
              </span>
              ,{' '}
              {[
                ...several(one.readings, 'reading'),
                ...several(one.findings, 'finding'),
                ...several(one.rotors, 'rotor'),
                ...several(one.photos, 'photo'),
              ].join(', ')}
              , {milesInWords(one.odometerMi, me.distanceUnit)}
              {one.technician !== me.name && `, measured by ${one.technician}`}
              {one.forbids && <strong className="text-brick"> · do not drive</strong>}
              {one.withdrawn && (
                <span className="block text-soft">
                  {one.withdrawn.movedTo ? `Moved to ${one.withdrawn.movedTo}` : 'Withdrawn'}: {one.withdrawn.reason}
                </span>
              )}
            </span>
            {!one.withdrawn && (
              <Button large onClick={() => setChosen(one)}>
                Take back …
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!all && sheets.length > FIRST && (
        <Button look="bare" onClick={() => setAll(true)}>
          All {sheets.length}
        </Button>
      )}
      {chosen && <TakeBack inspection={chosen} me={me} onClose={() => setChosen(undefined)} />}
    </section>
  );
}
