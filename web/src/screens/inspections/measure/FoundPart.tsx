import { type FindingItem, FINDINGS } from '@mile-mark/contract/inspections';
import { actionInWords } from '@mile-mark/contract/words';
import { findingOf } from '@mile-mark/core';
import type { Draft } from '../../../stores/device.ts';
import type { Action, Wheel } from './draft.ts';

/** What is looked at with the wheel off; what needs the caliper released is tested on the service card. */
const LOOKED_AT = ['pins', 'boots', 'leak', 'lining', 'rotor', 'hub'] as const satisfies readonly FindingItem[];
const NAMES: Record<(typeof LOOKED_AT)[number], string> = {
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

/** What is found at a wheel besides thickness: one touch each; what is not touched was not looked at. */
export function FoundPart({ draft, wheel, act }: { draft: Draft; wheel: Wheel; act: (action: Action) => void }) {
  return (
    <div className="flex flex-col gap-3">
      {LOOKED_AT.map((item) => {
        const state = draft.findings[`${wheel.axle}-${wheel.side}-${item}`]?.state;
        return (
          <div key={item} role="group" aria-label={NAMES[item]} className="flex flex-wrap items-center gap-2">
            <span className="w-28 text-[15px] font-medium">{NAMES[item]}</span>
            {FINDINGS[item].map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={state === one}
                onClick={() => act({ kind: 'finding', wheel, item, state: state === one ? undefined : one })}
                className="min-h-13 min-w-28 rounded border border-line bg-raised px-4 text-[15px] aria-pressed:bg-ink aria-pressed:font-semibold aria-pressed:text-sheet"
              >
                {one}
              </button>
            ))}
            {state && caution(item, state) && (
              <p className="basis-full border-l-4 border-brick pl-2 font-medium">{caution(item, state)}</p>
            )}
          </div>
        );
      })}
      <p className="text-soft">Touch again to take it back. What is not touched counts as not looked at.</p>
    </div>
  );
}
