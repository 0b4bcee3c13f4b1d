import { Term } from '../../../drawings/Term.tsx';
import { DataTable } from '../../../ui/DataTable.tsx';
import { Link } from 'react-router';
import type { AxleDetail, ForecastInput, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { countInWords, milesInWords } from '@mile-mark/contract/words';
import { useReader } from '../../../api/reader.ts';
import { formatDate } from '../../../ui/format.ts';
import { inputOf, stretchesOf } from './ask.ts';

/** From the mark back to each mile: what the present pads have done, under which duty, and what it wore. */
export function EachMile({
  vehicle,
  axle,
  found,
  me,
}: {
  vehicle: VehicleDetail;
  axle: AxleDetail;
  found: ForecastInput;
  me: Me;
}) {
  const reader = useReader();
  const input = inputOf(found);
  const first = [...input.odometers, ...input.readings]
    .map(({ date, miles }) => ({ date, miles }))
    .sort((a, b) => a.date.localeCompare(b.date))[0];
  const since = axle.fitted ?? first;
  if (!since || !axle.mark) return null;
  const stretches = stretchesOf(input, axle.axle, axle.mark.odometerNowMi, since);
  const thinnest = axle.pads.reduce<AxleDetail['pads'][number] | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  const severityNow = stretches.at(-1)?.severity ?? 1;
  const perWeighted = thinnest ? thinnest.ratePer1000Mi / Math.max(0.01, severityNow) : 0;
  const total = stretches.reduce((sum, one) => sum + one.weightedMiles, 0);
  return (
    <section aria-label="Each mile">
      <h2 className="font-semibold">
        Each mile since{' '}
        {axle.fitted
          ? `the pads were fitted, ${formatDate(since.date)}`
          : `the record begins, ${formatDate(since.date)}`}
      </h2>
      <DataTable name="each-mile" className="w-full">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th className="py-1 font-normal">From</th>
            <th className="text-right font-normal">driven</th>
            <th className="text-right font-normal">
              × <Term of="severity">severity</Term>
            </th>
            <th className="text-right font-normal">
              = <Term of="dutyWeighted">duty-weighted</Term>
            </th>
            <th className="text-right font-normal">wears</th>
          </tr>
        </thead>
        <tbody className="figures">
          {stretches.map((one) => (
            <tr key={one.from} className="border-b border-hair">
              <td className="py-0.5">{formatDate(one.from)}</td>
              <td className="text-right">{milesInWords(one.miles, me.distanceUnit)}</td>
              <td className="text-right">{one.severity.toFixed(2)}</td>
              <td className="text-right">{reader.miles(one.weightedMiles)}</td>
              <td className="text-right">{reader.thickness((one.weightedMiles / 1000) * perWeighted)}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td className="py-1" colSpan={3}>
              Thinnest pad: {reader.rate(perWeighted)}, duty-weighted, today
            </td>
            <td className="figures text-right">{reader.miles(total)}</td>
            <td className="figures text-right">{reader.thickness((total / 1000) * perWeighted)}</td>
          </tr>
        </tfoot>
      </DataTable>
      <p className="mt-1 text-soft">
        {countInWords(axle.mark.evidence.readings, 'reading')} since then, each with its weight, stand on{' '}
        <Link className="underline" to={`/vehicles/${vehicle.unit}`}>
          {vehicle.unit}’s page
        </Link>
        .
      </p>
    </section>
  );
}
