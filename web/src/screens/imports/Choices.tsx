import { useState } from 'react';
import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
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

/** What holds for the whole file. */
export function Choices({ preview, onState }: Props) {
  const { understanding } = preview;
  const readings = understanding.kind === 'readings';
  return (
    <div className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
      <SegmentedControl
        label="This is"
        value={understanding.kind}
        options={KINDS}
        onChange={(kind) => onState({ kind, columns: [] })}
      />
      <Paper preview={preview} onState={onState} />
      <SegmentedControl
        label="Decimal mark"
        value={understanding.decimalMark ?? ''}
        options={['.', ',']}
        onChange={(mark) => onState({ decimalMark: mark === ',' ? ',' : '.' })}
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
      {understanding.kind === 'models' && (
        <>
          <SegmentedControl
            label="Lengths in"
            value={understanding.lengthUnit}
            options={['mm', 'in']}
            onChange={(lengthUnit) => onState({ lengthUnit })}
          />
          <SegmentedControl
            label="Masses in"
            value={understanding.massUnit}
            options={['kg', 'lb']}
            onChange={(massUnit) => onState({ massUnit })}
          />
        </>
      )}
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

const LETTERS = [
  { value: 'utf-8', label: 'UTF-8', usual: true },
  { value: 'windows-1252', label: 'Latin-1', usual: true },
  { value: 'utf-16le', label: 'UTF-16', usual: false },
  { value: 'utf-16be', label: 'UTF-16, other order', usual: false },
] as const;

/** How the file itself is cut: its sheet, or its delimiter and letters, and where its header stands. */
function Paper({ preview: { understanding, sheets }, onState }: Props) {
  return (
    <>
      {understanding.sheet === null ? (
        <>
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
            label="Letters"
            value={understanding.encoding}
            options={LETTERS.filter(({ usual, value }) => usual || value === understanding.encoding)}
            onChange={(encoding) => onState({ encoding, columns: [] })}
          />
        </>
      ) : (
        <Choose
          label="Sheet"
          value={understanding.sheet}
          onChange={(event) => onState({ sheet: event.target.value, columns: [] })}
        >
          {sheets.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
      )}
      <HeaderLine understanding={understanding} onState={onState} />
    </>
  );
}

/** Where the header stands: a line, or two, or none; the columns are looked at anew. */
function HeaderLine({ understanding: { headerLine, headerLines }, onState }: Part) {
  const [typed, setTyped] = useState(String(headerLine));
  const change = (line: number, lines: 1 | 2) => onState({ headerLine: line, headerLines: lines, columns: [] });
  return (
    <form
      className="flex items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (/^\d{1,4}$/.test(typed.trim())) change(Number(typed), headerLines === 2 ? 2 : 1);
      }}
    >
      <span className="text-soft">Header in line</span>
      <div className="w-16">
        <Field
          label="Line of the header, 0 for none"
          hideLabel
          inputMode="numeric"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          error={/^\d{1,4}$/.test(typed.trim()) ? undefined : 'A line number such as 3, or 0'}
        />
      </div>
      <Button type="submit">Read so</Button>
      {headerLine > 0 && (
        <SegmentedControl
          label="over"
          value={headerLines === 2 ? '2' : '1'}
          options={[
            { value: '1', label: 'one line' },
            { value: '2', label: 'two lines' },
          ]}
          onChange={(lines) => change(headerLine, lines === '2' ? 2 : 1)}
        />
      )}
    </form>
  );
}
