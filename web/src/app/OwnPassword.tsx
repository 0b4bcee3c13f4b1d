import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { ApiProblem } from '../api/client.ts';
import { useChangePassword } from '../api/people.ts';
import { Button } from '../ui/Button.tsx';
import { Field } from '../ui/Field.tsx';
import { Refusal } from '../ui/Refusal.tsx';

/** One's own password, changed by who knows the present one. */
export function OwnPassword() {
  const [open, setOpen] = useState(false);
  const [form, setForm] = useState({ current: '', next: '' });
  const change = useChangePassword();
  const problem = change.error instanceof ApiProblem ? change.error : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(form, {
      onSuccess: () => {
        setForm({ current: '', next: '' });
        setOpen(false);
        toast('Your password is changed; your other devices are signed out.');
      },
    });
  };
  if (!open) return <Button onClick={() => setOpen(true)}>Change my password …</Button>;
  return (
    <form className="flex flex-col gap-2" onSubmit={submit}>
      <Field
        label="Present password"
        type="password"
        autoComplete="current-password"
        value={form.current}
        onChange={(event) => setForm({ ...form, current: event.target.value })}
        error={problem?.of('current')}
      />
      <Field
        label="New password"
        type="password"
        autoComplete="new-password"
        value={form.next}
        onChange={(event) => setForm({ ...form, next: event.target.value })}
        error={problem?.of('next')}
        hint="At least 10 characters. Your other devices are signed out."
      />
      <Refusal problem={problem} />
      {change.isError && !problem && (
        <p role="alert" className="text-brick">
          {change.error.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button type="submit" disabled={form.current === '' || form.next === '' || change.isPending}>
          Change it
        </Button>
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </form>
  );
}
