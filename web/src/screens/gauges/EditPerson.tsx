import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { LIMITED_ROLES, type Person } from '@mile-mark/contract/people';
import { ApiProblem } from '../../api/client.ts';
import { useChangePerson } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { Refusal } from '../../ui/Refusal.tsx';
import { ChooseDepots } from './ChooseDepots.tsx';
import { ChooseRole } from './ChooseRole.tsx';

interface Props {
  person: Person;
  /** Whether it is who reads this: their own role and password are not changed here. */
  own: boolean;
  onClose: () => void;
}

const standingOf = ({ name, role, email, depots }: Person) => ({ name, role, email, depots });

/** A person corrected: name, role, address; an account for who had none, or a new password for who forgot theirs. */
export function EditPerson({ person, own, onClose }: Props) {
  // What stands on record when this opens: a change in between is told, not overwritten.
  const [seen] = useState(() => standingOf(person));
  const [form, setForm] = useState({ ...seen, email: seen.email ?? '', password: '' });
  const change = useChangePerson();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  // Somebody was quicker: what stands now is shown, and is what the next press has seen.
  const standing = standingOf(person);
  const overtaken = problem?.status === 409 && JSON.stringify(standing) !== JSON.stringify(seen);
  const endsSessions = person.signsIn && (form.role !== seen.role || form.password !== '');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { name, role, email, password } = form;
    const depots = LIMITED_ROLES.includes(role) ? form.depots : [];
    const account = { email: email === '' ? null : email, ...(password === '' ? {} : { password }) };
    const body = { name, role, depots, ...account };
    change.mutate(
      { id: person.id, ...body, seen: overtaken ? standing : seen },
      {
        onSuccess: () => {
          toast(`Saved.${endsSessions ? ` ${name} is signed out and signs in anew.` : ''}`);
          onClose();
        },
      },
    );
  };
  return (
    <Modal open onClose={onClose} title={`Edit ${seen.name}`}>
      <form className="grid gap-3 text-left sm:grid-cols-2" onSubmit={submit}>
        <Field
          label="Name"
          value={form.name}
          onChange={(event) => setForm({ ...form, name: event.target.value })}
          error={problem?.of('name')}
        />
        {own ? (
          <p className="self-end text-soft">Your role, {seen.role}, is changed by another coordinator.</p>
        ) : (
          <ChooseRole value={form.role} onChange={(role) => setForm({ ...form, role })} />
        )}
        <Field
          label={person.signsIn ? 'E-mail address' : 'E-mail address, if they are to sign in'}
          type="email"
          autoComplete="off"
          value={form.email}
          onChange={(event) => setForm({ ...form, email: event.target.value })}
          error={problem?.of('email')}
        />
        {own ? (
          <p className="self-end text-soft">Your password is changed under your name, at the top right.</p>
        ) : (
          <Field
            label={person.signsIn ? 'New password, if theirs is forgotten' : 'First password'}
            type="text"
            autoComplete="off"
            value={form.password}
            onChange={(event) => setForm({ ...form, password: event.target.value })}
            error={problem?.of('password')}
            hint="At least 10 characters. It is shown here only: tell it to them."
          />
        )}
        <ChooseDepots
          role={form.role}
          value={form.depots}
          onChange={(depots) => setForm({ ...form, depots })}
          error={problem?.of('depots')}
        />
        <p role="status" className="min-h-5 text-soft sm:col-span-2">
          {endsSessions && `${seen.name} is signed out everywhere at once and signs in anew.`}
        </p>
        <Refusal problem={problem} className="sm:col-span-2" />
        {overtaken && (
          <p className="border-l-4 border-ink pl-2 sm:col-span-2">
            On record now: {standing.name}, {standing.role}, {standing.email ?? 'no address'},{' '}
            {standing.depots.join(', ') || 'at all depots'}. To save again puts what stands here in its place.
          </p>
        )}
        {change.isError && !problem && (
          <p role="alert" className="text-brick sm:col-span-2">
            {change.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button type="submit" look="next" disabled={form.name.trim() === '' || change.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Modal>
  );
}
