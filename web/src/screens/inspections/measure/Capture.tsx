import { Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Bay, BayVehicle } from '@mile-mark/contract/inspections';
import type { Me } from '@mile-mark/contract/people';
import { padsAcross, placeKey } from '@mile-mark/core';
import type { Draft } from '../../../stores/device.ts';
import type { BayState } from '../../../stores/bay.ts';
import { useOutbox } from '../../../stores/outbox.ts';
import { ReviewStep } from './ReviewStep.tsx';
import { StartStep } from './StartStep.tsx';
import { WheelStep } from './WheelStep.tsx';
import { walk, type Wheel } from './draft.ts';
import { type DraftContext, gaugeOf } from './judgeDraft.ts';
import { inspectionOf, missing } from './sent.ts';
import { useDraft } from './useDraft.ts';

/** One inspection of a vehicle in the bay: once the odometer and gauge, then wheel by wheel, then a look over it. */
export function Capture({ state, vehicle, me }: { state: BayState; vehicle: BayVehicle; me: Me }) {
  const { bay } = state;
  const { draft, act, undo, undoable } = useDraft(state, vehicle, me);
  if (!draft) return null;
  return <Steps {...{ bay, vehicle, me, draft, act, undo, undoable }} />;
}

type Step = 'start' | 'review' | number;

interface Props extends Omit<ReturnType<typeof useDraft>, 'draft'> {
  bay: Bay;
  vehicle: BayVehicle;
  me: Me;
  draft: Draft;
}

function Steps({ bay, vehicle, me, draft, act, undo, undoable }: Props) {
  const wheels = walk(vehicle.axles.map(({ axle }) => axle));
  const [step, setStep] = useState<Step>(() => firstOpen(draft, wheels));
  // Each visit to a step begins anew with its first field, also when it is the step one is at.
  const [visit, setVisit] = useState(0);
  const go = (to: Step) => {
    setStep(to);
    setVisit(visit + 1);
  };
  const gauge = gaugeOf(draft, bay);
  const ground: DraftContext = { vehicle, bay, unit: gauge?.unit ?? me.thicknessUnit };
  const wrong = missing(draft, ground);
  const onNext = () =>
    setStep((before) => {
      if (before === 'start') return 0;
      if (before === 'review') return before;
      return before + 1 < wheels.length ? before + 1 : 'review';
    });
  const save = useKeep(draft, ground, me);
  useUndoKey(undo);
  const wheel = typeof step === 'number' ? wheels[step] : undefined;
  const following = typeof step === 'number' ? wheels[step + 1] : undefined;
  return (
    <div className="mx-auto flex min-h-full max-w-6xl flex-col gap-3 p-3">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="figures text-3xl font-semibold">{vehicle.unit}</h1>
        <span className="text-soft max-sm:hidden">
          {vehicle.model}
          <br />
          {vehicle.depot}
        </span>
        <Walk {...{ wheels, step, draft }} onGo={go} />
        <Link
          className="ml-auto flex min-h-12 items-center rounded border border-line bg-raised px-4"
          to={`/specifications?unit=${encodeURIComponent(vehicle.unit)}${wheel ? `&axle=${wheel.axle}` : ''}`}
        >
          Torques
        </Link>
        <button
          type="button"
          disabled={!undoable}
          onClick={undo}
          className="flex min-h-12 items-center gap-2 rounded border border-line bg-raised px-4 disabled:opacity-40"
        >
          <Undo2 aria-hidden size={20} /> Undo
        </button>
      </header>
      {step === 'start' && <StartStep {...{ draft, bay, vehicle, me, act, onNext }} />}
      {wheel && (
        <WheelStep
          {...{ draft, ground, wheel, act, onNext }}
          next={following ? `Next wheel: axle ${following.axle} ${following.side}` : 'Review it'}
          key={`${wheel.axle}${wheel.side}${visit}`}
        />
      )}
      {step === 'review' && (
        <ReviewStep
          {...{ draft, ground, wrong }}
          onSave={() => void save()}
          onGo={(one) => setStep(wheels.findIndex(({ axle, side }) => axle === one.axle && side === one.side))}
        />
      )}
      <Foot unit={vehicle.unit} />
    </div>
  );
}

