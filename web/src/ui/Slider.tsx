import { Slider as Radix } from 'radix-ui';

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** The value in words, with its unit. */
  told: string;
  onChange: (value: number) => void;
  disabled?: boolean;
}

/** A figure within bounds, moved by finger, mouse or arrows. */
export function Slider({ label, value, min, max, step, told, onChange, disabled = false }: Props) {
  return (
    <div className="flex flex-col gap-1">
      <span className="flex justify-between">
        <span className="text-soft">{label}</span>
        <span className="figures font-semibold">{told}</span>
      </span>
      <Radix.Root
        value={[value]}
        min={min}
        max={max}
        step={step}
        disabled={disabled}
        onValueChange={([next]) => next !== undefined && onChange(next)}
        className="relative flex h-6 touch-none items-center select-none data-[disabled]:opacity-50"
      >
        <Radix.Track className="relative h-1.5 grow rounded-full bg-hair">
          <Radix.Range className="absolute h-full rounded-full bg-slate" />
        </Radix.Track>
        <Radix.Thumb
          aria-label={label}
          aria-valuetext={told}
          className="block size-5 rounded-full border border-line bg-ink"
        />
      </Radix.Root>
    </div>
  );
}
