import { type RefObject, useRef, useState } from 'react';
import type { BayVehicle } from '@mile-mark/contract/inspections';
import { figureOf, indexRotor } from '@mile-mark/core';
import { discInWords, RotorDisc } from '../../../drawings/RotorDisc.tsx';
import type { Draft, DraftRotor } from '../../../stores/device.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { NumberPad } from '../../../ui/NumberPad.tsx';
import type { Action, Wheel } from './draft.ts';
import { dialOf } from './sent.ts';

const LISTS = [
  { list: 'thickness', name: 'Thickness', unit: 'mm' },
  { list: 'runout', name: 'Runout', unit: '0.01 mm' },
  { list: 'hub', name: 'Bare hub', unit: '0.01 mm' },
] as const;
type ListName = (typeof LISTS)[number]['list'];

const CLOCK: Record<8 | 12, string[]> = {
  8: ['12', '1:30', '3', '4:30', '6', '7:30', '9', '10:30'],
  12: ['12', '1', '2', '3', '4', '5', '6', '7', '8', '9', '10', '11'],
};

interface Props {
  draft: Draft;
  wheel: Wheel;
  vehicle: BayVehicle;
  act: (action: Action) => void;
  onDone: () => void;
}

/** A rotor around its circle: thickness at up to eight points, runout at eight or twelve, the hub's own. */
export function DiscPart({ draft, wheel, vehicle, act, onDone }: Props) {
  const [list, setList] = useState<ListName>('thickness');
  const [active, setActive] = useState(0);
  const inputs = useRef(new Map<number, HTMLInputElement>());
  const rotor = draft.rotors[`${wheel.axle}-${wheel.side}`];
  const count = list === 'thickness' ? 8 : (rotor?.points ?? 8);
  const values = Array.from({ length: count }, (_, i) => rotor?.[list][i] ?? '');
  const set = (change: Partial<Omit<DraftRotor, 'id'>>) => act({ kind: 'rotor', wheel, set: change });
  const type = (at: number, typed: string) => set({ [list]: values.map((value, i) => (i === at ? typed : value)) });
  const goOn = () => (active + 1 < count ? inputs.current.get(active + 1)?.focus() : onDone());
  const axle = vehicle.axles.find((one) => one.axle === wheel.axle);
  const { shown, best } = measured(rotor, axle);
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_21rem]">
      <div className="flex flex-col gap-3">
        <ListChoice
          list={list}
          rotor={rotor}
          onList={(next) => {
            setList(next);
            setActive(0);
          }}
          onSet={set}
        />
        <div className="flex flex-wrap items-start gap-4">
          <Points {...{ list, values, active, inputs }} onActive={setActive} onType={type} onNext={goOn} />
          <RotorDisc {...shown} size={220} />
        </div>
        <p aria-live="polite" className="text-[15px]">
          {discInWords(shown)}
          {best &&
            (best.turnStuds === 0
              ? ' It sits best as it is.'
              : ` Turned ${best.turnStuds} ${best.turnStuds === 1 ? 'stud' : 'studs'} clockwise on the hub, ${best.runoutMm.toFixed(2)} mm once a turn is left.`)}
        </p>
        <p className="text-[13px] text-soft">
          {list === 'thickness'
            ? 'In mm, about 10 mm in from the edge. The discard thickness cast on the rotor comes first.'
            : 'In hundredths of a millimetre; the dial’s zero is anywhere. Clean hub and rotor first.' +
              (axle?.runoutLimitMm == null
                ? ' No limit of this model is released; typical ones are 0.05 mm runout, 0.02 mm variation (from memory).'
                : '')}
        </p>
      </div>
      <NumberPad
        marks={list === 'thickness' ? ['.'] : ['−']}
        onKey={(key) =>
          type(
            active,
            key === '−'
              ? values[active]?.startsWith('−')
                ? (values[active] ?? '').slice(1)
                : `−${values[active] ?? ''}`
              : (values[active] ?? '') + key,
          )
        }
        onErase={() => type(active, (values[active] ?? '').slice(0, -1))}
        onNext={goOn}
        next={active + 1 < count ? `${CLOCK[count][active + 1] ?? ''} o’clock` : 'Back to the pads'}
      />
    </div>
  );
}

