import { useRef } from 'react';
import { evidenceInWords, suspicionInWords, thicknessInWords, thicknessSpreadInWords } from '@mile-mark/contract/words';
import { type Pad, placeKey } from '@mile-mark/core';
import type { Draft } from '../../../stores/device.ts';
import { Asked } from './Asked.tsx';
import type { Action, Wheel } from './draft.ts';
import { appraiserOf, type DraftContext, expectedNow } from './judgeDraft.ts';
import type { FieldState } from './judging.ts';

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

export function OnePad({ draft, ground, wheel, pad, state, active, act, onFocus, onEnter, register }: OnePadProps) {
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
  return `expect ${thicknessSpreadInWords(meanMm + appraiser.biasMm, spread, unit)}`;
}
