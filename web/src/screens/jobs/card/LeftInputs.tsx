import { useState } from 'react';
import { padsAcross } from '@mile-mark/core';
import { thicknessInWords } from '@mile-mark/contract/words';
import { useReader } from '../../../api/reader.ts';
import type { NewEntry } from '../../../stores/card.ts';
import { Field } from '../../../ui/Field.tsx';
import { NumberPad } from '../../../ui/NumberPad.tsx';
import type { StepProps } from './StepPanel.tsx';
import { useFigures } from './useFigure.ts';

type Props = StepProps & { sign: (...entries: NewEntry[]) => Promise<void> };

/** Most that a new pad reads above its nominal thickness before it is asked about, mm (as the core has it). */
const ABOVE_NEW_MM = 0.5;

/** The new pads as they sit, both of a wheel; outer and inner stand as in the drawing. */
export function PadsLeftInput({ step, card, sign }: Props) {
  const limits = card.limits.find(({ axle }) => axle === step.axle);
  const names = padsAcross(step.side ?? 'left');
  const figures = useFigures<'inner' | 'outer'>(names);
  const [confirmed, setConfirmed] = useState('');
  const reader = useReader();
  const unit = reader.thicknessUnit;
  const [inner, outer] = [figures.thicknessOf('inner', unit), figures.thicknessOf('outer', unit)];
  const high = [inner, outer].some(
    (mm) => mm !== undefined && limits !== undefined && mm > limits.newMm + ABOVE_NEW_MM,
  );
  const save = () => {
    if (inner === undefined || outer === undefined || (high && confirmed.trim().length < 3)) return;
    void sign({ kind: 'pads left', step: step.id, innerMm: inner, outerMm: outer, ...(high ? { confirmed } : {}) });
  };
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_20rem]">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <div className="grid grid-cols-2 gap-3">
          {names.map((name) => (
            <Field
              key={name}
              large
              label={`${name === 'inner' ? 'Inner' : 'Outer'} pad, ${unit}`}
              inputMode="none"
              value={figures.typedOf(name)}
              onFocus={() => figures.setActive(name)}
              onChange={(event) => figures.type(name, event.target.value)}
            />
          ))}
        </div>
        {limits && (
          <p className="text-lg text-soft">
            New {reader.thickness(limits.newMm)}, limit {reader.limit(limits.limitMm)}.
          </p>
        )}
        {high && (
          <Field
            large
            label="Above new. Measure again; where it is so, say why"
            value={confirmed}
            onChange={(event) => setConfirmed(event.target.value)}
          />
        )}
        <button type="submit" className="sr-only" tabIndex={-1}>
          Save
        </button>
      </form>
      <NumberPad
        marks={['.']}
        onKey={figures.press}
        onErase={figures.erase}
        onNext={() => figures.next() || save()}
        next={inner !== undefined && outer !== undefined ? 'Save both' : 'Next'}
      />
    </div>
  );
}

/** The rotor as left, at its thinnest. */
export function RotorLeftInput({ step, card, sign }: Props) {
  const limits = card.limits.find(({ axle }) => axle === step.axle);
  const figures = useFigures<'mm'>(['mm']);
  const reader = useReader();
  // Rotors are stamped in mm or in inches; nobody reads them in 32nds.
  const unit = reader.fineUnit;
  const mm = figures.thicknessOf('mm', unit);
  const low = mm !== undefined && limits?.rotorDiscardMm != null && mm < limits.rotorDiscardMm;
  const rotor = (thickness: number) => thicknessInWords(thickness, unit);
  const save = () => {
    if (mm !== undefined) void sign({ kind: 'rotor left', step: step.id, mm });
  };
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_20rem]">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <Field
          large
          label={`Thinnest point, ${unit}`}
          inputMode="none"
          value={figures.typedOf('mm')}
          onChange={(event) => figures.type('mm', event.target.value)}
          error={
            low
              ? `Under the discard thickness of ${rotor(limits?.rotorDiscardMm ?? 0)}: the job does not close with it.`
              : undefined
          }
        />
        <p className="text-lg text-soft">
          Discard {limits?.rotorDiscardMm == null ? 'unknown: it is cast on the rotor' : rotor(limits.rotorDiscardMm)}
          {limits?.runoutMm != null && `; runout at most ${reader.fine(limits.runoutMm)} on a clean hub`}.
        </p>
        <button type="submit" className="sr-only" tabIndex={-1}>
          Save
        </button>
      </form>
      <NumberPad marks={['.']} onKey={figures.press} onErase={figures.erase} onNext={save} next="Save" />
    </div>
  );
}
