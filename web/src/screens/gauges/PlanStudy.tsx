import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { planStudy } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddStudy, useGauges } from '../../api/gauges.ts';
import { usePeople } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { mm } from './figures.ts';

const newForm = () => ({
  name: '',
  gaugeId: '',
  pads: '10',
  repeats: '3',
  seed: String(Math.floor(1 + 9998 * Math.random())),
  newMm: '12',
  limitMm: '3',
});
type Form = ReturnType<typeof newForm>;

/** A study to be planned: its gauge, pads, people and order. */
export function PlanOne() {
  const people = usePeople();
  const add = useAddStudy();
  const [id] = useNewId();
  const navigate = useNavigate();
  const [form, setForm] = useState(newForm);
  const [chosen, setChosen] = useState<string[]>([]);
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const technicians = people.data?.filter(({ role }) => mayDo(role, 'measure')) ?? [];
  const parts = Array.from({ length: Math.max(0, Math.min(30, Number(form.pads) || 0)) }, (_, i) => `Pad ${i + 1}`);
  const names = chosen.map((id) => technicians.find((one) => one.id === id)?.name ?? '');
  const plan =
    parts.length >= 2 && chosen.length >= 2
      ? planStudy(parts, names, Number(form.repeats) || 2, Number(form.seed) || 0)
      : [];
  const set = (part: Partial<Form>) => setForm({ ...form, ...part });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(
      {
        id,
        name: form.name,
        gaugeId: form.gaugeId,
        parts,
        technicianIds: chosen,
        repeats: Number(form.repeats),
        seed: Number(form.seed),
        newMm: mm(form.newMm),
        limitMm: mm(form.limitMm),
      },
      { onSuccess: () => void navigate(`/gauges/studies/${id}`) },
    );
  };
  return (
    <form className="flex flex-col gap-3" onSubmit={submit} noValidate>
      <h2 className="font-semibold">Plan a study</h2>
      <StudyFields form={form} problem={problem} onChange={set} />
      <WhoMeasures
        technicians={technicians}
        chosen={chosen}
        onChoose={setChosen}
        wrong={problem?.of('technicianIds')}
      />
      <Field
        label="Seed of the random order"
        inputMode="numeric"
        value={form.seed}
        onChange={(event) => set({ seed: event.target.value })}
        error={problem?.of('seed')}
        hint={
          plan.length > 0
            ? `${plan.length} measurements, about ${Math.ceil(plan.length / 2)} minutes. First: ${plan
                .slice(0, 3)
                .map(({ technician, part }) => `${technician} ${part}`)
                .join(', ')} …`
            : 'Choose at least two people and two pads.'
        }
      />
      {add.isError && !problem?.problem.errors?.length && (
        <p role="alert" className="text-brick">
          {add.error.message}
        </p>
      )}
      <div>
        <Button
          look="next"
          type="submit"
          disabled={plan.length === 0 || form.name.trim() === '' || form.gaugeId === '' || add.isPending}
        >
          Plan it
        </Button>
      </div>
    </form>
  );
}

interface FieldsProps {
  form: Form;
  problem: ApiProblem | undefined;
  onChange: (part: Partial<Form>) => void;
}

function StudyFields({ form, problem, onChange }: FieldsProps) {
  const gauges = useGauges();
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field
        label="Name"
        value={form.name}
        onChange={(event) => onChange({ name: event.target.value })}
        error={problem?.of('name')}
      />
      <Choose
        label="Gauge"
        value={form.gaugeId}
        onChange={(event) => onChange({ gaugeId: event.target.value })}
        error={problem?.of('gaugeId')}
      >
        <option value="">Choose …</option>
        {gauges.data?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Choose>
      <Field
        label="Pads, worn to all degrees"
        inputMode="numeric"
        value={form.pads}
        onChange={(event) => onChange({ pads: event.target.value })}
        error={problem?.of('parts')}
        hint="Mark them Pad 1, Pad 2 …"
      />
      <Field
        label="How often each"
        inputMode="numeric"
        value={form.repeats}
        onChange={(event) => onChange({ repeats: event.target.value })}
        error={problem?.of('repeats')}
      />
      <Field
        label="New thickness, mm"
        value={form.newMm}
        onChange={(event) => onChange({ newMm: event.target.value })}
        error={problem?.of('newMm')}
      />
      <Field
        label="Service limit, mm"
        value={form.limitMm}
        onChange={(event) => onChange({ limitMm: event.target.value })}
        error={problem?.of('limitMm')}
      />
    </div>
  );
}

interface WhoProps {
  technicians: { id: string; name: string }[];
  chosen: string[];
  onChoose: (chosen: string[]) => void;
  wrong: string | undefined;
}

function WhoMeasures({ technicians, chosen, onChoose, wrong }: WhoProps) {
  return (
    <fieldset>
      <legend className="text-soft">Who measures</legend>
      <div className="grid grid-cols-2 gap-x-3">
        {technicians.map(({ id, name }) => (
          <Tick
            key={id}
            large
            className="py-0.5"
            checked={chosen.includes(id)}
            onChange={(checked) => onChoose(checked ? [...chosen, id] : chosen.filter((one) => one !== id))}
          >
            {name}
          </Tick>
        ))}
      </div>
      {wrong && <p className="text-brick">{wrong}</p>}
    </fieldset>
  );
}
