import { useEffect, useState } from 'react';
import type { NewEntry } from '../../../stores/card.ts';
import { Button } from '../../../ui/Button.tsx';
import type { StepProps } from './StepPanel.tsx';

type Props = StepProps & { sign: (...entries: NewEntry[]) => Promise<void> };

/** Bedding in: counts the stops, and the driving between them. */
export function CountInput({ step, card, sign }: Props) {
  const { bedIn } = card;
  const [stops, setStops] = useState(0);
  const [left, setLeft] = useState(0);
  useEffect(() => {
    if (left <= 0) return undefined;
    const timer = window.setTimeout(() => setLeft(left - 1), 1000);
    return () => window.clearTimeout(timer);
  }, [left]);
  const asked = bedIn?.stops ?? 5;
  return (
    <div className="flex flex-col gap-4">
      {bedIn && (
        <p className="text-lg text-soft">
          Each stop from {bedIn.fromMph} mph takes {Math.round(bedIn.stopKj)} kJ; all of them bring{' '}
          {Math.round(bedIn.perKgKj)} kJ to each kg of rotor, which ends at about {Math.round(bedIn.endC)} °C.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-4">
        <Button
          look={stops < asked ? 'next' : 'plain'}
          large
          className="min-h-24 min-w-56 text-2xl"
          onClick={() => {
            setStops(stops + 1);
            setLeft(Math.round(bedIn?.betweenS ?? 60));
          }}
        >
          One stop made
        </Button>
        <p className="figures text-5xl font-semibold">
          {stops} <span className="text-2xl text-soft">of {asked}</span>
        </p>
        <p role="timer" className="figures min-w-40 text-2xl">
          {left > 0 ? `drive ${left} s` : ''}
        </p>
      </div>
      <div className="flex gap-2">
        <Button large disabled={stops === 0} onClick={() => setStops(stops - 1)}>
          One less
        </Button>
        <Button
          look={stops >= asked ? 'next' : 'plain'}
          large
          disabled={stops === 0}
          onClick={() => void sign({ kind: 'count', step: step.id, stops })}
        >
          {stops >= asked ? 'Bedded in' : `Save ${stops} stops`}
        </Button>
      </div>
    </div>
  );
}
