import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { useGauges } from '../../api/gauges.ts';
import { usePeople } from '../../api/people.ts';
import { Choose } from '../../ui/Choose.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';

const KINDS = [
  { value: 'models', label: 'models' },
  { value: 'duties', label: 'duties' },
  { value: 'vehicles', label: 'vehicles' },
  { value: 'services', label: 'services' },
  { value: 'readings', label: 'readings' },
  { value: 'parts', label: 'parts' },
  { value: 'stock', label: 'stock' },
  { value: 'orders', label: 'orders placed elsewhere' },
] as const;

interface Props {
  preview: ImportPreview;
  onState: (part: Partial<Understanding>) => void;
}
type Part = Pick<ImportPreview, 'understanding'> & Pick<Props, 'onState'>;

/** How the file was understood, in a line; opened, every part can be changed. */
export function UnderstandingPanel({ preview, onState }: Props) {
  const { understanding, notes } = preview;
  const people = usePeople();
  const gauges = useGauges();
  const readings = understanding.kind === 'readings';
  const wheels = Object.entries(understanding.wheelNames);
  const summary = summaryOf(preview, {
    technician: people.data?.find(({ id }) => id === understanding.technicianId)?.name,
    gauge: gauges.data?.find(({ id }) => id === understanding.gaugeId)?.name,
  });
  return (
    <details
      className="shrink-0 border-b border-line bg-sheet px-4 py-2"
      open={preview.needs.some(({ kind }) => kind === 'column')}
    >
      <summary>
        <span className="font-semibold">How it was understood:</span> {summary.join(', ')}. {notes.join(' ')}
      </summary>
      <Choices understanding={understanding} onState={onState} />
      <Columns preview={preview} onState={onState} />
      {readings && wheels.length > 0 && <Wheels understanding={understanding} onState={onState} />}
    </details>
  );
}

/** The understanding in a few words, for the closed panel. */
function summaryOf(
  { understanding, remembered }: ImportPreview,
  { technician, gauge }: { technician: string | undefined; gauge: string | undefined },
): string[] {
  const readings = understanding.kind === 'readings';
  const wheels = Object.entries(understanding.wheelNames);
  return [
    understanding.kind,
    `“${understanding.delimiter === '\t' ? 'tab' : understanding.delimiter}” between cells`,
    `decimal ${understanding.decimalMark === ',' ? 'comma' : 'point'}`,
    `dates ${{ YMD: 'year-month-day', DMY: 'day.month.year', MDY: 'month/day/year' }[understanding.dateOrder]}`,
    understanding.columns.some(({ field }) => field === 'odometer') && `odometer in ${understanding.distanceUnit}`,
    readings && `thickness in ${understanding.thicknessUnit}`,
    readings && wheels.length > 0 && `wheels ${wheels.map(([name]) => name).join(' ')}`,
    readings && understanding.technicianId && `by ${technician ?? '…'}`,
    readings && understanding.gaugeId && `with ${gauge ?? '…'}`,
    remembered && 'as remembered from last time',
  ].filter((part) => typeof part === 'string');
}

/** What holds for the whole file. */
function Choices({ understanding, onState }: Part) {
  const readings = understanding.kind === 'readings';
  return (
    <div className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
      <SegmentedControl
        label="This is"
        value={understanding.kind}
        options={KINDS}
        onChange={(kind) => onState({ kind, columns: [] })}
      />
      <SegmentedControl
        label="Between cells"
        value={understanding.delimiter}
        options={[
          { value: ',', label: ',' },
          { value: ';', label: ';' },
          { value: '\t', label: 'tab' },
          { value: '|', label: '|' },
        ]}
        onChange={(delimiter) => onState({ delimiter, columns: [] })}
      />
      <SegmentedControl
        label="Decimal mark"
        value={understanding.decimalMark}
        options={['.', ',']}
        onChange={(decimalMark) => onState({ decimalMark })}
      />
      <SegmentedControl
        label="Dates"
        value={understanding.dateOrder}
        options={[
          { value: 'YMD', label: 'year-month-day' },
          { value: 'DMY', label: 'day.month.year' },
          { value: 'MDY', label: 'month/day/year' },
        ]}
        onChange={(dateOrder) => onState({ dateOrder })}
      />
      <SegmentedControl
        label="Odometer in"
        value={understanding.distanceUnit}
        options={['mi', 'km']}
        onChange={(distanceUnit) => onState({ distanceUnit })}
      />
      {readings && (
        <SegmentedControl
          label="Thickness in"
          value={understanding.thicknessUnit}
          options={['mm', '1/32 in', 'in']}
          onChange={(thicknessUnit) => onState({ thicknessUnit })}
        />
      )}
      <SegmentedControl
        label="Letters"
        value={understanding.encoding}
        options={[
          { value: 'utf-8', label: 'UTF-8' },
          { value: 'windows-1252', label: 'Latin-1' },
        ]}
        onChange={(encoding) => onState({ encoding })}
      />
      {readings && understanding.technicianId && (
        <button className="underline" onClick={() => onState({ technicianId: null })}>
          Someone else measured
        </button>
      )}
      {readings && understanding.gaugeId && (
        <button className="underline" onClick={() => onState({ gaugeId: null })}>
          Another gauge
        </button>
      )}
    </div>
  );
}

/** What each column is. */
function Columns({ preview: { understanding, fields }, onState }: Props) {
  return (
    <div className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 lg:grid-cols-4">
      {understanding.columns.map(({ header, field }, index) => (
        <Choose
          key={index}
          label={`Column “${header}”`}
          value={field}
          onChange={(event) =>
            onState({
              columns: understanding.columns.map((column, at) =>
                at === index ? { ...column, field: event.target.value } : column,
              ),
            })
          }
        >
          <option value="ignore">not used</option>
          {fields.map((one) => (
            <option key={one.field} value={one.field}>
              {one.label}
            </option>
          ))}
        </Choose>
      ))}
    </div>
  );
}

/** Which wheel is meant by each name. */
function Wheels({ understanding, onState }: Part) {
  return (
    <div className="mt-3 flex flex-wrap gap-3">
      {Object.entries(understanding.wheelNames).map(([name, spot]) => (
        <Choose
          key={name}
          label={`Wheel “${name}”`}
          value={`${spot.axle}-${spot.side}`}
          onChange={(event) => {
            const [axle, side] = event.target.value.split('-');
            onState({
              wheelNames: {
                ...understanding.wheelNames,
                [name]: { axle: Number(axle), side: side === 'left' ? 'left' : 'right' },
              },
            });
          }}
        >
          {[1, 2, 3, 4, 5, 6].flatMap((axle) =>
            (['left', 'right'] as const).map((side) => (
              <option key={`${axle}-${side}`} value={`${axle}-${side}`}>
                axle {axle}, {side}
              </option>
            )),
          )}
        </Choose>
      ))}
    </div>
  );
}