/** Keeps the inspection and its photos on the device, to be sent. */
function useKeep(draft: Draft, ground: DraftContext, me: Me): () => Promise<void> {
  const keep = useOutbox((state) => state.keep);
  const navigate = useNavigate();
  return async () => {
    const body = inspectionOf(draft, ground);
    const keptAt = new Date().toISOString();
    const marks = Object.fromEntries(ground.vehicle.axles.map(({ axle, markDate }) => [axle, markDate]));
    await keep([
      { id: draft.inspectionId, kind: 'inspection', personId: me.id, unit: draft.unit, keptAt, body, draft, marks },
      ...draft.photos.map(({ id, ...photo }) => ({
        id,
        kind: 'photo' as const,
        personId: me.id,
        unit: draft.unit,
        keptAt,
        body: { id, inspectionId: draft.inspectionId, ...photo },
      })),
    ]);
    toast(`${draft.unit} kept on this device; sent when the network is there.`);
    void navigate('/measure');
  };
}

function useUndoKey(undo: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === 'z') {
        event.preventDefault();
        undo();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

interface WalkProps {
  wheels: readonly Wheel[];
  step: Step;
  draft: Draft;
  onGo: (step: Step) => void;
}

/** The steps, those done marked. */
function Walk({ wheels, step, draft, onGo }: WalkProps) {
  return (
    <nav aria-label="Walk around the vehicle" className="flex flex-wrap gap-1 max-sm:order-last max-sm:basis-full">
      <StepButton
        name="Start"
        here={step === 'start'}
        done={draft.odometer !== '' && draft.gaugeId !== ''}
        onClick={() => onGo('start')}
      />
      {wheels.map((one, index) => (
        <StepButton
          key={`${one.axle}${one.side}`}
          name={`${one.side === 'left' ? 'L' : 'R'}${one.axle}`}
          told={`Axle ${one.axle}, ${one.side}`}
          here={step === index}
          done={isDone(draft, one)}
          onClick={() => onGo(index)}
        />
      ))}
      <StepButton name="Review" here={step === 'review'} done={false} onClick={() => onGo('review')} />
    </nav>
  );
}

function Foot({ unit }: { unit: string }) {
  return (
    <p className="mt-auto pt-2 text-[13px] text-soft">
      Everything is kept on this device as you go.{' '}
      <Link className="underline" to={`/measure/${unit}/sheet`}>
        Type it in as a sheet instead
      </Link>
      {' · '}
      <Link className="underline" to="/measure">
        Another vehicle
      </Link>
    </p>
  );
}

function StepButton({
  name,
  told,
  here,
  done,
  onClick,
}: {
  name: string;
  told?: string;
  here: boolean;
  done: boolean;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      aria-label={told ?? name}
      aria-current={here ? 'step' : undefined}
      onClick={onClick}
      className={`figures min-h-12 min-w-12 border-b-4 bg-raised px-2 text-lg ${here ? 'border-ink font-semibold' : 'border-transparent text-soft'}`}
    >
      {name}
      <span aria-hidden className={`mx-auto mt-0.5 block h-1 w-5 ${done ? 'bg-slate' : 'bg-hair'}`} />
    </button>
  );
}

/** Whether both pads of a wheel are answered. */
function isDone(draft: Draft, wheel: Wheel): boolean {
  return padsAcross(wheel.side).every((pad) => {
    const own = draft.pads[placeKey({ ...wheel, pad })];
    return own !== undefined && (own.typed !== '' || own.unseen === true);
  });
}

/** Where to go on with an inspection that was begun before. */
function firstOpen(draft: Draft, wheels: readonly Wheel[]): Step {
  if (draft.odometer === '' || draft.refusal) return 'start';
  const index = wheels.findIndex((wheel) => !isDone(draft, wheel));
  return index < 0 ? 'review' : index;
}
