import { Check } from 'lucide-react';
import { Checkbox } from 'radix-ui';
import { useId, type ReactNode } from 'react';

interface Props {
  checked: boolean;
  onChange: (checked: boolean) => void;
  /** For gloves and tablets. */
  large?: boolean;
  className?: string;
  children: ReactNode;
}

/** Something that is so or not, with its words beside it. */
export function Tick({ checked, onChange, large, className = '', children }: Props) {
  const id = useId();
  return (
    <div className={`flex gap-2 ${large ? 'items-center' : 'items-start'} ${className}`}>
      <Checkbox.Root
        id={id}
        checked={checked}
        onCheckedChange={(next) => onChange(next === true)}
        className={`flex shrink-0 items-center justify-center rounded-sm border border-ink bg-raised data-[state=checked]:bg-ink data-[state=checked]:text-sheet ${large ? 'size-6' : 'mt-0.5 size-4.5'}`}
      >
        <Checkbox.Indicator>
          <Check aria-hidden className={large ? 'size-5' : 'size-3.5'} />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id}>{children}</label>
    </div>
  );
}
