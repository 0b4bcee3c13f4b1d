import { DataTable } from '../../../ui/DataTable.tsx';
import type { CalibratedView, StrainView } from '@mile-mark/contract/forecasts';
import {
  ASSUMPTION_IN_WORDS,
  classInWords,
  distanceInWords,
  strainInWords,
  wideningInWords,
} from '@mile-mark/contract/words';
import { formatWhole } from '../../../ui/format.ts';

/** What came of forecasts as of half a year and a year ago: the test that knows no duty and no reading since. */
export function Foreseen({ rows }: { rows: CalibratedView[] }) {
  if (rows.length === 0) return null;
  const widened = rows.flatMap((row) => wideningInWords(row) ?? []);
  return (
    <section aria-labelledby="foreseen">
      <h2 id="foreseen" className="mb-1 font-semibold">
        Forecasts of half a year and a year ago, against the looks since
      </h2>
      {widened.map((words) => (
        <p key={words} className="mb-1 border-l-4 border-ochre bg-sheet px-2 py-1">
          {words}
        </p>
      ))}
      <DataTable name="calibration" className="figures w-full bg-sheet text-right">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="px-2 py-1 text-left font-medium">Class and distance</th>
            <th className="px-2 font-medium">Looks</th>
            <th className="px-2 font-medium">Axles</th>
            <th className="px-2 font-medium">Within 80 %</th>
            <th className="px-2 font-medium">Within 90 %</th>
            <th className="px-2 font-medium">Widened</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.class}${row.distance}`} className="border-b border-hair">
              <td className="px-2 py-0.5 text-left">
                {classInWords(row.class)}, {distanceInWords(row.distance)}
              </td>
              <td className="px-2">{formatWhole(row.looks)}</td>
              <td className="px-2">{formatWhole(row.axles)}</td>
              <td className="px-2">{Math.round(row.within80 * 100)} %</td>
              <td className="px-2">{Math.round(row.within90 * 100)} %</td>
              <td className="px-2 font-semibold">{row.factor > 1 ? `${row.factor.toFixed(2)} ×` : 'no'}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
      <p className="mt-1 text-[13px] text-soft">
        Made again from what stood on record then; the duty since was as unknown as it was. Intervals are widened where
        too many looks fell outside, by as much as is shown, and are never made narrower than computed.
      </p>
    </section>
  );
}

/** What forecasts take for granted, and where this fleet's readings strain it. */
export function Strains({ rows }: { rows: StrainView[] }) {
  if (rows.length === 0) return null;
  const strained = rows.filter((row) => row.strained);
  const looked = [...new Set(rows.map(({ assumption }) => assumption))];
  return (
    <section aria-labelledby="strains">
      <h2 id="strains" className="mb-1 font-semibold">
        What the forecasts take for granted
      </h2>
      <DataTable name="assumptions" className="figures w-full bg-sheet text-right">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="px-2 py-1 text-left font-medium">Taken for granted</th>
            <th className="px-2 font-medium">Groups</th>
            <th className="px-2 font-medium">Looks</th>
            <th className="px-2 font-medium">Holds</th>
          </tr>
        </thead>
        <tbody>
          {looked.map((assumption) => {
            const own = rows.filter((row) => row.assumption === assumption);
            const bad = own.filter((row) => row.strained);
            return (
              <tr key={assumption} className="border-b border-hair align-top">
                <td className="px-2 py-0.5 text-left">
                  {ASSUMPTION_IN_WORDS[assumption]}
                  {bad.map((row) => (
                    <span key={row.group} className="block border-l-4 border-ochre pl-2">
                      {strainInWords(row)}
                    </span>
                  ))}
                </td>
                <td className="px-2">{own.length}</td>
                <td className="px-2">{formatWhole(own.reduce((sum, { looks }) => sum + looks, 0))}</td>
                <td className="px-2 font-semibold">{bad.length > 0 ? 'strained' : 'yes'}</td>
              </tr>
            );
          })}
        </tbody>
      </DataTable>
      <p className="mt-1 text-[13px] text-soft">
        {strained.length === 0 ? 'Nothing is off by more than chance. ' : ''}Told where the mean error of a group is
        over a quarter of a standard deviation, or its width over a fifth off, and over three times what chance would
        make of it.
      </p>
    </section>
  );
}
