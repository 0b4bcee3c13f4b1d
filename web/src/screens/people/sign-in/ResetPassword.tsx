import { type FormEvent, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { ApiProblem } from '../../../api/client.ts';
import { useResetPassword } from '../../../api/people.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';

/** A new password by a link that works once; who sets it is signed in with it. */
export function ResetPassword() {
  const token = useLocation().hash.slice(1);
  const navigate = useNavigate();
  const [password, setPassword] = useState('');
  const reset = useResetPassword();
  const problem = reset.error instanceof ApiProblem ? reset.error : undefined;
  const atField = problem?.of('password');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    reset.mutate({ token, password }, { onSuccess: () => void navigate('/', { replace: true }) });
  };
  return (
    <main className="mx-auto flex h-full max-w-md flex-col justify-center gap-4 p-8">
      <h1 className="text-2xl font-semibold">A new password</h1>
      {token === '' ? (
        <p>The link is not whole. Open it as it was given to you, or ask the coordinator for a new one.</p>
      ) : (
        <form className="flex flex-col gap-3" onSubmit={submit}>
          <Field
            label="New password"
            type="password"
            autoComplete="new-password"
            autoFocus
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            error={atField}
            hint="At least 10 characters. Your other devices are signed out."
          />
          {reset.isError && !atField && (
            <p role="alert" className="font-medium text-brick">
              {reset.error.message}
            </p>
          )}
          <Button look="next" type="submit" large disabled={password === '' || reset.isPending}>
            Set it and sign in
          </Button>
        </form>
      )}
      <Link className="underline" to="/sign-in">
        To the sign-in
      </Link>
    </main>
  );
}
