import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Me } from '@mile-mark/contract/people';
import { useSignIn, useSignOut } from '../../../api/people.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { Modal } from '../../../ui/Modal.tsx';

/** Asks for the password again over the page, which stays as it is: a session ended while somebody was at work. */
export function SignInAgain({ me }: { me: Me }) {
  const signIn = useSignIn();
  const signOut = useSignOut();
  const navigate = useNavigate();
  const [password, setPassword] = useState('');
  return (
    <Modal open title={`Sign in again, ${me.name}`}>
      <p className="mb-3 text-soft">Your session has ended. The page stays as it is, with what you typed.</p>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate({ email: me.email, password });
        }}
      >
        <Field
          label={`Password of ${me.email}`}
          type="password"
          autoComplete="current-password"
          autoFocus
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {signIn.isError && (
          <p role="alert" className="font-medium text-brick">
            {signIn.error.message}
          </p>
        )}
        <div className="flex flex-wrap gap-2">
          <Button look="next" large type="submit" disabled={signIn.isPending || password === ''}>
            Sign in
          </Button>
          <Button large onClick={() => signOut.mutate(undefined, { onSettled: () => void navigate('/sign-in') })}>
            I am somebody else
          </Button>
        </div>
      </form>
    </Modal>
  );
}
