import type { AxleDetail } from '@mile-mark/contract/forecasts';
import { Why } from '../../../ui/Why.tsx';

/** What makes the interval wide, the largest share first. */
export function Width({ width }: { width: NonNullable<NonNullable<AxleDetail['decision']>['width']> }) {
  const names = { duty: 'duty ahead', wear: 'pace of wear', thickness: 'thickness now' } as const;
  const parts = (Object.keys(names) as (keyof typeof names)[])
    .filter((key) => width[key] >= 0.005)
    .sort((a, b) => width[b] - width[a])
    .map((key) => `${names[key]} ${Math.round(width[key] * 100)} %`);
  return (
    <Why
      label="What makes the interval wide"
      reason={
        <p>
          Shares of the spread of the miles left. A look at the pads narrows thickness and pace of wear; telematics, or
          a duty that is stated better, narrow the duty ahead.
        </p>
      }
    >
      {parts.join(', ')}
    </Why>
  );
}

/** That past forecasts had been too sure, and what was made of it. */
export function Widened({ factor }: { factor: number }) {
  return (
    <Why
      label="Why the interval is wider than computed"
      reason={
        <p>
          Forecasts of this class that were made half a year and a year ago held less often than they were to: Records
          shows how often. Until they do, its intervals are this much wider, and its marks earlier.
        </p>
      }
    >
      made {factor.toFixed(2)} times wider: past forecasts of this class were too narrow
    </Why>
  );
}
