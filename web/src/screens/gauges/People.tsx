import { useNewId } from '../../ui/useNewId.ts';
import { type FormEvent, useState } from 'react';
import { mayDo, type Role } from '@mile-mark/contract';
import { LIMITED_ROLES, type Me, type NewPerson, type Person } from '@mile-mark/contract/people';
import { ApiProblem } from '../../api/client.ts';
import { useAddPerson, useMe, usePeople } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { ChooseDepots } from './ChooseDepots.tsx';
import { ChooseRole } from './ChooseRole.tsx';
import { PersonRow } from './PersonRow.tsx';

/** Whether somebody's access can be ended: not one's own, and not of who only stands in the record, as a feed does. */
const canLeave = (person: Person, me: Me): boolean =>
  person.id !== me.id && person.leftOn === null && (person.signsIn || person.role !== 'viewer');

/** Who measures and signs in, and what they may. */
export function People() {
  const me = useMe();
  const mayAdd = mayDo(me.role, 'administer');
  const people = usePeople();
  const add = useAddPerson();
  const [id, renewId] = useNewId();
  const empty = { name: '', role: 'technician' as Role, email: '', password: '', depots: [] as string[] };
  const [form, setForm] = useState(empty);
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const account = form.email || form.password ? { email: form.email, password: form.password } : {};
    const depots = LIMITED_ROLES.includes(form.role) && form.depots.length > 0 ? { depots: form.depots } : {};
    const person: NewPerson = { id, name: form.name, role: form.role, ...account, ...depots };
    add.mutate(person, {
      onSuccess: () => {
        renewId();
        setForm(empty);
      },
    });
  };
  return (
    <section aria-label="People" className="h-full max-w-4xl overflow-y-auto p-4">
      <DataTable name="people" className="w-full bg-sheet">
        <Heads names={['Name', 'Role', 'Works at', 'Signs in as', '']} />
        <tbody>
          {people.data?.map((person) => (
            <PersonRow
              key={person.id}
              person={person}
              own={person.id === me.id}
              mayEdit={mayAdd && (person.id === me.id || canLeave(person, me))}
              mayMerge={mayAdd && person.id !== me.id && !person.signsIn && person.role !== 'viewer'}
              mayEnd={mayAdd && canLeave(person, me)}
              tells={mayAdd}
            />
          ))}
        </tbody>
      </DataTable>
      {mayAdd && (
        <form className="mt-4 grid grid-cols-2 gap-3" onSubmit={submit}>
          <h2 className="col-span-2 font-semibold">A new person</h2>
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
          <ChooseDepots
            role={form.role}
            value={form.depots}
            onChange={(depots) => setForm({ ...form, depots })}
            error={problem?.of('depots')}
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
