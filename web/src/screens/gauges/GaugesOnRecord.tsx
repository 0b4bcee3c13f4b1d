import { useNewId } from '../../ui/useNewId.ts';
import { failureInWords } from '@mile-mark/contract/words';
import { type FormEvent, useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import { parseThickness, type ThicknessUnit } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddGauge, useGauges } from '../../api/gauges.ts';
import { useMe } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { formatDate } from '../../ui/format.ts';

/** With which gauges is measured. */
export function GaugesOnRecord() {
  const mayAdd = mayDo(useMe().role, 'measure');
  const gauges = useGauges();
  const add = useAddGauge();
  const [id, renewId] = useNewId();
  const empty = { name: '', kind: '', step: '0.1', unit: 'mm' as ThicknessUnit };
  const [form, setForm] = useState(empty);
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const step = parseThickness(form.step, { unit: form.unit === '1/32 in' ? 'in' : form.unit });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!step.ok) return;
    add.mutate(
      {
        id,
        name: form.name,
        kind: form.kind || 'gauge',
        resolutionMm: step.value.mm,
        unit: form.unit,
      },
      {
        onSuccess: () => {
          renewId();
          setForm(empty);
        },
      },
    );
  };
  return (
    <section aria-label="Gauges" className="h-full max-w-4xl overflow-y-auto p-4">
      <DataTable name="gauges" className="w-full bg-sheet">
        <Heads names={['Name', 'Kind', 'Least step', 'Calibration due']} />
        <tbody>
          {gauges.data?.map((gauge) => (
            <tr key={gauge.id} className="border-b border-hair">
              <td className="px-2 py-1">{gauge.name}</td>
              <td className="px-2">{gauge.kind}</td>
              <td className="figures px-2">
                {gauge.unit === '1/32 in'
                  ? `${Math.round(gauge.resolutionMm / 0.79375)}/32 in`
                  : `${gauge.resolutionMm} mm`}
              </td>
              <td className="px-2 text-soft">
                {gauge.calibrationDue ? formatDate(gauge.calibrationDue) : 'not known'}
              </td>
            </tr>
          ))}
        </tbody>
      </DataTable>
      {gauges.data?.length === 0 && <p className="mt-2 text-soft">None on record yet; readings need one.</p>}
      {mayAdd && (
        <form className="mt-4 grid grid-cols-2 gap-3" onSubmit={submit}>
          <h2 className="col-span-2 font-semibold">A new gauge</h2>
          <Field
            label="Name"
            value={form.name}
            onChange={(event) => setForm({ ...form, name: event.target.value })}
            error={problem?.of('name')}
          />
          <Field
            label="Kind"
            placeholder="digital depth gauge"
            value={form.kind}
            onChange={(event) => setForm({ ...form, kind: event.target.value })}
            error={problem?.of('kind')}
          />
          <Choose
            label="Reads in"
            value={form.unit}
            onChange={(event) =>
              setForm({
                ...form,
                unit: event.target.value as ThicknessUnit,
                step: event.target.value === '1/32 in' ? '1/32' : form.step,
              })
            }
          >
            <option>mm</option>
            <option>1/32 in</option>
            <option>in</option>
          </Choose>
          <Field
            label={`Least step, ${form.unit === '1/32 in' ? 'in' : form.unit}`}
            value={form.step}
            onChange={(event) => setForm({ ...form, step: event.target.value })}
            error={problem?.of('resolutionMm') ?? (step.ok ? undefined : failureInWords(step.failure))}
          />
          <div className="col-span-2">
            <Button type="submit" disabled={form.name.trim() === '' || !step.ok || add.isPending}>
              Add
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
