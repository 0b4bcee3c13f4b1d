import { ToggleGroup } from 'radix-ui';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly T[] | readonly { value: T; label: string }[];
  onChange: (value: T) => void;
  hideLabel?: boolean;
}

/** A few options side by side, one chosen. */
export function SegmentedControl<T extends string>({ label, value, options, onChange, hideLabel }: Props<T>) {
  const items = options.map((option) => (typeof option === 'string' ? { value: option, label: option } : option));
  return (
    <div className="flex shrink-0 items-center gap-1.5 max-sm:shrink max-sm:flex-wrap">
      {!hideLabel && <span className="text-soft">{label}</span>}
      <ToggleGroup.Root
        type="single"
        aria-label={label}
        value={value}
        onValueChange={(next) => next && onChange(next as T)}
        className="flex max-sm:flex-wrap"
      >
        {items.map((item) => (
          <ToggleGroup.Item
            key={item.value}
            value={item.value}
            className="-ml-px min-h-8 border whitespace-nowrap border-line bg-raised px-2 first:ml-0 hover:border-ink data-[state=on]:bg-ink data-[state=on]:text-sheet"
          >
            {item.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </div>
  );
}
