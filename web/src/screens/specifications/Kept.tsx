import { formatDate, formatTime } from '../../ui/format.ts';

/** That what is shown is what the device kept, and of when. */
export function Kept({ at }: { at: string | undefined }) {
  return (
    <p role="status" className="border-l-4 border-ink bg-raised px-3 py-1 print:border-black">
      No network: what this device kept
      {at && ` on ${formatDate(at)} at ${formatTime(at)}`}. A specification may have changed since.
    </p>
  );
}
