import type { ImportNeed } from '@mile-mark/contract/imports';
import { Choose } from '../../ui/Choose.tsx';

/** Above so many answers they are a list to choose from. */
const MOST_BUTTONS = 4;

/** A question whose answers are few: each with what it would make of a row of the file. */
export function AskOption({ need, onPick }: { need: ImportNeed; onPick: (value: string) => void }) {
  if (need.options.length > MOST_BUTTONS)
    return (
      <div className="flex flex-wrap items-end gap-3">
        <p className="w-72 font-medium">{need.message}</p>
        <Choose
          label={need.name ? `“${need.name}” is` : 'It is'}
          value=""
          onChange={(event) => event.target.value && onPick(event.target.value)}
        >
          <option value="">Choose …</option>
          {need.options.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </Choose>
      </div>
    );
  return (
    <fieldset className="flex flex-wrap items-start gap-3">
      <legend className="float-left w-72 font-medium">{need.message}</legend>
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
    </fieldset>
  );
}
