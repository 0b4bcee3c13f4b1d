import { Link } from 'react-router';
import type { MileMarks } from '@mile-mark/contract/forecasts';
import { State } from '../../../ui/State.tsx';
import { Failed } from '../Failed.tsx';

/** Ahead where there is no mark: they are being computed, could not be, or there is no vehicle. */
export function Empty({ pending, failed }: MileMarks['refresh']) {
  if (pending === 0 && failed.length > 0)
    return (
      <State title="No mark could be made" what="What is on record of these vehicles can’t be computed as it stands.">
        <Failed failed={failed} />
      </State>
    );
  if (pending > 0)
    return (
      <State
        title="Computing the first marks"
        what={`${pending} vehicles are being worked out; they appear here by themselves.`}
        quiet
      />
    );
  return (
    <State
      title="No vehicle on record yet"
      what="Import the models, duties and vehicles, then services and readings: drop the CSV files together, they are taken in a sensible order."
    >
      <Link className="underline" to="/import">
        Go to Import
      </Link>
    </State>
  );
}
