import { useId } from 'react';
import type { ImportNeed } from '@mile-mark/contract/imports';

/** A question whose answers are few: each with what it would make of a row of the file. */
export function AskOption({ need, onPick }: { need: ImportNeed; onPick: (value: string) => void }) {
  const id = useId();
  return (
    <div role="group" aria-labelledby={id} className="flex items-start gap-3 max-sm:flex-wrap">
      <p id={id} className="w-72 shrink-0 font-medium">
        {need.message}
      </p>
      <div className="flex flex-wrap gap-3">
        {need.options.map(({ value, label, example }) => (
          <button
            key={value}
            type="button"
            onClick={() => onPick(value)}
            className="min-h-11 rounded-sm border border-line bg-raised px-3 py-1 text-left hover:border-ink"
          >
            <span className="block font-semibold">{label}</span>
            {example && <span className="figures block text-soft">{example}</span>}
          </button>
        ))}
      </div>
    </div>
  );
}
