import { awayInWords, milesInWords } from '@mile-mark/contract/words';
import { ScanLine } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { Bay, BayVehicle } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import type { BayState } from '../../../stores/bay.ts';
import { chooseDepot, depotOfDevice } from '../../../stores/depot.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { axleAskedInWords } from './asked.ts';
import { OwnSheets, VehicleSheets } from './OwnSheets.tsx';
import { Term } from '../../../drawings/Term.tsx';
import { Waiting } from './Waiting.tsx';
import { worthLooking } from './worth.ts';

const Scan = lazy(async () => ({ default: (await import('../../../label/Scan.tsx')).Scan }));

/** Which vehicle: by its number, by its label, or from what is worth a look in this depot today. */
export function ChooseVehicle({ state: { bay, kept }, me }: { state: BayState; me: Me }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const [scanning, setScanning] = useState(false);
  const [query] = useSearchParams();
  const sheetsOf = query.get('sheets') ?? undefined;
  const wanted = typed.trim().toUpperCase();
  const matches = wanted === '' ? [] : bay.vehicles.filter(({ unit }) => unit.includes(wanted)).slice(0, 12);
  const exact = bay.vehicles.find(({ unit }) => unit === wanted) ?? (matches.length === 1 ? matches[0] : undefined);
  const open = (unit: string) => void navigate(`/measure/${encodeURIComponent(unit)}`);
  return (
    <div className="mx-auto grid max-w-6xl gap-6 p-4 min-[900px]:grid-cols-[1fr_1.1fr]">
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (exact) open(exact.unit);
        }}
      >
        <h1 className="text-xl font-semibold">Which vehicle?</h1>
        {scanning ? (
          <Suspense fallback={<p>Starting the camera …</p>}>
            <Scan
              onUnit={(unit) => {
                if (bay.vehicles.some((vehicle) => vehicle.unit === unit)) open(unit);
                else {
                  setScanning(false);
                  setTyped(unit);
                }
              }}
              onClose={() => setScanning(false)}
            />
          </Suspense>
        ) : (
          <>
            <div className="flex items-end gap-2">
              <div className="grow">
                <Field
                  label="Unit number"
                  large
                  autoFocus
                  autoComplete="off"
                  autoCapitalize="characters"
                  value={typed}
                  onChange={(event) => setTyped(event.target.value)}
                />
              </div>
              <Button large onClick={() => setScanning(true)} className="flex shrink-0 items-center gap-2">
                <ScanLine aria-hidden /> Scan label
              </Button>
            </div>
            {wanted !== '' && matches.length === 0 && (
              <p role="alert" className="font-medium text-brick">
                There is no vehicle {wanted} on record.
              </p>
            )}
            {wanted === '' && (
              <p className="text-soft">Type it and press Enter, scan its label, or choose from what is worth a look.</p>
            )}
            <Matches matches={matches} onOpen={open} />
          </>
        )}
        <Waiting me={me} kept={kept} at={bay.at} />
        {sheetsOf !== undefined && mayDo(me.role, 'correctOthers') && <VehicleSheets unit={sheetsOf} me={me} />}
        {!kept && sheetsOf === undefined && <OwnSheets me={me} />}
        <p className="text-[13px] text-soft">
          <Link className="underline" to="/labels">
            Print labels for the vehicles
          </Link>
        </p>
      </form>
      <WorthLooking bay={bay} me={me} onOpen={open} />
    </div>
  );
}

interface MatchesProps {
  matches: BayVehicle[];
  onOpen: (unit: string) => void;
}

/** Vehicles whose number holds what was typed. */
function Matches({ matches, onOpen }: MatchesProps) {
  return (
    <ul className="grid grid-cols-2 gap-2 sm:grid-cols-3">
      {matches.map(({ unit, model, depot: where }) => (
        <li key={unit}>
          <button
            type="button"
            onClick={() => onOpen(unit)}
            className="min-h-14 w-full rounded border border-line bg-raised px-3 text-left hover:border-ink"
          >
            <span className="figures text-lg font-semibold">{unit}</span>
            <span className="block truncate text-[12px] text-soft">
              {model}, {where}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Where one more set of readings helps a decision most, in one depot or in all. */
function WorthLooking({ bay, me, onOpen }: { bay: Bay; me: Me; onOpen: (unit: string) => void }) {
  const [depot, setDepot] = useState(depotOfDevice);
  const depots = [...new Set(bay.vehicles.map((vehicle) => vehicle.depot))].sort();
  return (
    <section aria-labelledby="worth">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h2 id="worth" className="text-xl font-semibold">
          Worth a look today
        </h2>
        <Choose
          label="Depot"
          large
          hideLabel
          aria-label="Depot"
          value={depot}
          onChange={(event) => {
            setDepot(event.target.value);
            chooseDepot(event.target.value);
          }}
        >
          <option value="">All depots</option>
          {depots.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
      </div>
      <ol className="flex flex-col gap-1.5">
        {worthLooking(bay, depot, 8).map(({ vehicle, axle, daysToMark }) => (
          <li key={vehicle.unit}>
            <button
              type="button"
              onClick={() => onOpen(vehicle.unit)}
              className="grid min-h-14 w-full grid-cols-[4.5rem_1fr] items-center rounded border border-line bg-raised px-3 py-1.5 text-left hover:border-ink"
            >
              <span className="figures text-xl font-semibold">{vehicle.unit}</span>
              <span>
                <span className="block">
                  Axle {axle.axle}: mark{' '}
                  {daysToMark === undefined
                    ? 'not known'
                    : daysToMark < 0
                      ? `passed ${awayInWords(Math.round(daysToMark))}`
                      : awayInWords(Math.round(daysToMark))}
                </span>
                {axle.asked && <strong className="block text-[14px]">{axleAskedInWords(axle.axle, axle.asked)}</strong>}
                {axle.worth && (
                  <span className="figures block text-[13px] text-soft">
                    measuring it narrows the forecast from{' '}
                    {milesInWords(hundreds(axle.worth.width80Mi), me.distanceUnit)} to{' '}
                    {milesInWords(hundreds(axle.worth.width80AfterMi), me.distanceUnit)}
                    {axle.worth.laterMi > 50 &&
                      `, mark ${milesInWords(hundreds(axle.worth.laterMi), me.distanceUnit)} later`}
                  </span>
                )}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-2 text-[13px] text-soft">
        <Term of="worth">Where one more set of readings helps a decision most.</Term> On average: what it finds may move
        a mark either way.
      </p>
    </section>
  );
}

/** To the hundred: more would be pretended. */
function hundreds(miles: number): number {
  return Math.round(miles / 100) * 100;
}
