import { DataTable } from '../../../ui/DataTable.tsx';
import { Fragment } from 'react';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Reading } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { suspicionInWords, thicknessInWords, milesInWords } from '@mile-mark/contract/words';
import { formatDate } from '../../../ui/format.ts';

interface Props {
  vehicle: VehicleDetail;
  me: Me;
  onCorrect: ((reading: Reading) => void) | undefined;
  /** Corrects the odometer of a whole inspection; undefined where the person may not. */
  onOdometer: ((reading: Reading) => void) | undefined;
}

const COLUMNS = [
  { side: 'left', pad: 'outer' },
  { side: 'left', pad: 'inner' },
  { side: 'right', pad: 'inner' },
  { side: 'right', pad: 'outer' },
] as const;

/** Every reading on record, a line an inspection and axle, the wheels side by side; nothing is left out. */
export function ReadingsTable({ vehicle, me, onCorrect, onOdometer }: Props) {
  const lines = linesOf(vehicle.readings);
  return (
    <>
      <h2 className="mb-1 font-semibold">Readings, newest first</h2>
      {lines.length === 0 ? (
        <p className="text-soft">None yet. Measure the vehicle, or import a sheet.</p>
      ) : (
        <DataTable name="readings" className="w-full border-collapse bg-sheet">
          <thead>
            <tr className="border-b border-line text-left text-soft">
              <th className="px-2 py-1 font-medium">Date</th>
              <th className="px-2 font-medium">Odometer</th>
              <th className="px-2 font-medium">Axle</th>
              {COLUMNS.map(({ side, pad }) => (
                <th key={side + pad} className="px-2 font-medium">
                  {side} {pad}
                </th>
              ))}
              <th className="px-2 font-medium">Who, gauge</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => {
              const questions = line.readings.filter(({ suspicion, supersededBy }) => suspicion && !supersededBy);
              const ahead = line.readings.every(({ supersededBy }) => supersededBy)
                ? null
                : line.first.odometerExpectedMi;
              return (
                <Fragment key={line.key}>
                  <tr className={questions.length > 0 || ahead !== null ? '' : 'border-b border-hair'}>
                    <td className="figures px-2 py-1 whitespace-nowrap">{formatDate(line.first.date)}</td>
                    <td className="figures px-2 whitespace-nowrap">
                      {onOdometer && line.readings.some(({ supersededBy }) => !supersededBy) ? (
                        <button
                          className="hover:underline"
                          title="Click to correct the odometer of this inspection."
                          aria-label={`Odometer ${line.first.odometerMi} mi of ${line.first.date}: correct`}
                          onClick={() => onOdometer(line.first)}
                        >
                          {milesInWords(line.first.odometerMi, me.distanceUnit)}
                        </button>
                      ) : (
                        milesInWords(line.first.odometerMi, me.distanceUnit)
                      )}
                    </td>
                    <td className="px-2">{line.first.axle}</td>
                    {COLUMNS.map(({ side, pad }) => (
                      <td key={side + pad} className="px-2">
                        {line.readings
                          .filter((reading) => reading.side === side && reading.pad === pad)
                          .map((reading) => (
                            <Cell key={reading.id} reading={reading} me={me} onCorrect={onCorrect} />
                          ))}
                      </td>
                    ))}
                    <td className="px-2">
                      {line.first.technician}, <span className="text-soft">{line.first.gauge}</span>
                    </td>
                  </tr>
                  {(questions.length > 0 || ahead !== null) && (
                    <tr className="border-b border-hair">
                      <td colSpan={3} />
                      <td colSpan={5} className="px-2 pb-1 text-brick">
                        {ahead !== null && (
                          <p>
                            The odometer runs ahead: about {milesInWords(ahead, me.distanceUnit)} was expected. Was it
                            read rightly?
                          </p>
                        )}
                        {questions.map((reading) => (
                          <p key={reading.id}>
                            {reading.side} {reading.pad}:{' '}
                            {reading.suspicion && suspicionInWords(reading.suspicion, me.thicknessUnit)}
                            {reading.answer === 'measured_twice' && ' The technician measured twice, same result.'}
                          </p>
                        ))}
                      </td>
                    </tr>
                  )}
                </Fragment>
              );
            })}
          </tbody>
        </DataTable>
      )}
    </>
  );
}

function Cell({ reading, me, onCorrect }: { reading: Reading; me: Me; onCorrect: Props['onCorrect'] }) {
  const figure = reading.mm === null ? 'withdrawn' : thicknessInWords(reading.mm, me.thicknessUnit);
  const told = [
    reading.typed && `typed ${reading.typed}`,
    reading.expectedMm !== null && `expected ${thicknessInWords(reading.expectedMm, me.thicknessUnit)}`,
    reading.weight !== null && `weight ${Math.round(reading.weight * 100)} % of its pad’s value`,
    reading.reason && `because: ${reading.reason}`,
    `entered by ${reading.enteredBy}`,
  ]
    .filter(Boolean)
    .join('; ');
  if (reading.supersededBy || reading.mm === null) {
    return (
      <span title={told} className="figures mr-2 text-soft line-through">
        {figure}
      </span>
    );
  }
  const look = `figures text-[15px] ${reading.suspicion ? 'border-b-2 border-brick font-semibold' : ''}`;
  if (!onCorrect)
    return (
      <span title={told} className={look}>
        {figure}
      </span>
    );
  return (
    <button
      title={`${told}. Click to correct.`}
      aria-label={`${reading.side} ${reading.pad} ${figure} of ${reading.date}: correct`}
      className={`${look} hover:underline`}
      onClick={() => onCorrect(reading)}
    >
      {figure}
      {reading.supersedes && <span className="text-soft"> (corrected)</span>}
    </button>
  );
}

interface TableLine {
  key: string;
  first: Reading;
  readings: Reading[];
}

function linesOf(readings: readonly Reading[]): TableLine[] {
  const lines = new Map<string, TableLine>();
  for (const reading of readings) {
    const key = `${reading.inspectionId}/${reading.axle}`;
    const line = lines.get(key);
    if (line) line.readings.push(reading);
    else lines.set(key, { key, first: reading, readings: [reading] });
  }
  return [...lines.values()];
}
