import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { Navigate, useLocation } from 'react-router';
import { z } from 'zod';
import type { Role } from '@mile-mark/contract';
import { Credentials, FirstAccount } from '@mile-mark/contract/people';
import { useFirstAccount, useSession, useSignIn } from '../../../api/people.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { State } from '../../../ui/State.tsx';

/** Where somebody was going when they were asked to sign in: a path of this application. */
const From = z.object({ from: z.string().regex(/^\/(?!\/)/) });

/** Where each role begins its day. */
const STARTS: Record<Role, string> = {
  coordinator: '/',
  technician: '/measure',
  'parts keeper': '/parts',
  viewer: '/this-week',
};

/** Sign-in; where nobody has an account yet, the first person makes one. */
export function SignIn() {
  const session = useSession();
  const location = useLocation();
  const from = From.safeParse(location.state as unknown).data?.from;
  if (session.isPending) return <State title="Loading" what="Asking the server." quiet />;
  if (session.isLoadingError) {
    return (
      <State title="Mile Mark does not answer" what="The server may be starting, or the network is cut.">
        <Button onClick={() => void session.refetch()}>Try again</Button>
      </State>
    );
  }
  if (session.data.me) return <Navigate to={from ?? STARTS[session.data.me.role]} replace />;
  return (
    <div className="grid h-full grid-cols-1 md:grid-cols-[1fr_420px]">
      <section className="hidden flex-col justify-end bg-[#2b2d2f] p-12 text-[#f1efe9] md:flex" aria-hidden>
        <RoadPicture />
        <p className="mt-10 max-w-lg text-3xl leading-snug font-medium">
          Every axle has a mile mark ahead of it. Readings in, mile mark out.
        </p>
      </section>
      <main className="flex flex-col justify-center gap-4 bg-sheet p-10">
        <h1 className="flex items-center gap-3 text-2xl font-semibold">
          <img src="/mark.svg" alt="" className="h-8 w-8" /> Mile Mark
        </h1>
        {session.data.firstAccountNeeded ? <FirstForm /> : <SignInForm demo={session.data.demo} />}
      </main>
    </div>
  );
}

function SignInForm({ demo }: { demo: boolean }) {
  const signIn = useSignIn();
  const form = useForm<z.infer<typeof Credentials>>({
    resolver: zodResolver(Credentials),
    defaultValues: { email: '', password: '' },
  });
  const { errors } = form.formState;
  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(event) => void form.handleSubmit((body) => signIn.mutate(body))(event)}
    >
      <Field
        label="E-mail address"
        type="email"
        autoComplete="username"
        autoFocus
        error={errors.email?.message}
        {...form.register('email')}
      />
      <Field
        label="Password"
        type="password"
        autoComplete="current-password"
        error={errors.password?.message}
        {...form.register('password')}
      />
      {signIn.isError && (
        <p role="alert" className="font-medium text-brick">
          {signIn.error.message}
        </p>
      )}
      <Button look="next" type="submit" large disabled={signIn.isPending}>
        Sign in
      </Button>
      {demo && <p className="text-soft">This is the demo; the sign-ins stand where it was started.</p>}
    </form>
  );
}

function FirstForm() {
  const make = useFirstAccount();
  const form = useForm<z.infer<typeof FirstAccount>>({
    resolver: zodResolver(FirstAccount),
    defaultValues: { name: '', email: '', password: '' },
  });
  const { errors } = form.formState;
  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(event) => void form.handleSubmit((body) => make.mutate(body))(event)}
    >
      <p className="text-soft">
        Nobody has an account here yet. The first is the coordinator’s; others are added under Fleet.
      </p>
      <Field label="Your name" autoComplete="name" autoFocus error={errors.name?.message} {...form.register('name')} />
      <Field
        label="E-mail address"
        type="email"
        autoComplete="username"
        error={errors.email?.message}
        {...form.register('email')}
      />
      <Field
        label="Password"
        type="password"
        autoComplete="new-password"
        hint="At least 10 characters."
        error={errors.password?.message}
        {...form.register('password')}
      />
      {make.isError && (
        <p role="alert" className="font-medium text-brick">
          {make.error.message}
        </p>
      )}
      <Button look="next" type="submit" large disabled={make.isPending}>
        Make the first account
      </Button>
    </form>
  );
}

function RoadPicture() {
  const posts = [
    { x: 60, fill: 6 },
    { x: 150, fill: 14 },
    { x: 210, fill: 22 },
    { x: 330, fill: 34 },
    { x: 430, fill: 44 },
  ];
  return (
    <svg viewBox="0 0 520 120" className="w-full max-w-xl" role="presentation">
      <line x1="0" y1="100" x2="520" y2="100" stroke="#55585c" strokeWidth="6" />
      <line x1="0" y1="100" x2="520" y2="100" stroke="#f2b705" strokeWidth="1.5" strokeDasharray="18 14" />
      {posts.map(({ x, fill }) => (
        <g key={x}>
          <line x1={x + 14} y1="84" x2={x + 80} y2="84" stroke="#b4b6b3" strokeWidth="2" />
          <rect x={x} y="40" width="20" height="56" fill="#303437" stroke="#f1efe9" />
          <rect x={x + 1} y={95 - fill} width="18" height={fill} fill="#f1efe9" />
        </g>
      ))}
    </svg>
  );
}
