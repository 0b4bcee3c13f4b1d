import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { CardStep, JobCard } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { stepPlaceInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../../api/client.ts';
import { useCloseJob } from '../../../api/jobs.ts';
import { usePending } from '../../../stores/card.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { useNewId } from '../../../ui/useNewId.ts';

interface Props {
  card: JobCard;
  steps: readonly CardStep[];
  me: Me;
  writes: boolean;
  go: (id: string) => void;
}

/** The end of the card: what is still missing and where, the odometer, the signature. */
export function CloseCard({ card, steps, me, writes, go }: Props) {
  const [id] = useNewId();
  const [form, setForm] = useState({ odometer: '', note: '' });
  const close = useCloseJob(card.job.id);
  const navigate = useNavigate();
  const waiting = usePending(card.job.id).length;
  const problem = close.error instanceof ApiProblem ? close.error : undefined;
  const open = steps.filter(({ hold, done }) => hold && done === null);
  const missing =
    problem?.problem.missing ?? open.map((step) => ({ step: step.id, text: `Not done: ${stepPlaceInWords(step.id)}` }));
  if (!writes) return <p className="text-lg">Nothing more is written on this card.</p>;
  return (
    <form
      className="mx-auto flex max-w-3xl flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        const { odometer, note } = form;
        close.mutate(
          { id, odometer, odometerUnit: me.distanceUnit, ...(note.trim() ? { note } : {}) },
          {
            onSuccess: () => {
              toast(`${card.job.unit} is closed; its pads begin a new life and its mark is being worked out anew.`);
              void navigate(`/jobs/${card.job.id}`);
            },
          },
        );
      }}
    >
      <h1 className="text-3xl font-semibold">Sign and close</h1>
      {missing.length > 0 && (
        <section aria-label="Still missing">
          <h2 className="mb-1 text-xl">
            {missing.length} {missing.length === 1 ? 'thing is' : 'things are'} still missing
          </h2>
          <ul>
            {missing.map((one) => (
              <li key={`${one.step ?? ''} ${one.text}`}>
                <button
                  type="button"
                  disabled={one.step === null}
                  onClick={() => one.step !== null && go(one.step)}
                  className="min-h-12 w-full border-b border-hair text-left text-lg enabled:underline enabled:decoration-line enabled:underline-offset-4"
                >
                  {one.text}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          large
          label={`Odometer, ${me.distanceUnit}`}
          required
          value={form.odometer}
          onChange={(event) => setForm({ ...form, odometer: event.target.value })}
          error={problem?.of('odometer')}
        />
        <Field
          large
          label="A last word, if there is one"
          value={form.note}
          onChange={(event) => setForm({ ...form, note: event.target.value })}
        />
      </div>
      {waiting > 0 && <p role="status">{waiting} entries wait on this device; the job closes when they are sent.</p>}
      {close.isError && missing.length === 0 && !problem?.problem.errors?.length && (
        <p role="alert" className="text-lg text-brick">
          {close.error.message}
        </p>
      )}
      <p className="text-lg text-soft">
        You sign as {me.name}. Who signs must be entitled to where the law says so. A vehicle under a legal limit is
        never released.
      </p>
      <Button look="next" large className="min-h-16 text-xl" type="submit" disabled={close.isPending || waiting > 0}>
        Sign and close the job
      </Button>
    </form>
  );
}
