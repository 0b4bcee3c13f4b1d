import { useId, useRef } from 'react';
import type { AxleDetail, PadDetail } from '@mile-mark/contract/forecasts';
import { suspicionInWords, thicknessSpreadInWords } from '@mile-mark/contract/words';
import type { PadPlace, ThicknessUnit } from '@mile-mark/core';
import { shareLeft, wearLook } from '../../../drawings/wear.ts';
import type { DraftAnswer } from '../../../stores/device.ts';
import { useSettled } from '../../../ui/useSettled.ts';
import { Asked } from './Asked.tsx';
import { type FieldState, APPRAISER_SD_MM } from './judging.ts';

interface Props {
  place: PadPlace;
  pad: PadDetail | undefined;
  axle: AxleDetail;
  unit: ThicknessUnit;
  value: string;
  state: FieldState;
  error: string | undefined;
  answer: DraftAnswer | undefined;
  onChange: (value: string) => void;
  onAnswer: (answer: DraftAnswer) => void;
}

/** One pad's figure: what is expected stands beside it, a doubt is raised at once, with three answers. */
export function PadField({ place, pad, axle, unit, value, state: judged, error, answer, onChange, onAnswer }: Props) {
  const { settled, finish } = useSettled(value);
  const state: FieldState = settled ? judged : { kind: 'empty' };
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const wrong = error ?? (state.kind === 'wrong' ? state.message : undefined);
  const suspicion = state.kind === 'suspect' ? state.suspicion : undefined;
  const shown = state.kind === 'fine' || state.kind === 'suspect' ? state.mm : pad?.meanMm;
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="flex justify-between">
        <span className="font-medium">{place.pad === 'inner' ? 'Inner' : 'Outer'} pad</span>
        <span className="figures text-soft">
          {pad
            ? `expect ${thicknessSpreadInWords(pad.meanMm, 1.28 * Math.hypot(pad.sdMm, APPRAISER_SD_MM), unit)}`
            : 'nothing known yet'}
        </span>
      </label>
      <div className="relative">
        <input
          ref={input}
          id={id}
          aria-label={`Axle ${place.axle}, ${place.side}, ${place.pad} pad, ${unit}`}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={`${id}-told`}
          inputMode="decimal"
          autoComplete="off"
          value={value}
          onBlur={finish}
          onChange={(event) => onChange(event.target.value)}
          className={`figures min-h-13 w-full rounded-sm border-2 bg-raised px-3 text-2xl ${wrong ? 'border-brick' : suspicion && !answer ? 'border-paint' : 'border-line'}`}
        />
        <span className="absolute top-3.5 right-3 text-soft">{unit}</span>
      </div>
      {shown !== undefined && (
        <span aria-hidden className="block h-1.5 bg-hair">
          <span
            className="block h-full"
            style={{
              width: `${shareLeft(shown, 0, axle.padNewMm) * 100}%`,
              background: wearLook(shareLeft(shown, axle.limit.limitMm, axle.padNewMm)).colour,
            }}
          />
        </span>
      )}
      <div id={`${id}-told`} aria-live="polite">
        {wrong && <p className="font-medium text-brick">{wrong}</p>}
        {!wrong && suspicion && (
          <Asked
            question={suspicionInWords(suspicion, unit)}
            answer={answer}
            onCorrect={() => input.current?.select()}
            onAnswer={onAnswer}
          />
        )}
      </div>
    </div>
  );
}
