import { Tabs } from '../../../ui/Tabs.tsx';
import { useEffect, useRef, useState } from 'react';
import { evidenceInWords, limitInWords, suspicionInWords, thicknessInWords } from '@mile-mark/contract/words';
import { type Pad, placeKey } from '@mile-mark/core';
import { WheelEnd } from '../../../drawings/WheelEnd.tsx';
import type { Draft } from '../../../stores/device.ts';
import { Asked } from './Asked.tsx';
import { DiscPart } from './DiscPart.tsx';
import { FoundPart } from './FoundPart.tsx';
import { NumberPad } from './NumberPad.tsx';
import { PhotoPart } from './PhotoPart.tsx';
import {
  type Action,
  expectedNow,
  type DraftContext,
  appraiserOf,
  judgeDraft,
  PADS_IN_VIEW,
  type Wheel,
} from './draft.ts';
import type { FieldState } from './judging.ts';

interface Props {
  draft: Draft;
  ground: DraftContext;
  wheel: Wheel;
  act: (action: Action) => void;
  onNext: () => void;
  next: string;
}

const PARTS = ['Pads', 'Rotor', 'Found', 'Photo'] as const;
type Part = (typeof PARTS)[number];

/** One wheel: its two pads first; rotor, findings and photos one touch away. */
export function WheelStep({ draft, ground, wheel, act, onNext, next }: Props) {
  const [part, setPart] = useState<Part>('Pads');
  const key = `${wheel.axle}-${wheel.side}`;
  const counts: Record<Part, number> = {
    Pads: PADS_IN_VIEW.filter((pad) => draft.pads[placeKey({ ...wheel, pad })]).length,
    Rotor: draft.rotors[key] ? 1 : 0,
    Found: Object.keys(draft.findings).filter((one) => one.startsWith(`${key}-`)).length,
    Photo: draft.photos.filter(({ axle, side }) => axle === wheel.axle && side === wheel.side).length,
  };
  const content = {
    Pads: <PadsPart {...{ draft, ground, wheel, act, onNext, next }} />,
    Rotor: <DiscPart {...{ draft, wheel, act }} vehicle={ground.vehicle} onDone={() => setPart('Pads')} />,
    Found: <FoundPart {...{ draft, wheel, act }} />,
    Photo: <PhotoPart {...{ draft, wheel, act }} />,
  };
  return (
    <Tabs
      label="What is looked at"
      value={part}
      onChange={setPart}
      heading={
        <h2 className="text-xl font-semibold">
          Axle {wheel.axle}, {wheel.side}
        </h2>
      }
      tabs={PARTS.map((name) => ({
        value: name,
        label: (
          <>
            {name}
            {counts[name] > 0 && name !== 'Pads' && (
              <span className="figures ml-1.5 font-semibold">{counts[name]}</span>
            )}
          </>
        ),
        content: content[name],
      }))}
    />
  );
}

function PadsPart({ draft, ground, wheel, act, onNext, next }: Props) {
  const [active, setActive] = useState<Pad>('outer');
  const inputs = useRef(new Map<Pad, HTMLInputElement>());
  const states = judgeDraft(draft, ground);
  const axle = ground.vehicle.axles.find((one) => one.axle === wheel.axle);
  useEffect(() => {
    inputs.current.get('outer')?.focus();
  }, [wheel.axle, wheel.side]);
  if (!axle) return null;
  const stateOf = (pad: Pad): FieldState => states.get(placeKey({ ...wheel, pad })) ?? { kind: 'empty' };
  const typedOf = (pad: Pad) => draft.pads[placeKey({ ...wheel, pad })]?.typed ?? '';
  const type = (typed: string) => act({ kind: 'type', place: { ...wheel, pad: active }, typed });
  const goOn = () => {
    const after = PADS_IN_VIEW[PADS_IN_VIEW.indexOf(active) + 1];
    if (after) inputs.current.get(after)?.focus();
    else onNext();
  };
  const shown = Object.fromEntries(
    PADS_IN_VIEW.flatMap((pad) => {
      const state = stateOf(pad);
      return state.kind === 'fine' || state.kind === 'suspect' ? [[pad, { mm: state.mm }]] : [];
    }),
  );
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_21rem]">
      <div className="flex flex-col gap-3">
        <div className="hidden flex-wrap items-center gap-x-6 sm:flex">
          <WheelEnd
            side={wheel.side}
            pads={shown}
            newMm={axle.newMm}
            limitMm={axle.limitMm}
            unit={ground.unit}
            scale={axle.newMm > 15 ? 5 : 8}
          />
          <p className="text-soft">
            limit {limitInWords(axle.limitMm, ground.unit)}
            <br />
            new {thicknessInWords(axle.newMm, ground.unit)}
          </p>
        </div>
        <div className="grid grid-cols-2 gap-3">
          {PADS_IN_VIEW.map((pad) => (
            <OnePad
              key={pad}
              {...{ draft, ground, wheel, pad, act }}
              state={stateOf(pad)}
              active={active === pad}
              onFocus={() => setActive(pad)}
              onEnter={goOn}
              register={(input) => {
                if (input) inputs.current.set(pad, input);
              }}
            />
          ))}
        </div>
      </div>
      <NumberPad
        marks={ground.unit === '1/32 in' ? [] : ['.']}
        onKey={(pressed) => type(typedOf(active) + pressed)}
        onErase={() => type(typedOf(active).slice(0, -1))}
        onNext={goOn}
        next={active === 'outer' ? 'Inner pad' : next}
      />
    </div>
  );
}

