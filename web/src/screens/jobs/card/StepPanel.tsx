import { TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { CardStep, JobCard } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { stepPlaceInWords } from '@mile-mark/contract/words';
import type { NewEntry } from '../../../stores/card.ts';
import { formatTime } from '../../../ui/format.ts';
import { Button } from '../../../ui/Button.tsx';
import { Field } from '../../../ui/Field.tsx';
import { About } from './About.tsx';
import { AsksFor } from './AsksFor.tsx';
import { CountInput } from './CountInput.tsx';
import { LevelInput } from './LevelInput.tsx';
import { PadsLeftInput, RotorLeftInput } from './LeftInputs.tsx';
import { StepPhoto } from './StepPhoto.tsx';
import { TorqueInput } from './TorqueInput.tsx';
import { useSign } from './useSign.ts';

export interface StepProps {
  step: CardStep;
  steps: readonly CardStep[];
  card: JobCard;
  me: Me;
  writes: boolean;
  write: (...entries: NewEntry[]) => Promise<void>;
  go: (id: string) => void;
  onNext: () => void;
}

/** One step: what to do, what to mind, and how it is signed. */
export function StepPanel(props: StepProps) {
  const { step, steps, card, writes, write, go, onNext } = props;
  const [allTheSame, setAllTheSame] = useState(false);
  const { sign, goingOn } = useSign(write, onNext);
  const done = step.done !== null && !goingOn;
  const undone = step.after.filter((id) => steps.find((one) => one.id === id)?.done === null);
  const blocked = undone.length > 0 && !allTheSame && !done;
  return (
    <article aria-label={stepPlaceInWords(step.id)} className="mx-auto flex max-w-3xl flex-col gap-4">
      <p className="text-soft first-letter:uppercase">
        {step.corner ?? card.job.unit}
        {step.hold && ' · must be done before the job closes'}
        {` · about ${step.minutes} min`}
      </p>
      <h1 className="text-2xl leading-snug font-semibold sm:text-3xl">{step.text}</h1>
      {step.caution && (
        <p className="flex gap-2 border-l-4 border-ochre pl-3 text-lg">
          <TriangleAlert aria-hidden className="mt-0.5 size-5 shrink-0 text-ochre" />
          {step.caution}
        </p>
      )}
      <About step={step} card={card} />
      {step.again && <p className="border-l-4 border-paint pl-3 text-lg font-medium">{step.again}</p>}
      {done ? (
        <>
          <Done {...props} />
          {step.kind === 'check' && <AsksFor step={step} card={card} writes={writes} />}
        </>
      ) : !writes ? (
        <p className="text-lg text-soft">Not done yet.</p>
      ) : blocked ? (
        <div role="alert" className="flex flex-col gap-3 border-l-4 border-paint pl-3 text-lg">
          <p>
            Before this: <strong>{undone.map((id) => stepPlaceInWords(id)).join('; ')}</strong>.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button look="next" large onClick={() => go(undone[0] ?? step.id)}>
              Go there
            </Button>
            <Button large onClick={() => setAllTheSame(true)}>
              It was done; sign this all the same
            </Button>
          </div>
        </div>
      ) : (
        <Signing {...props} sign={sign} />
      )}
      <div className="flex flex-wrap items-center gap-3 border-t border-hair pt-3">
        <Neighbours {...{ steps, step, go }} />
        {writes && <StepPhoto jobId={card.job.id} unit={card.job.unit} step={step.id} />}
        {done && (
          <Button look="next" large className="ml-auto" onClick={onNext}>
            Next step
          </Button>
        )}
      </div>
    </article>
  );
}

function Neighbours({ steps, step, go }: Pick<StepProps, 'steps' | 'step' | 'go'>) {
  const index = steps.findIndex(({ id }) => id === step.id);
  const [before, after] = [steps[index - 1], steps[index + 1]];
  return (
    <>
      <Button large disabled={!before} onClick={() => before && go(before.id)}>
        Back
      </Button>
      <Button large disabled={!after} onClick={() => after && go(after.id)}>
        Later
      </Button>
    </>
  );
}

/** How the step is signed, by its kind. */
function Signing(props: StepProps & { sign: (...entries: NewEntry[]) => Promise<void> }) {
  const { step, card, write, me, sign } = props;
  switch (step.kind) {
    case 'check':
      return (
        <div role="group" aria-label="What is found" className="grid gap-2 sm:grid-cols-2">
          {step.states.map((state, index) => (
            <Button
              key={state}
              large
              look={index === 0 ? 'next' : 'plain'}
              className="min-h-16 text-xl"
              onClick={() => void (index === 0 ? sign : write)({ kind: 'check', step: step.id, state })}
            >
              {state}
            </Button>
          ))}
        </div>
      );
    case 'level':
      return <LevelInput fluid={card.fluid} onLevel={(level) => void write({ kind: 'level', step: step.id, level })} />;
    case 'pads left':
      return <PadsLeftInput {...props} sign={sign} />;
    case 'rotor left':
      return <RotorLeftInput {...props} sign={sign} />;
    case 'torque':
      return <TorqueInput {...props} sign={sign} />;
    case 'count':
      return <CountInput {...props} sign={sign} />;
    case 'measure':
      return (
        <p className="text-lg">
          <Link
            className="inline-flex min-h-16 items-center rounded border border-[#c99700] bg-paint px-6 text-xl font-semibold text-[#26282a]"
            to={`/measure/${encodeURIComponent(card.job.unit)}`}
          >
            Measure {card.job.unit}
          </Link>
          <span className="mt-2 block text-soft">
            Signed by itself as soon as the readings of axle {step.axle} are sent.
          </span>
        </p>
      );
    case 'second':
      return <Second {...{ step, props, me }} sign={sign} />;
    default:
      return (
        <Button
          look="next"
          large
          className="min-h-20 text-2xl"
          onClick={() => void sign({ kind: step.kind, step: step.id } as NewEntry)}
        >
          Done
        </Button>
      );
  }
}

function Second({
  step,
  props,
  me,
  sign,
}: {
  step: CardStep;
  props: StepProps;
  me: Me;
  sign: (entry: NewEntry) => Promise<void>;
}) {
  const torqued = props.steps.find(({ id }) => id === `torque Wheel nut/${step.axle}/${step.side}`)?.done;
  if (torqued?.byId === me.id)
    return <p className="text-lg">Somebody else than {me.name} signs this, signed in on this device or on another.</p>;
  return (
    <Button
      look="next"
      large
      className="min-h-20 text-2xl"
      onClick={() => void sign({ kind: 'second', step: step.id })}
    >
      I went over them
    </Button>
  );
}

/** What was signed, by whom; taken back with a reason. */
function Done({ step, writes, write }: StepProps) {
  const [reason, setReason] = useState<string>();
  const { done } = step;
  if (!done) return null;
  return (
    <div className="flex flex-col gap-3">
      <p className="text-lg">
        <strong className="first-letter:uppercase">{done.text}</strong>{' '}
        <span className="text-soft">
          {done.by}, {formatTime(done.at)}
        </span>
      </p>
      {writes && step.kind !== 'measure' && reason === undefined && (
        <div>
          <Button large onClick={() => setReason('')}>
            Take it back …
          </Button>
        </div>
      )}
      {reason !== undefined && (
        <form
          className="grid grid-cols-[1fr_auto] items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void write({ kind: 'undo', step: step.id, reason });
            setReason(undefined);
          }}
        >
          <Field
            large
            label="Why it is taken back"
            required
            minLength={3}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button large type="submit">
            Take it back
          </Button>
        </form>
      )}
    </div>
  );
}
