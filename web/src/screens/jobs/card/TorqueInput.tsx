import { useState } from 'react';
import type { CardTorque } from '@mile-mark/contract/jobs';
import { judgeReached } from '@mile-mark/core';
import { torqueInPieces } from '@mile-mark/contract/specifications';
import { useWrenchInHand } from '../../../stores/wrench.ts';
import type { NewEntry } from '../../../stores/card.ts';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { NumberPad } from '../../../ui/NumberPad.tsx';
import type { StepProps } from './StepPanel.tsx';
import { useFigures } from './useFigure.ts';

type Props = StepProps & { sign: (...entries: NewEntry[]) => Promise<void> };

/** A torque: what is asked for, with which wrench, and what was reached; each place of a joint by itself. */
export function TorqueInput({ step, card, sign }: Props) {
  const [place, setPlace] = useState(0);
  const [reached, setReached] = useState<NewEntry[]>([]);
  const joint = step.torque[place];
  if (step.unreleased || !joint)
    return (
      <p role="alert" className="border-l-4 border-brick pl-3 text-lg">
        <strong>Unknown.</strong> Nobody has released a specification for this joint, so it can’t be signed. Look it up
        in the maker’s document and have it entered and released; nothing is put in its place.
      </p>
    );
  return (
    <OneTorque
      key={place}
      joint={joint}
      tools={card.tools}
      onReached={(value, toolId) => {
        const unit = joint.torque?.unit ?? 'N·m';
        const all = [
          ...reached,
          {
            kind: 'torque' as const,
            step: step.id,
            position: joint.position,
            value,
            unit,
            toolId,
            revision: joint.revision,
          },
        ];
        if (place + 1 < step.torque.length) {
          setReached(all);
          setPlace(place + 1);
        } else void sign(...all);
      }}
    />
  );
}

interface OneProps {
  joint: CardTorque;
  tools: { id: string; name: string; unit: string }[];
  onReached: (value: number, toolId: string) => void;
}

function OneTorque({ joint, tools, onReached }: OneProps) {
  const figures = useFigures<'value'>(['value']);
  const { toolOf, take } = useWrenchInHand();
  const { torque } = joint;
  const likely = tools.find(({ name }) => joint.with.startsWith(name.replace(/ \(.*\)$/, '')));
  const tool = toolOf(joint.joint) ?? likely?.id ?? '';
  const value = figures.valueOf('value');
  const judged = torque && value !== undefined ? judgeReached(value, torque) : undefined;
  const wrong =
    judged && !judged.fits && torque
      ? `${judged.least.toFixed(1)} to ${judged.most.toFixed(1)} ${torque.unit} is accepted; never to less because a wrench ends.`
      : undefined;
  const save = () => {
    if (value === undefined || wrong || !tool) return;
    take(joint.joint, tool);
    onReached(value, tool);
  };
  const pieces = torque ? torqueInPieces(torque) : undefined;
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-[1fr_20rem]">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <p className="figures text-5xl leading-tight font-semibold">
          {pieces?.main ?? 'unknown'}
          {joint.position && <span className="ml-3 text-2xl">{joint.position}</span>}
        </p>
        <p className="text-lg">
          {pieces?.before && <span className="figures">{pieces.before}. </span>}
          {pieces?.range && <span className="figures">{pieces.range}. </span>}
          Socket {joint.socket}
          {joint.count && `, ${joint.count} a wheel end`}; {joint.preparation ?? 'preparation unknown'}.
          {joint.oneTimeUse && <strong> New each time.</strong>}
        </p>
        <p className="text-lg">{joint.with}</p>
        <Choose large label="Wrench in hand" value={tool} onChange={(event) => take(joint.joint, event.target.value)}>
          <option value="">choose the wrench</option>
          {tools.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Choose>
        <Field
          large
          label={`Reached, ${torque?.unit ?? 'N·m'}`}
          inputMode="none"
          value={figures.typedOf('value')}
          onChange={(event) => figures.type('value', event.target.value)}
          error={wrong}
        />
        <p className="text-[13px] text-soft">
          {joint.source}, released revision {joint.revision}.
        </p>
        <button type="submit" className="sr-only" tabIndex={-1}>
          Save
        </button>
      </form>
      <NumberPad marks={['.']} onKey={figures.press} onErase={figures.erase} onNext={save} next="Sign" />
    </div>
  );
}
