import { useState } from 'react';
import { toast } from 'sonner';
import type { NewReceipt, Order, OrderLine } from '@mile-mark/contract/parts';
import { ApiProblem } from '../../api/client.ts';
import { useReceive } from '../../api/parts.ts';
import { Refusal } from '../../ui/Refusal.tsx';
import { Button } from '../../ui/Button.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { figure } from '../../api/typed.ts';
import { useNewId } from '../../ui/useNewId.ts';

interface Form {
  units: string;
  bin: string;
  lot: string;
  expiresOn: string;
  diameterMm: string;
  thicknessMm: string;
  holes: string;
  reason: string;
}
const MEASURES = [
  { key: 'diameterMm', label: 'Diameter, mm' },
  { key: 'thicknessMm', label: 'Thickness, mm' },
  { key: 'holes', label: 'Holes' },
] as const;

/** What came of an order: how many, into which bin, held against what was ordered and against the part's own measures. */
export function Receive({ order, onClose }: { order: Order; onClose: () => void }) {
  const open = order.lines.filter(({ ended, units, received }) => ended === null && received < units);
  const [forms, setForms] = useState<Record<string, Form>>(
    Object.fromEntries(
      open.map(({ id }) => [
        id,
        { units: '', bin: '', lot: '', expiresOn: '', diameterMm: '', thicknessMm: '', holes: '', reason: '' },
      ]),
    ),
  );
  const [id] = useNewId();
  const receive = useReceive(order.id);
  const problem = receive.error instanceof ApiProblem ? receive.error : undefined;
  const came = open.filter((line) => (forms[line.id]?.units ?? '').trim() !== '');
  const save = () =>
    receive.mutate(
      { id, lines: came.map((line) => lineOf(line.id, forms[line.id])) },
      {
        onSuccess: () => (
          toast(`${came.length} ${came.length === 1 ? 'line' : 'lines'} of ${order.number} on the shelf.`),
          onClose()
        ),
      },
    );
  return (
    <Modal open onClose={onClose} title={`Receive ${order.number} from ${order.supplier}`} wide>
      <p className="mb-2 text-soft">
        What has not come stays blank. Hold the new part against the old one: its size and holes are checked where you
        type them.
      </p>
      <ul>
        {open.map((line) => (
          <Line
            key={line.id}
            line={line}
            form={forms[line.id]}
            wrong={(field) => problem?.of(`lines.${came.indexOf(line)}.${field}`)}
            onChange={(key, value) => setForms({ ...forms, [line.id]: { ...(forms[line.id] as Form), [key]: value } })}
          />
        ))}
      </ul>
      <Refusal problem={problem} className="mt-2" />
      <Button className="mt-3" look="next" large disabled={came.length === 0 || receive.isPending} onClick={save}>
        Put {came.length} {came.length === 1 ? 'line' : 'lines'} on the shelf
      </Button>
    </Modal>
  );
}

function lineOf(lineId: string, form: Form | undefined): NewReceipt['lines'][number] {
  const { units = '', bin = '', lot, expiresOn, reason, ...measured } = form ?? ({} as Partial<Form>);
  const measures = Object.fromEntries(
    MEASURES.flatMap(({ key }) => {
      const text = measured[key] ?? '';
      return text.trim() === '' ? [] : [[key, figure(text)]];
    }),
  );
  return {
    lineId,
    units: figure(units, true),
    bin,
    measures,
    ...(lot ? { lot } : {}),
    ...(expiresOn ? { expiresOn } : {}),
    ...(reason ? { reason } : {}),
  };
}

interface LineProps {
  line: OrderLine;
  form: Form | undefined;
  wrong: (field: string) => string | undefined;
  onChange: (key: keyof Form, value: string) => void;
}

function Line({ line, form, wrong, onChange }: LineProps) {
  const field = (key: keyof Form, label: string, error = wrong(key)) => (
    <Field
      label={label}
      large={key === 'units' || key === 'bin'}
      value={form?.[key] ?? ''}
      onChange={(event) => onChange(key, event.target.value)}
      error={error}
    />
  );
  const measured = MEASURES.filter(({ key }) => line.measures[key] !== undefined);
  const differs = MEASURES.some(({ key }) => wrong(`measures.${key}`) !== undefined);
  return (
    <li className="border-b border-hair py-2">
      <p>
        <span className="figures text-base font-semibold">{line.instead ?? line.part}</span> {line.name}
        {line.instead !== null && ` (instead of ${line.part})`}, {line.units - line.received} of {line.units} to come
      </p>
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
        {field('units', 'Units that came')}
        {field('bin', 'Into bin')}
        {line.expires && field('lot', 'Lot')}
        {line.expires && (
          <DateField
            label="Last day it may be used"
            value={form?.expiresOn ?? ''}
            onChange={(value) => onChange('expiresOn', value)}
            error={wrong('expiresOn')}
          />
        )}
        {measured.map(({ key, label }) => (
          <div key={key}>{field(key, label, wrong(`measures.${key}`))}</div>
        ))}
      </div>
      {differs && field('reason', 'Why it goes on the shelf all the same')}
    </li>
  );
}
