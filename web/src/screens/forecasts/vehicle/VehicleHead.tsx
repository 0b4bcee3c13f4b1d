import { mayDo } from '@mile-mark/contract';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { milesInWords } from '@mile-mark/contract/words';
import { Link } from 'react-router';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { JobVerbs } from '../../jobs/index.ts';
import { Failed } from '../Failed.tsx';

interface Verbs {
  vehicle: VehicleDetail;
  me: Me;
  /** The axle that is looked at. */
  axle: number;
  /** Somebody wants to say that pads were fitted. */
  onFitted: () => void;
}

/** What a vehicle is, how far it has gone, and what can be done about it. */
export function VehicleHead({ vehicle, me, ...verbs }: Verbs) {
  return (
    <header className="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-line px-4 py-2">
      <h1 className="figures text-2xl font-semibold">{vehicle.unit}</h1>
      <span>{vehicle.model}</span>
      <span className="text-soft">{vehicle.depot}</span>
      <span className="text-soft">{vehicle.duty ?? 'no duty stated'}</span>
      {vehicle.left && (
        <strong>
          {vehicle.left.how} {formatDate(vehicle.left.on)}
        </strong>
      )}
      {!vehicle.left && vehicle.odometerNowMi !== null && vehicle.milesPerDay && (
        <span className="figures">
          about {milesInWords(vehicle.odometerNowMi, me.distanceUnit)} today,{' '}
          {milesInWords(vehicle.milesPerDay.mean, me.distanceUnit)} a day
        </span>
      )}
      {vehicle.instruments.map(({ id, on, oldMi }) => (
        <span key={id} className="text-soft">
          new instrument on {formatDate(on)} (the old one showed {milesInWords(oldMi, me.distanceUnit)}; earlier figures
          are its own)
        </span>
      ))}
      {vehicle.refresh.pending > 0 && (
        <span role="status" className="text-soft">
          being recomputed …
        </span>
      )}
      <Failed failed={vehicle.refresh.failed} />
      <VehicleVerbs vehicle={vehicle} me={me} {...verbs} />
    </header>
  );
}

function VehicleVerbs({ vehicle, me, axle, onFitted }: Verbs) {
  const mayMeasure = mayDo(me.role, 'measure');
  return (
    <span className="ml-auto flex flex-wrap gap-2">
      {!vehicle.left && <JobVerbs unit={vehicle.unit} axle={axle} me={me} />}
      <Link
        className="rounded-sm border border-line bg-raised px-3 py-1.5 hover:border-ink"
        to={`/fleet?unit=${encodeURIComponent(vehicle.unit)}${vehicle.left ? '&show=all' : ''}`}
      >
        Its entry
      </Link>
      <Link
        className="rounded-sm border border-line bg-raised px-3 py-1.5 hover:border-ink"
        to={`/specifications?unit=${encodeURIComponent(vehicle.unit)}&axle=${axle}`}
      >
        Torques <kbd className="figures ml-1 rounded-sm border border-current px-1 text-xs opacity-70">T</kbd>
      </Link>
      {mayMeasure && <Button onClick={onFitted}>Pads fitted …</Button>}
      {mayMeasure && !vehicle.left && (
        <Link
          className="rounded-sm border border-[#c99700] bg-paint px-3 py-1.5 font-semibold text-[#26282a]"
          to={`/measure/${vehicle.unit}`}
        >
          Measure <kbd className="figures ml-1 rounded-sm border border-current px-1 text-xs opacity-70">M</kbd>
        </Link>
      )}
    </span>
  );
}
