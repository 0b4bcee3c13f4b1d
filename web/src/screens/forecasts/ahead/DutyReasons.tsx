import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { Why } from '../../../ui/Why.tsx';

/** How often something happens, in words. */
export const onceIn = (timesAYear: number) =>
  `about once in ${(1 / timesAYear).toFixed(timesAYear > 0.1 ? 1 : 0)} years`;

/** The level of a route that is measured, and what the forecast takes it may become. */
export function RouteLevel({ ahead, name }: { ahead: NonNullable<VehicleDetail['dutyAhead']>; name: string }) {
  return (
    <Why
      label="Level of the present route"
      reason={
        <p>
          Measured over {ahead.blocks} blocks of four weeks; where the present route began is found from the blocks. It
          lies between {ahead.from.toFixed(2)} and {ahead.to.toFixed(2)} nine times in ten. A block scatters about it by{' '}
          {Math.round(ahead.scatter * 100)} %, of which {Math.round(ahead.believed * 100)} % are believed; the rest is
          error of measuring.{' '}
          {ahead.changesAYear === null
            ? 'Another duty is dated ahead; no other change is expected before it.'
            : `In this class a route changes ${onceIn(ahead.changesAYear)}.`}{' '}
          The forecast takes it all in.
        </p>
      }
    >
      {name}, measured severity {ahead.severity.toFixed(2)} ({ahead.from.toFixed(2)} to {ahead.to.toFixed(2)})
    </Why>
  );
}

/** Where miles a day come from, and what the day of the mark takes in of them. */
export function PaceReason({ pace }: { pace: NonNullable<VehicleDetail['milesPerDay']> }) {
  const { scatter, changesAYear } = pace;
  return (
    <p>
      From the odometers since the present duty began and what it states; an older level that ended counts no more.
      {scatter !== undefined &&
        changesAYear !== undefined &&
        ` Four weeks differ from it by ${Math.round(scatter * 100)} %, and in this class it becomes another ${onceIn(changesAYear)}. The day of the mark takes both in.`}
    </p>
  );
}
