import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { DataTable } from '../../../ui/DataTable.tsx';
import { useState } from 'react';
import type { AxleDetail } from '@mile-mark/contract/forecasts';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { evidenceInWords, suspicionInWords, thicknessInWords } from '@mile-mark/contract/words';
import { SegmentedControl } from '../../../ui/SegmentedControl.tsx';
import { formatDate } from '../../../ui/format.ts';

interface Props {
  /** The vehicle's number. */
  of: string;
  axle: AxleDetail;
  readings: readonly Reading[];
  me: Me;
}

/** One pad's value from all readings by all people: each reading on its way to today, its weight and its doubt. */
export function PadSheet({ of, axle, readings, me }: Props) {
  const thinnest = axle.pads.reduce<(typeof axle.pads)[number] | undefined>(
    (least, pad) => (!least || pad.meanMm < least.meanMm ? pad : least),
    undefined,
  );
  const [chosen, setChosen] = useState<string>();
  const key = chosen ?? (thinnest ? `${thinnest.side} ${thinnest.pad}` : '');
  const pad = axle.pads.find((one) => `${one.side} ${one.pad}` === key);
  if (!pad) return null;
  const own = readings.filter(
    (one) => one.axle === axle.axle && one.side === pad.side && one.pad === pad.pad && one.carried,
  );
  const unit = me.thicknessUnit;
  const fine = (mm: number) => (unit === 'mm' ? mm.toFixed(2) : thicknessInWords(mm, 'in').replace(' in', ''));
  return (
    <section>
      <div className="mb-1 flex flex-wrap items-center justify-between gap-3">
        <h2 className="font-semibold">
          One value from all readings, axle {axle.axle} {pad.side} {pad.pad}
        </h2>
        <SegmentedControl
          label="Pad"
          hideLabel
          value={key}
          options={axle.pads.map((one) => `${one.side} ${one.pad}`)}
          onChange={setChosen}
        />
      </div>
      {pad.pooled ? (
        <p>
          <strong className="figures text-lg">
            {thicknessInWords(pad.pooled.valueMm, unit)} ± {fine(1.28 * pad.pooled.sdMm)}
          </strong>{' '}
          from {evidenceInWords(pad.pooled.readings, pad.pooled.technicians)}; with the wear of its neighbours and of
          the fleet {thicknessInWords(pad.meanMm, unit)} ± {fine(1.28 * pad.sdMm)}.
        </p>
      ) : (
        <p className="text-soft">No reading since these pads were fitted.</p>
      )}
      {own.length > 0 && (
        <DataTable name="pads" className="figures mt-1 w-full bg-sheet text-right">
          <thead>
            <tr className="border-b border-line text-soft">
              <th className="px-2 py-1 text-left font-medium">Date, by</th>
              <th className="px-2 font-medium">Read</th>
              {mayDo(me.role, 'seeEverybody') && (
                <>
                  <th className="px-2 font-medium">− reads high by</th>
                  <th className="px-2 font-medium">− worn since</th>
                  <th className="px-2 font-medium">= today</th>
                </>
              )}
              <th className="px-2 font-medium">±</th>
              <th className="px-2 font-medium">Weight</th>
            </tr>
          </thead>
          <tbody>
            {own.map((one) => (
              <Line key={one.id} reading={one} fine={fine} unit={unit} />
            ))}
          </tbody>
        </DataTable>
      )}
      {mayDo(me.role, 'correctOthers') && (
        <Link className="mt-2 block w-fit py-1 underline" to={`/measure?sheets=${encodeURIComponent(of)}`}>
          A whole sheet of {of} is wrong …
        </Link>
      )}
      <p className="mt-1 text-[12px] text-soft">
        In {unit === 'mm' ? 'mm' : 'inches'}. Weight: 1 ÷ (scatter² + step²/12 + doubt about the bias² + doubt about the
        wear since²), times the chance that the reading is regular. ± holds 80 %.
      </p>
    </section>
  );
}

function Line({ reading, fine, unit }: { reading: Reading; fine: (mm: number) => string; unit: Me['thicknessUnit'] }) {
  const { carried } = reading;
  if (!carried) return null;
  return (
    <>
      <tr className={reading.suspicion ? '' : 'border-b border-hair'}>
        <td className="px-2 py-0.5 text-left whitespace-nowrap">
          {formatDate(reading.date)}, <span className="font-sans">{reading.technician}</span>
        </td>
        <td className="px-2">{fine(reading.mm ?? 0)}</td>
        {carried.biasMm !== null && carried.wearMm !== null && carried.carriedMm !== null && (
          <>
            <td className="px-2">{signed(carried.biasMm, fine)}</td>
            <td className="px-2">{fine(carried.wearMm)}</td>
            <td className="px-2 font-semibold">{fine(carried.carriedMm)}</td>
          </>
        )}
        <td className="px-2">{fine(1.28 * carried.sdMm)}</td>
        <td className="px-2">
          <span className="inline-flex items-center gap-1.5">
            <span
              aria-hidden
              className="inline-block h-2 bg-slate"
              style={{ width: `${Math.round((reading.weight ?? 0) * 48)}px` }}
            />
            {Math.round((reading.weight ?? 0) * 100)} %
          </span>
        </td>
      </tr>
      {(reading.suspicion ?? reading.settled) && (
        <tr className="border-b border-hair">
          <td colSpan={carried.biasMm === null ? 4 : 7} className="px-2 pb-1 text-left font-sans">
            {reading.suspicion && (
              <span className="text-brick">
                {suspicionInWords(reading.suspicion, unit)} Counts as regular with {Math.round(carried.regular * 100)}{' '}
                %.{' '}
              </span>
            )}
            {reading.settled && (
              <span className="text-soft">
                Settled by {reading.settled.by}, {formatDate(reading.settled.at.slice(0, 10))}:{' '}
                {SETTLED[reading.settled.answer] ?? reading.settled.answer}
                {reading.settled.note ? ` (${reading.settled.note})` : ''}.
              </span>
            )}
          </td>
        </tr>
      )}
    </>
  );
}

const SETTLED: Record<string, string> = {
  it_is_so: 'confirmed',
  correct: 'corrected',
  withdraw: 'withdrawn',
  measure_again: 'to be measured again',
};

function signed(mm: number, fine: (mm: number) => string): string {
  return mm < 0 ? `−${fine(-mm)}` : fine(mm);
}
