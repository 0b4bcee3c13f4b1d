import { useEffect, useRef, useState } from 'react';
import { limitInWords, thicknessInWords } from '@mile-mark/contract/words';
import { type Pad, padsAcross, placeKey } from '@mile-mark/core';
import { WheelEnd } from '../../../drawings/WheelEnd.tsx';
import type { Draft } from '../../../stores/device.ts';
import { Tabs } from '../../../ui/Tabs.tsx';
import { DiscPart } from './DiscPart.tsx';
import { FoundPart } from './FoundPart.tsx';
import { NumberPad } from '../../../ui/NumberPad.tsx';
import { useSettled } from '../../../ui/useSettled.ts';
import { OnePad } from './OnePad.tsx';
import { PhotoPart } from './PhotoPart.tsx';
import { type Action, findingsAt, type Wheel } from './draft.ts';
import { type DraftContext, judgeDraft } from './judgeDraft.ts';
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
    Pads: padsAcross(wheel.side).filter((pad) => draft.pads[placeKey({ ...wheel, pad })]).length,
    Rotor: draft.rotors[key] ? 1 : 0,
    Found: findingsAt(draft, wheel).length,
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
  const pads = padsAcross(wheel.side);
  const [first, second] = pads;
  const [active, setActive] = useState<Pad>(first);
  const inputs = useRef(new Map<Pad, HTMLInputElement>());
  const states = judgeDraft(draft, ground);
  const axle = ground.vehicle.axles.find((one) => one.axle === wheel.axle);
  useEffect(() => {
    inputs.current.get(first)?.focus();
  }, [wheel.axle, wheel.side, first]);
  const typedOf = (pad: Pad) => draft.pads[placeKey({ ...wheel, pad })]?.typed ?? '';
  const { settled, finish } = useSettled(typedOf(active), active);
  if (!axle) return null;
  const judged = (pad: Pad): FieldState => states.get(placeKey({ ...wheel, pad })) ?? { kind: 'empty' };
  // A figure is judged when it is finished, not at its first digit.
  const stateOf = (pad: Pad): FieldState => (pad === active && !settled ? { kind: 'empty' } : judged(pad));
  const type = (typed: string) => act({ kind: 'type', place: { ...wheel, pad: active }, typed });
  const goOn = () => {
    const { kind } = judged(active);
    const asks = kind === 'wrong' || (kind === 'suspect' && !draft.pads[placeKey({ ...wheel, pad: active })]?.answer);
    if (!settled && asks) return finish();
    if (active === first) inputs.current.get(second)?.focus();
    else onNext();
  };
  const shown = Object.fromEntries(
    pads.flatMap((pad) => {
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
          {pads.map((pad) => (
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
        next={active === first ? `${second === 'inner' ? 'Inner' : 'Outer'} pad` : next}
      />
    </div>
  );
}
