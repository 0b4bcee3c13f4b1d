import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { milesInWords } from '@mile-mark/contract/words';
import { useSession } from '../../../api/people.ts';
import { useRejoinFleet, useUndoVehicleMove } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { AnotherModel, AnotherUnit, StartOdometer } from './CorrectVehicle.tsx';
import { InstrumentReplaced } from './Instrument.tsx';
import { LeaveFleet } from './LeaveFleet.tsx';
import { MoveVehicle } from './MoveVehicle.tsx';

interface Props {
  vehicle: FleetVehicle;
  me: Me;
  onRenamed: (unit: string) => void;
  onClose: () => void;
}

type Verb = 'unit' | 'model' | 'move' | 'leave' | 'start' | 'instrument';

/** One vehicle's entry in the fleet, with what can be done about it. */
export function VehiclePanel({ vehicle, me, onRenamed, onClose }: Props) {
  const [doing, setDoing] = useState<Verb>();
  const { unit, model, depot, duty, start, left, mark, lastLook } = vehicle;
  const instrument = vehicle.instruments.at(-1);
  const today = useSession().data?.today ?? '';
  const mayKeep = mayDo(me.role, 'register');
  const close = () => setDoing(undefined);
  const own = { vehicle, onClose: close };
  const page = `/vehicles/${encodeURIComponent(unit)}`;
  const verb = (name: Verb, label: string, text: string) =>
    mayKeep && !left ? (
      <Button look="bare" aria-label={label} onClick={() => setDoing(name)}>
        {text} …
      </Button>
    ) : null;
  return (
    <aside
      aria-label={`Entry of ${unit}`}
      className="overflow-y-auto border-line bg-raised p-4 max-lg:border-t lg:border-l"
      // A sheet over this closes first, and is heard here too.
      onKeyDown={(event) => event.key === 'Escape' && doing === undefined && onClose()}
    >
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="figures text-2xl font-semibold">{unit}</h2>
        {left && (
          <strong>
            {left.how} {formatDate(left.on)}
          </strong>
        )}
        <Button look="bare" className="ml-auto" onClick={onClose}>
          Close
        </Button>
      </div>
      <dl className="grid grid-cols-[6rem_1fr] gap-x-3 gap-y-2">
        <Fact name="Unit number" verb={verb('unit', `Another unit number for ${unit}`, 'Correct')}>
          {unit}
        </Fact>
        <Fact name="Model" verb={verb('model', `Another model for ${unit}`, 'Another')}>
          {model}
        </Fact>
        <Fact name="Depot" verb={verb('move', `Move ${unit}`, 'Move')}>
          {depot}
        </Fact>
        {vehicle.move && <OpenMoveNote vehicle={vehicle} mayKeep={mayKeep} />}
        <Fact
          name="Duty"
          verb={
            mayKeep && !left ? (
              <Link
                className="underline decoration-line underline-offset-2"
                to={`/duty?for=${encodeURIComponent(unit)}`}
              >
                Another …
              </Link>
            ) : null
          }
        >
          {duty ?? 'none stated'}
        </Fact>
        <Fact
          name="Record began"
          verb={start ? verb('start', `Correct the start odometer of ${unit}`, 'Correct') : null}
        >
          {start ? `${formatDate(start.date)} at ${milesInWords(start.odometerMi, me.distanceUnit)}` : 'no odometer'}
        </Fact>
        <Fact name="Odometer" verb={verb('instrument', `Instrument of ${unit} replaced`, 'New instrument')}>
          {vehicle.odometerMi === null ? 'none yet' : milesInWords(vehicle.odometerMi, me.distanceUnit)}
          {instrument && (
            <span className="block text-soft">
              new instrument on {formatDate(instrument.on)}; the old one showed{' '}
              {milesInWords(instrument.oldMi, me.distanceUnit)}
            </span>
          )}
        </Fact>
        <Fact name="Last look">{lastLook ? formatDate(lastLook) : 'never measured'}</Fact>
        <Fact name="Nearest mark">
          {left
            ? 'none: it is not in the fleet'
            : mark
              ? `${formatDate(mark.date)}, axle ${mark.axle}${mark.date < today ? ', passed' : ''}`
              : 'none yet'}
        </Fact>
      </dl>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <Link className="rounded-sm border border-line bg-raised px-3 py-1.5 hover:border-ink" to={page}>
          Its page
        </Link>
        {mayKeep && !left && <Button onClick={() => setDoing('leave')}>Sold or retired …</Button>}
        {mayKeep && left && <Rejoin unit={unit} />}
      </div>
      {doing === 'unit' && <AnotherUnit {...own} onRenamed={onRenamed} />}
      {doing === 'model' && <AnotherModel {...own} />}
      {doing === 'move' && <MoveVehicle {...own} />}
      {doing === 'leave' && <LeaveFleet {...own} />}
      {doing === 'instrument' && <InstrumentReplaced {...own} me={me} />}
      {doing === 'start' && <StartOdometer {...own} me={me} />}
    </aside>
  );
}

function Fact({ name, verb, children }: { name: string; verb?: ReactNode; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="flex items-baseline justify-between gap-3">
        <span>{children}</span>
        <span className="shrink-0">{verb}</span>
      </dd>
    </>
  );
}

function OpenMoveNote({ vehicle: { unit, move }, mayKeep }: { vehicle: FleetVehicle; mayKeep: boolean }) {
  const undo = useUndoVehicleMove();
  if (!move) return null;
  const back = move.backOn ? `, back in ${move.from} on ${formatDate(move.backOn)}` : '';
  return (
    <>
      <dt className="text-soft">{move.begun ? 'Lent' : 'Moves'}</dt>
      <dd className="flex items-baseline justify-between gap-3">
        <span>
          {move.begun ? `since ${formatDate(move.on)}${back}` : `to ${move.to} on ${formatDate(move.on)}${back}`}
        </span>
        {mayKeep && (
          <Button
            look="bare"
            className="shrink-0"
            aria-label={`Take back the move of ${unit}`}
            disabled={undo.isPending}
            onClick={() => undo.mutate(move.id, { onError: (error) => toast(error.message) })}
          >
            Take back
          </Button>
        )}
      </dd>
    </>
  );
}

function Rejoin({ unit }: { unit: string }) {
  const rejoin = useRejoinFleet();
  return (
    <>
      <Button disabled={rejoin.isPending} onClick={() => rejoin.mutate(unit)}>
        It is in the fleet after all
      </Button>
      {rejoin.isError && (
        <p role="alert" className="text-brick">
          {rejoin.error.message}
        </p>
      )}
    </>
  );
}