/** What the disc's drawing shows of the figures so far, and how the rotor sits best on its hub. */
function measured(rotor: DraftRotor | undefined, axle: BayVehicle['axles'][number] | undefined) {
  const shown = {
    thicknessMm: (rotor?.thickness ?? []).map((typed) => {
      const mm = figureOf(typed) ?? NaN;
      return mm > 0 ? mm : undefined;
    }),
    runoutMm: rotor ? dialOf(rotor.runout, rotor.points).map((um) => um / 1000) : [],
    discardMm: axle?.rotorDiscardMm ?? undefined,
    limits: { runoutMm: axle?.runoutLimitMm ?? null, variationMm: axle?.variationLimitMm ?? null },
  };
  const hubMm = rotor ? dialOf(rotor.hub, rotor.points).map((um) => um / 1000) : [];
  const studs = Number(rotor?.studs ?? '5');
  const [best] =
    shown.runoutMm.length > 0 && hubMm.length > 0 && studs >= 3 ? indexRotor(shown.runoutMm, hubMm, studs) : [];
  return { shown, best };
}

interface ListProps {
  list: ListName;
  rotor: DraftRotor | undefined;
  onList: (list: ListName) => void;
  onSet: (change: Partial<Omit<DraftRotor, 'id'>>) => void;
}

/** What is measured now; of a dial, at how many points, and the studs. */
function ListChoice({ list, rotor, onList, onSet }: ListProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      {LISTS.map(({ list: name, name: label }) => (
        <button
          key={name}
          type="button"
          aria-pressed={list === name}
          onClick={() => onList(name)}
          className="min-h-12 rounded border border-line bg-raised px-4 aria-pressed:bg-ink aria-pressed:text-sheet"
        >
          {label}
        </button>
      ))}
      {list !== 'thickness' && (
        <>
          <button
            type="button"
            onClick={() =>
              onSet({
                points: rotor?.points === 12 ? 8 : 12,
                runout: [...(rotor?.runout ?? []), '', '', '', ''].slice(0, 12),
                hub: [...(rotor?.hub ?? []), '', '', '', ''].slice(0, 12),
              })
            }
            className="min-h-12 rounded border border-line bg-raised px-3"
          >
            {rotor?.points === 12 ? 'At 8 points' : 'At 12 points'}
          </button>
          <div className="flex items-center gap-2">
            <span aria-hidden className="text-soft">
              Studs
            </span>
            <Choose
              label="Studs"
              hideLabel
              large
              value={rotor?.studs ?? '5'}
              onChange={(event) => onSet({ studs: event.target.value })}
            >
              {[4, 5, 6, 8, 10].map((n) => (
                <option key={n}>{n}</option>
              ))}
            </Choose>
          </div>
        </>
      )}
    </div>
  );
}

interface PointsProps {
  list: ListName;
  values: readonly string[];
  active: number;
  inputs: RefObject<Map<number, HTMLInputElement>>;
  onActive: (at: number) => void;
  onType: (at: number, typed: string) => void;
  onNext: () => void;
}

/** A field for each point of the circle, named by the clock. */
function Points({ list, values, active, inputs, onActive, onType, onNext }: PointsProps) {
  const clock = CLOCK[values.length === 12 ? 12 : 8];
  return (
    <div className="grid grow grid-cols-4 gap-2">
      {values.map((value, i) => (
        <label key={clock[i]} className="flex flex-col">
          <span className="text-[13px] text-soft">{clock[i]} o’clock</span>
          <input
            ref={(node) => {
              if (node) inputs.current.set(i, node);
            }}
            aria-label={`${LISTS.find((one) => one.list === list)?.name ?? ''} at ${clock[i] ?? ''} o’clock, ${list === 'thickness' ? 'mm' : '0.01 mm'}`}
            inputMode="none"
            autoComplete="off"
            value={value}
            onFocus={() => onActive(i)}
            onChange={(event) => onType(i, event.target.value)}
            onKeyDown={(event) => event.key === 'Enter' && onNext()}
            className={`figures min-h-13 w-full min-w-16 rounded border-2 bg-raised px-2 text-2xl ${active === i ? 'border-ink' : 'border-line'}`}
          />
        </label>
      ))}
    </div>
  );
}
