import { type FindingItem, FINDINGS } from '@mile-mark/contract/inspections';
import type { Draft } from '../../../stores/device.ts';
import type { Action, Wheel } from './draft.ts';

const NAMES: Record<FindingItem, string> = {
  pins: 'Slide pins',
  boots: 'Boots',
  leak: 'Leak',
  lining: 'Lining',
  rotor: 'Rotor surface',
};

/** Where a finding means that the vehicle must not simply drive on (common practice, no source). */
const CAUTION: Record<string, string> = {
  torn: 'Not to be driven far with a torn boot: clean, regrease and fit a new one, or renew the bracket.',
  leaking: 'Park the vehicle until the leak is found.',
  'edge lifting': 'Replace at once, and report the part’s brand and lot.',
  cracked: 'Replace; do not drive on.',
};

/** What is found at a wheel besides thickness: one touch each; what is not touched was not looked at. */
export function FoundPart({ draft, wheel, act }: { draft: Draft; wheel: Wheel; act: (action: Action) => void }) {
  return (
    <div className="flex flex-col gap-3">
      {(Object.keys(FINDINGS) as FindingItem[]).map((item) => {
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
            {state && CAUTION[state] && (
              <p className="basis-full border-l-4 border-brick pl-2 font-medium">{CAUTION[state]}</p>
            )}
          </div>
        );
      })}
      <p className="text-soft">Touch again to take it back. What is not touched counts as not looked at.</p>
    </div>
  );
}
