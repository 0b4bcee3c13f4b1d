import { DataTable } from '../../../ui/DataTable.tsx';
import { useReader } from '../../../api/reader.ts';
import type { BacktestView, Validation } from '@mile-mark/contract/forecasts';
import { useValidation } from '../../../api/forecasts.ts';
import { Button } from '../../../ui/Button.tsx';
import { State } from '../../../ui/State.tsx';
import { formatWhole } from '../../../ui/format.ts';
import { Foreseen, Strains } from './KeptWord.tsx';
import { againstInWords, verdictOf } from './verdict.ts';

/** Records: how past forecasts of this very fleet came out, so that one can see whether to trust the next. */
export function Records() {
  const validation = useValidation();
  if (validation.isPending) return <State title="Loading" what="Fetching how past forecasts came out." quiet />;
  if (validation.isLoadingError) {
    return (
      <State title="It couldn’t load" what={validation.error.message}>
        <Button onClick={() => void validation.refetch()}>Try again</Button>
      </State>
    );
  }
  const { all } = validation.data;
  if (!all) {
    return (
      <State
        title="Nothing could be checked yet"
        what="Once pads were measured twice, each reading is held against what was forecast of it from those before."
      />
    );
  }
  return <Known data={validation.data} all={all} />;
}

function Known({ data, all }: { data: Validation; all: BacktestView }) {
  const reader = useReader();
  const verdict = verdictOf(all);
  return (
    <div className="h-full overflow-y-auto p-4" role="region" aria-labelledby="records" tabIndex={0}>
      <h1 id="records" className="mb-3 text-xl font-semibold">
        How past forecasts came out
      </h1>
      <div className="grid gap-6 lg:grid-cols-2">
        <section className="flex flex-col gap-4">
          <div className="border-l-4 border-ink bg-sheet p-4">
            <h2 className="text-lg font-semibold">{verdict.word}</h2>
            <p>
              Of {formatWhole(all.readings)} readings, each forecast from what stood on record before it: {verdict.told}{' '}
              Half of them were within {reader.fine(all.medianMm)} of their forecast:{' '}
              {againstInWords(all.medianMm, all.twoPointMedianMm)} than a line through the last two readings,{' '}
              {againstInWords(all.medianMm, all.leastSquaresMedianMm)} than least squares through all.
            </p>
          </div>
          <div>
            <h2 className="mb-1 font-semibold">Did the intervals hold?</h2>
            <ul className="flex flex-col gap-2">
              {(
                [
                  [0.5, all.within50],
                  [0.8, all.within80],
                  [0.9, all.within90],
                ] as const
              ).map(([promised, held]) => (
                <Held key={promised} promised={promised} held={held} />
              ))}
            </ul>
            <p className="mt-1 text-[13px] text-soft">
              Hairline: what was promised. Bar: what came out. Gross errors count too.
            </p>
          </div>
          <div>
            <h2 className="mb-1 font-semibold">How near, median</h2>
            <Near name="Mile Mark" mm={all.medianMm} most={all.twoPointMedianMm} strong />
            <Near name="Least squares of the pad" mm={all.leastSquaresMedianMm} most={all.twoPointMedianMm} />
            <Near name="Last two readings" mm={all.twoPointMedianMm} most={all.twoPointMedianMm} />
          </div>
          <Foreseen rows={data.calibrations} />
        </section>
        <section className="flex flex-col gap-5">
          <Strains rows={data.strains} />
          <Table title="By how far ahead" rows={data.byAhead} first="Miles since the look before" />
          <Table title="By class of vehicle" rows={data.byClass} first="Class" />
          <Table title="By quarter" rows={data.byQuarter} first="Quarter from" />
          <p className="text-[13px] text-soft">
            A reading’s own scatter is in these errors, so none can be nought. What is known of gauges, technicians and
            models is taken from the whole record; of the pad only what stood there before the reading. Anew with each
            job over the fleet.
          </p>
        </section>
      </div>
    </div>
  );
}

function Held({ promised, held }: { promised: number; held: number }) {
  return (
    <li className="grid grid-cols-[6rem_1fr_4rem] items-center gap-3">
      <span>{promised * 100} % interval</span>
      <span className="relative h-5 bg-hair">
        <span className="absolute inset-y-0.5 left-0 bg-slate" style={{ width: `${held * 100}%` }} />
        <span className="absolute inset-y-0 border-l-2 border-ink" style={{ left: `${promised * 100}%` }} />
      </span>
      <span className="figures text-right font-semibold">{Math.round(held * 100)} %</span>
    </li>
  );
}

function Near({ name, mm, most, strong }: { name: string; mm: number; most: number; strong?: boolean }) {
  const reader = useReader();
  return (
    <div className="grid grid-cols-[11rem_1fr_5rem] items-center gap-3 py-0.5">
      <span className={strong ? 'font-semibold' : ''}>{name}</span>
      <span className="h-4 bg-hair">
        <span
          className={`block h-full ${strong ? 'bg-slate' : 'bg-line'}`}
          style={{ width: `${Math.min(100, (mm / most) * 100)}%` }}
        />
      </span>
      <span className="figures text-right whitespace-nowrap">{reader.fine(mm)}</span>
    </div>
  );
}

function Table({ title, rows, first }: { title: string; rows: (BacktestView & { label: string })[]; first: string }) {
  const reader = useReader();
  return (
    <div>
      <h2 className="mb-1 font-semibold">{title}</h2>
      <DataTable name="validation" className="figures w-full bg-sheet text-right">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="px-2 py-1 text-left font-medium">{first}</th>
            <th className="px-2 font-medium">Readings</th>
            <th className="px-2 font-medium">Within 80 %</th>
            <th className="px-2 font-medium">Median</th>
            <th className="px-2 font-medium">Two points</th>
            <th className="px-2 font-medium">Least squares</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.label} className="border-b border-hair">
              <td className="px-2 py-0.5 text-left">{row.label}</td>
              <td className="px-2">{formatWhole(row.readings)}</td>
              <td className="px-2">{Math.round(row.within80 * 100)} %</td>
              <td className="px-2 font-semibold">{reader.fine(row.medianMm)}</td>
              <td className="px-2">{reader.fine(row.twoPointMedianMm)}</td>
              <td className="px-2">{reader.fine(row.leastSquaresMedianMm)}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
    </div>
  );
}
