import { type FormEvent, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { ApiProblem } from '../../api/client.ts';
import { useGauges, useImportStudy } from '../../api/gauges.ts';
import { useHandedOver } from '../../stores/handedOver.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { mm } from './figures.ts';

export function ImportOne() {
  const gauges = useGauges();
  const add = useImportStudy();
  const [id] = useNewId();
  const navigate = useNavigate();
  const [file, setFile] = useState<{ name: string; csv: string }>();
  const [form, setForm] = useState({ gaugeId: '', referenced: false, newMm: '', limitMm: '3' });
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const choose = (chosen: File) => void chosen.text().then((csv) => setFile({ name: chosen.name, csv }));
  const handed = useHandedOver((store) => store.take);
  useEffect(() => {
    const file = handed('study');
    if (file) choose(file);
  }, [handed]);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!file) return;
    add.mutate(
      {
        id,
        name: file.name.replace(/\.csv$/i, ''),
        csv: file.csv,
        referenced: form.referenced,
        ...(form.gaugeId ? { gaugeId: form.gaugeId } : {}),
        newMm: mm(form.newMm),
        limitMm: mm(form.limitMm),
      },
      { onSuccess: () => void navigate(`/gauges/studies/${id}`) },
    );
  };
  return (
    <form className="mt-8 flex flex-col gap-3" onSubmit={submit}>
      <h2 className="font-semibold">Take in a study from a file</h2>
      <p className="text-soft">
        CSV with part, technician (or appraiser), trial and value in mm; a value may be a deviation from a reference,
        and negative.
      </p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label="Study as CSV"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) choose(chosen);
        }}
      />
      {file && <p className="font-medium">{file.name}</p>}
      {problem?.of('csv') && (
        <div role="alert" className="text-brick">
          <ul>
            {problem.problem.errors?.map(({ message }) => (
              <li key={message}>{message}</li>
            ))}
          </ul>
        </div>
      )}
      <div className="grid grid-cols-3 gap-3">
        <Choose
          label="Gauge, if on record"
          value={form.gaugeId}
          onChange={(event) => setForm({ ...form, gaugeId: event.target.value })}
        >
          <option value="">Another</option>
          {gauges.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Choose>
        <Field
          label="New thickness, mm"
          value={form.newMm}
          onChange={(event) => setForm({ ...form, newMm: event.target.value })}
          error={problem?.of('newMm')}
        />
        <Field
          label="Service limit, mm"
          value={form.limitMm}
          onChange={(event) => setForm({ ...form, limitMm: event.target.value })}
          error={problem?.of('limitMm')}
        />
      </div>
      <Tick large checked={form.referenced} onChange={(checked) => setForm({ ...form, referenced: checked })}>
        Values are deviations from known true thicknesses
      </Tick>
      {add.isError && !problem?.problem.errors?.length && (
        <p role="alert" className="text-brick">
          {add.error.message}
        </p>
      )}
      {problem?.of('name') && <p className="text-brick">{problem.of('name')}</p>}
      <div>
        <Button type="submit" disabled={!file || add.isPending}>
          Take it in
        </Button>
      </div>
    </form>
  );
}
