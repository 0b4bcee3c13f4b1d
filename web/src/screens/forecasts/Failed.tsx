import { Link } from 'react-router';
import type { MileMarks } from '@mile-mark/contract/forecasts';

const MOST_NAMED = 3;

/** Vehicles whose forecasts could not be made, and why; what stands of them is from before. */
export function Failed({ failed }: Pick<MileMarks['refresh'], 'failed'>) {
  if (failed.length === 0) return null;
  const more = failed.length - MOST_NAMED;
  return (
    <div role="alert" className="w-full shrink-0 border-l-4 border-brick bg-sheet px-3 py-1.5">
      {failed.slice(0, MOST_NAMED).map(({ unit, message }) => (
        <p key={unit}>
          Forecasts of{' '}
          <Link className="figures font-medium underline" to={`/vehicles/${encodeURIComponent(unit)}`}>
            {unit}
          </Link>{' '}
          could not be made: {message}. Any mark of it is from before; look for what was entered last.
        </p>
      ))}
      {more > 0 && (
        <p>
          {more} more could not be made either:{' '}
          {failed
            .slice(MOST_NAMED)
            .map(({ unit }) => unit)
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}
