import { type FindingItem, FINDINGS } from '@mile-mark/contract/inspections';
import { actionInWords } from '@mile-mark/contract/words';
import { DEGREES, findingOf, passes, placesOf } from '@mile-mark/core';
import type { Draft, DraftFinding } from '../../../stores/device.ts';
import { Field } from '../../../ui/Field.tsx';
import { type Action, findingsAt, type Wheel } from './draft.ts';

/** What is looked at with the wheel off; what needs the caliper released is tested on the service card. */
const LOOKED_AT = [
  'wheel',
  'pins',
  'boots',
  'leak',
  'lining',
  'rotor',
  'hub',
] as const satisfies readonly FindingItem[];
const NAMES: Record<(typeof LOOKED_AT)[number], string> = {
  wheel: 'Wheel',
  pins: 'Slide pins',
  boots: 'Boots',
  leak: 'Leak',
  lining: 'Lining',
  rotor: 'Rotor surface',
  hub: 'Hub',
};

/** What a state means for the vehicle, where it may not simply go on (common practice, no source). */
function caution(item: FindingItem, state: string): string | undefined {
  const found = findingOf(item, state);
  const asks = (found?.actions ?? []).map((action) => actionInWords({ action, sides: 'both' })).join(', ');
  if (found?.severity === 'do not drive')
    return `Do not drive; everybody is told as soon as this is sent. It asks for: ${asks}.`;
  return found?.severity === 'before next use' ? `To be mended before its next use: ${asks}.` : undefined;
}

interface Props {
  draft: Draft;
  wheel: Wheel;
  act: (action: Action) => void;
}

/** What is found at a wheel besides thickness: one touch each; what is not touched was not looked at. */
export function FoundPart({ draft, wheel, act }: Props) {
  return (
    <div className="flex flex-col gap-3">
      {LOOKED_AT.map((item) => {
        const found = findingsAt(draft, wheel, item);
        return (
          <div key={item} role="group" aria-label={NAMES[item]} className="flex flex-wrap items-center gap-2">
            <span className="w-28 text-[15px] font-medium">{NAMES[item]}</span>
            {FINDINGS[item].map((state) => (
              <Chip
                key={state}
                pressed={found.some((one) => one.state === state)}
                onClick={() => act({ kind: 'finding', wheel, item, state })}
              >
                {state}
              </Chip>
            ))}
            {found
              .filter((one) => !passes(item, one.state))
              .map((one) => (
                <Detail key={one.id} finding={one} act={act} />
              ))}
          </div>
        );
      })}
      <p className="text-soft">
        Touch again to take it back; of what is wrong, several may hold. What is not touched counts as not looked at.
      </p>
    </div>
  );
}

/** Which of several, how far, and what else there is to say: all of it may be left out. */
function Detail({ finding, act }: { finding: DraftFinding; act: (action: Action) => void }) {
  const { id, item, state, places = [], degree, note = '' } = finding;
  const set = (change: Partial<DraftFinding>) => act({ kind: 'finding detail', id, set: change });
  const told = caution(item, state);
  return (
    <div
      role="group"
      aria-label={`${item} ${state}: more`}
      className="flex basis-full flex-wrap items-center gap-2 border-l-4 border-line py-1 pl-2 sm:ml-28"
    >
      {told && <p className="basis-full font-medium text-brick">{told}</p>}
      <span className="min-w-24 text-soft">{state}</span>
      {placesOf(item).map((place) => (
        <Chip
          key={place}
          small
          pressed={places.includes(place)}
          onClick={() =>
            set({ places: places.includes(place) ? places.filter((one) => one !== place) : [...places, place] })
          }
        >
          {place}
        </Chip>
      ))}
      <span role="group" aria-label="How far" className="flex gap-2 sm:border-l-2 sm:border-line sm:pl-2">
        {DEGREES.map((one) => (
          <Chip
            key={one}
            small
            pressed={degree === one}
            onClick={() => act({ kind: 'finding detail', id, set: { degree: degree === one ? undefined : one } })}
          >
            {one}
          </Chip>
        ))}
      </span>
      <span className="min-w-48 grow">
        <Field
          label={`Note on ${item} ${state}`}
          hideLabel
          large
          placeholder="Note"
          maxLength={500}
          value={note}
          onChange={(event) => set({ note: event.target.value })}
        />
      </span>
    </div>
  );
}

function Chip(props: { pressed: boolean; small?: boolean; onClick: () => void; children: string }) {
  const { pressed, small, onClick, children } = props;
  return (
    <button
      type="button"
      aria-pressed={pressed}
      onClick={onClick}
      className={`rounded border border-line bg-raised px-4 text-[15px] aria-pressed:bg-ink aria-pressed:font-semibold aria-pressed:text-sheet ${small ? 'min-h-12' : 'min-h-13 min-w-28'}`}
    >
      {children}
    </button>
  );
}
