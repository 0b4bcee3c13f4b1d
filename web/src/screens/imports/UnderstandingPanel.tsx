import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { useGauges } from '../../api/gauges.ts';
import { usePeople } from '../../api/people.ts';
import { Choose } from '../../ui/Choose.tsx';
import { Choices } from './Choices.tsx';
import { Wheels } from './Wheels.tsx';

interface Props {
  preview: ImportPreview;
  onState: (part: Partial<Understanding>) => void;
}
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
      <Choices preview={preview} onState={onState} />
      {preview.evidence.length > 0 && (
        <ul className="mt-2 max-w-prose text-soft">
          {preview.evidence.map((why) => (
            <li key={why}>{why}</li>
          ))}
        </ul>
      )}
      <LeftOut lines={preview.leftOut} />
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
    understanding.sheet === null
      ? `“${understanding.delimiter === '\t' ? 'tab' : understanding.delimiter}” between cells`
      : `sheet “${understanding.sheet}”`,
    headerInWords(understanding),
    understanding.decimalMark && `decimal ${understanding.decimalMark === ',' ? 'comma' : 'point'}`,
    `dates ${{ YMD: 'year-month-day', DMY: 'day.month.year', MDY: 'month/day/year' }[understanding.dateOrder]}`,
    understanding.columns.some(({ field }) => field === 'odometer') && `odometer in ${understanding.distanceUnit}`,
    readings && `thickness in ${understanding.thicknessUnit}`,
    readings && wheels.length > 0 && `wheels ${wheels.map(([name]) => name).join(' ')}`,
    readings && understanding.technicianId && `by ${technician ?? '…'}`,
    readings && understanding.gaugeId && `with ${gauge ?? '…'}`,
    remembered && 'as remembered from last time',
  ].filter((part) => typeof part === 'string');
}

function headerInWords({ headerLine, headerLines }: Understanding): string | false {
  if (headerLine === 0) return 'no header';
  if (headerLines === 2) return `header in lines ${headerLine} and ${headerLine + 1}`;
  return headerLine > 1 && `header in line ${headerLine}`;
}

/** Lines that are no rows of the record, and why. */
function LeftOut({ lines }: { lines: ImportPreview['leftOut'] }) {
  if (lines.length === 0) return null;
  return (
    <ul aria-label="Lines left out" className="mt-2 text-soft">
      {lines.slice(0, 12).map(({ line, text, why }) => (
        <li key={line}>
          Line {line} left out, {why}: <span className="figures">{text || 'blank'}</span>
        </li>
      ))}
      {lines.length > 12 && <li>and {lines.length - 12} more lines.</li>}
    </ul>
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
