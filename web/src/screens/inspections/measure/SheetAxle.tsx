import type { AxleDetail } from '@mile-mark/contract/forecasts';
import { placeKey, type PadPlace, type ThicknessUnit } from '@mile-mark/core';
import type { DraftAnswer } from '../../../stores/device.ts';
import { PadField } from './PadField.tsx';
import type { PadState } from './useSheetJudgement.ts';

interface Props {
  axle: AxleDetail;
  states: readonly PadState[];
  unit: ThicknessUnit;
  typed: Record<string, string>;
  answers: Record<string, DraftAnswer>;
  errorAt: (place: PadPlace) => string | undefined;
  onType: (key: string, value: string) => void;
  onAnswer: (key: string, answer: DraftAnswer) => void;
}

/** An axle of the sheet: its pads, left and right. */
export function SheetAxle({ axle, states, unit, typed, answers, errorAt, onType, onAnswer }: Props) {
  return (
    <fieldset className="bg-sheet p-3">
      <legend className="float-left mb-2 w-full text-lg font-semibold">Axle {axle.axle}</legend>
      <div className="clear-both grid grid-cols-1 gap-3 md:grid-cols-2">
        {(['left', 'right'] as const).map((side) => (
          <div key={side} className="border-t-2 border-line pt-2">
            <h2 className="mb-2 font-medium text-soft">{side === 'left' ? 'Left wheel' : 'Right wheel'}</h2>
            <div className="grid grid-cols-2 gap-3">
              {states
                .filter(({ place }) => place.side === side)
                .map(({ place, pad, state }) => (
                  <PadField
                    key={placeKey(place)}
                    {...{ place, pad, axle, unit, state }}
                    value={typed[placeKey(place)] ?? ''}
                    error={errorAt(place)}
                    answer={answers[placeKey(place)]}
                    onChange={(value) => onType(placeKey(place), value)}
                    onAnswer={(answer) => onAnswer(placeKey(place), answer)}
                  />
                ))}
            </div>
          </div>
        ))}
      </div>
    </fieldset>
  );
}