interface OnePadProps {
  draft: Draft;
  ground: DraftContext;
  wheel: Wheel;
  pad: Pad;
  state: FieldState;
  active: boolean;
  act: (action: Action) => void;
  onFocus: () => void;
  onEnter: () => void;
  register: (input: HTMLInputElement | null) => void;
}

function OnePad({ draft, ground, wheel, pad, state, active, act, onFocus, onEnter, register }: OnePadProps) {
  const input = useRef<HTMLInputElement>(null);
  const place = { ...wheel, pad };
  const own = draft.pads[placeKey(place)];
  const known = ground.vehicle.axles
    .find((one) => one.axle === wheel.axle)
    ?.pads.find((one) => one.side === wheel.side && one.pad === pad);
  const suspicion = state.kind === 'suspect' ? state.suspicion : undefined;
  const border =
    state.kind === 'wrong'
      ? 'border-brick'
      : suspicion && !own?.answer
        ? 'border-paint'
        : active
          ? 'border-ink'
          : 'border-line';
  return (
    <div className="flex flex-col gap-1.5">
      <span className="flex flex-wrap items-baseline justify-between gap-x-2">
        <span className="text-lg font-semibold">{pad === 'inner' ? 'Inner' : 'Outer'}</span>
        <span className="figures text-right text-[15px] text-soft">
          {known
            ? expectationInWords(expectedNow(known, ground.vehicle, draft), known.sdMm, draft, ground)
            : 'nothing known yet'}
        </span>
      </span>
      <span className="relative">
        <input
          ref={(node) => {
            input.current = node;
            register(node);
          }}
          aria-label={`Axle ${wheel.axle}, ${wheel.side}, ${pad} pad, ${ground.unit}`}
          aria-invalid={state.kind === 'wrong' ? true : undefined}
          inputMode="none"
          autoComplete="off"
          disabled={own?.unseen === true}
          value={own?.typed ?? ''}
          placeholder={own?.unseen ? 'not seen' : ''}
          onFocus={onFocus}
          onChange={(event) => act({ kind: 'type', place, typed: event.target.value })}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            event.preventDefault();
            onEnter();
          }}
          className={`figures min-h-16 w-full rounded border-2 bg-raised px-3 text-4xl font-semibold disabled:opacity-60 ${border}`}
        />
        <span className="absolute top-5 right-2 text-base text-soft sm:right-3 sm:text-lg">
          {ground.unit === '1/32 in' ? '/32 in' : ground.unit}
        </span>
      </span>
      <span className="flex flex-wrap items-center justify-between gap-2">
        <span className="text-[13px] text-soft">
          {known && known.pooledMm !== null
            ? `${thicknessInWords(known.pooledMm, ground.unit)} pooled from ${evidenceInWords(known.readings, known.people)}`
            : 'not measured since fitted'}
        </span>
        <button
          type="button"
          aria-pressed={own?.unseen === true}
          onClick={() => act({ kind: 'unseen', place, unseen: !own?.unseen })}
          className="min-h-12 shrink-0 rounded border border-line bg-raised px-3 aria-pressed:bg-ink aria-pressed:text-sheet"
        >
          Could not see
        </button>
      </span>
      {state.kind === 'wrong' && (
        <p role="alert" className="font-medium text-brick">
          {state.message}
        </p>
      )}
      {suspicion && (
        <Asked
          question={suspicionInWords(suspicion, ground.unit)}
          answer={own?.answer}
          onCorrect={() => {
            act({ kind: 'type', place, typed: '' });
            input.current?.focus();
          }}
          onAnswer={(answer) => act({ kind: 'answer', place, answer })}
        />
      )}
    </div>
  );
}

/** What this appraiser will probably read: expectation and the half-width that holds 80 %. */
function expectationInWords(meanMm: number, sdMm: number, draft: Draft, { bay, unit }: DraftContext): string {
  const appraiser = appraiserOf(draft, bay);
  const spread = 1.28 * Math.hypot(sdMm, appraiser.biasSdMm, appraiser.repeatabilityMm);
  const half = thicknessInWords(spread, unit).replace(/ .*/, '');
  return `expect ${thicknessInWords(meanMm + appraiser.biasMm, unit)} ± ${unit === '1/32 in' ? half.replace('/32', '') : half}`;
}
