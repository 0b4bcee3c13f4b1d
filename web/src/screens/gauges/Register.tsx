import { DataTable } from '../../ui/DataTable.tsx';
import { failureInWords } from '@mile-mark/contract/words';
import { useNewId } from '../../ui/useNewId.ts';
import { type FormEvent, useState } from 'react';
import { mayDo, type Role } from '@mile-mark/contract';
import type { Me, NewPerson, Person } from '@mile-mark/contract/people';
import { parseThickness, type ThicknessUnit } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useAddGauge, useGauges } from '../../api/gauges.ts';
import { useAddPerson, useMe, usePeople } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { formatDate } from '../../ui/format.ts';
import { ChooseRole } from './ChooseRole.tsx';
import { PersonRow } from './PersonRow.tsx';

/** Who measures and signs in, and with which gauges. */
export function Register() {
  const me = useMe();
  return (
    <div className="grid grid-cols-1 gap-6 lg:grid-cols-2">
      <PeopleList me={me} mayAdd={mayDo(me.role, 'administer')} />
      <GaugeList mayAdd={mayDo(me.role, 'measure')} />
    </div>
  );
}

/** Whether somebody's access can be ended: not one's own, and not of who only stands in the record, as a feed does. */
const canLeave = (person: Person, me: Me): boolean =>
  person.id !== me.id && person.leftOn === null && (person.signsIn || person.role !== 'viewer');

function PeopleList({ me, mayAdd }: { me: Me; mayAdd: boolean }) {
  const people = usePeople();
  const add = useAddPerson();
  const [id, renewId] = useNewId();
  const empty = { name: '', role: 'technician' as Role, email: '', password: '' };
  const [form, setForm] = useState(empty);
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const account = form.email || form.password ? { email: form.email, password: form.password } : {};
    const person: NewPerson = { id, name: form.name, role: form.role, ...account };
    add.mutate(person, {
      onSuccess: () => {
        renewId();
        setForm(empty);
      },
    });
  };
  return (
    <section>
      <h2 className="mb-2 text-lg font-semibold">People</h2>
      <DataTable name="people" className="w-full bg-sheet">
        <Heads names={['Name', 'Role', 'Signs in as', '']} />
        <tbody>
          {people.data?.map((person) => (
            <PersonRow
              key={person.id}
              person={person}
              own={person.id === me.id}
              mayEdit={mayAdd && (person.id === me.id || canLeave(person, me))}
              mayEnd={mayAdd && canLeave(person, me)}
              tells={mayAdd}
            />
          ))}
        </tbody>
      </DataTable>
      {mayAdd && (
        <form className="mt-4 grid grid-cols-2 gap-3" onSubmit={submit}>
          <h3 className="col-span-2 font-semibold">A new person</h3>
          <Field
            label="Name"
            value={form.name}
            onChange={(event) => setForm({ ...form, name: event.target.value })}
            error={problem?.of('name')}
          />
          <ChooseRole value={form.role} onChange={(role) => setForm({ ...form, role })} />
          <Field
            label="E-mail address, if they sign in"
            type="email"
            autoComplete="off"
            value={form.email}
            onChange={(event) => setForm({ ...form, email: event.target.value })}
            error={problem?.of('email')}
          />
          <Field
            label="First password"
            type="password"
            autoComplete="new-password"
            value={form.password}
            onChange={(event) => setForm({ ...form, password: event.target.value })}
            error={problem?.of('password')}
          />
          {add.isError && !problem?.problem.errors?.length && (
            <p role="alert" className="col-span-2 text-brick">
              {add.error.message}
            </p>
          )}
          <div className="col-span-2">
            <Button type="submit" disabled={form.name.trim() === '' || add.isPending}>
              Add
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}

function GaugeList({ mayAdd }: { mayAdd: boolean }) {
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
    <section>
      <h2 className="mb-2 text-lg font-semibold">Gauges</h2>
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
          <h3 className="col-span-2 font-semibold">A new gauge</h3>
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
