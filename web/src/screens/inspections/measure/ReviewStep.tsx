import { findingInWords, SEVERITY_WORDS, suspicionInWords } from '@mile-mark/contract/words';
import { findingOf, padsAcross, passes, placeInWords, placeKey, placesAcross, type Side } from '@mile-mark/core';
import { WheelEnd } from '../../../drawings/WheelEnd.tsx';
import type { Draft } from '../../../stores/device.ts';
import { Button } from '../../../ui/Button.tsx';
import type { Wheel } from './draft.ts';
import { type DraftContext, judgeDraft } from './judgeDraft.ts';
import { inspectionOf } from './sent.ts';

interface Props {
  draft: Draft;
  ground: DraftContext;
  wrong: string | undefined;
  onSave: () => void;
  onGo: (wheel: Wheel) => void;
}

/** A look over the whole inspection before it is kept: every wheel end, what is open, what was not measured. */
export function ReviewStep({ draft, ground, wrong, onSave, onGo }: Props) {
  const { vehicle, bay, unit } = ground;
  const states = judgeDraft(draft, ground);
  const body = inspectionOf(draft, ground);
  const shown = (axle: number, side: Side) =>
    Object.fromEntries(
      padsAcross(side).flatMap((pad) => {
        const state = states.get(placeKey({ axle, side, pad }));
        return state && (state.kind === 'fine' || state.kind === 'suspect') ? [[pad, { mm: state.mm }]] : [];
      }),
    );
  const places = placesAcross(vehicle.axles.map(({ axle }) => axle));
  const blank = places.filter((place) => {
    const own = draft.pads[placeKey(place)];
    return !own || (own.typed === '' && !own.unseen);
  });
  const asked = places.flatMap((place) => {
    const state = states.get(placeKey(place));
    return state?.kind === 'suspect'
      ? [{ place, suspicion: state.suspicion, answer: draft.pads[placeKey(place)]?.answer }]
      : [];
  });
  const readings = body.readings.length;
  const others = (body.findings?.length ?? 0) + (body.rotors?.length ?? 0) + draft.photos.length;
  return (
    <div className="flex flex-col gap-4">
      <p className="figures text-lg">
        {draft.odometer || 'no odometer'} {draft.odometer && draft.odometerUnit} ·{' '}
        {bay.gauges.find(({ id }) => id === draft.gaugeId)?.name ?? 'no gauge'} ·{' '}
        {bay.people.find(({ id }) => id === draft.technicianId)?.name ?? 'nobody chosen'}
      </p>
      <div className="flex flex-wrap gap-6">
        {vehicle.axles.map((axle) => (
          <section key={axle.axle} aria-label={`Axle ${axle.axle}`} className="bg-sheet p-3">
            <h2 className="mb-1 font-semibold">Axle {axle.axle}</h2>
            <div className="flex gap-3">
              {(['left', 'right'] as const).map((side) => (
                <button
                  key={side}
                  type="button"
                  onClick={() => onGo({ axle: axle.axle, side })}
                  aria-label={`Axle ${axle.axle}, ${side}: change`}
                >
                  <WheelEnd
                    side={side}
                    pads={shown(axle.axle, side)}
                    newMm={axle.newMm}
                    limitMm={axle.limitMm}
                    unit={unit}
                    scale={axle.newMm > 15 ? 3.2 : 5}
                  />
                </button>
              ))}
            </div>
          </section>
        ))}
      </div>
      {asked.length > 0 && (
        <ul className="flex flex-col gap-1 border-l-4 border-paint pl-3">
          {asked.map(({ place, suspicion, answer }) => (
            <li key={placeKey(place)}>
              <button type="button" className="min-h-12 text-left underline" onClick={() => onGo(place)}>
                {placeInWords(place)}
              </button>
              : {suspicionInWords(suspicion, unit)}{' '}
              <span className="text-soft">
                {answer === 'measured_twice'
                  ? 'Measured twice.'
                  : answer
                    ? 'Left to the coordinator.'
                    : 'Not answered yet.'}
              </span>
            </li>
          ))}
        </ul>
      )}
      <FoundList draft={draft} onGo={onGo} />
      {blank.length > 0 && (
        <p className="text-soft">
          Not measured: {blank.length === places.length ? 'no pad yet' : blank.map(placeInWords).join('; ')}.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-4">
        <Button look="next" large disabled={wrong !== undefined} onClick={onSave}>
          Save {readings} {readings === 1 ? 'reading' : 'readings'}
          {others > 0 ? ` and ${others} more` : ''}
        </Button>
        <span role="status">{wrong}</span>
      </div>
    </div>
  );
}

/** Everything that was found wrong, with what it means, before it is saved. */
function FoundList({ draft, onGo }: Pick<Props, 'draft' | 'onGo'>) {
  const wrongFound = draft.findings.filter(({ item, state }) => !passes(item, state));
  if (wrongFound.length === 0) return null;
  return (
    <ul aria-label="Found" className="flex flex-col gap-1 border-l-4 border-brick pl-3">
      {wrongFound.map((one) => (
        <li key={one.id}>
          <button type="button" className="min-h-12 text-left underline" onClick={() => onGo(one)}>
            Axle {one.axle}, {one.side}
          </button>
          : {findingInWords(one)}.{' '}
          <strong>{SEVERITY_WORDS[findingOf(one.item, one.state)?.severity ?? 'note']}.</strong>
        </li>
      ))}
    </ul>
  );
}
