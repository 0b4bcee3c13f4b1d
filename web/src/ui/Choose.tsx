import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';
import { Children, isValidElement, useId, useState, type ReactElement, type ReactNode } from 'react';
import { Framed, look, type Frame } from './Field.tsx';

/** What a chooser tells when another option is chosen. */
interface Chosen {
  target: { value: string };
}

interface Props extends Frame {
  value: string | number;
  onChange: (chosen: Chosen) => void;
  'aria-label'?: string;
  disabled?: boolean;
  className?: string;
  /** Options, as `option` elements: text, and a value where it differs. */
  children: ReactNode;
}

/** Stands for the blank value, which the list itself keeps for "nothing chosen". */
const BLANK = '·blank·';
const inward = (value: string) => (value === '' ? BLANK : value);
const outward = (value: string) => (value === BLANK ? '' : value);

type Option = ReactElement<{ value?: string | number; children?: ReactNode; disabled?: boolean }>;

/** The text of an option: its children without what is no text. */
const textOf = (children: ReactNode): string =>
  Children.toArray(children)
    .filter((child) => typeof child === 'string' || typeof child === 'number')
    .join('');

/** A list to choose one from, by mouse, finger, arrows or first letters. */
export function Choose({ label, error, hint, large, hideLabel, value, onChange, children, ...rest }: Props) {
  const id = useId();
  const [theme, setTheme] = useState<Element | null>(null);
  const options = Children.toArray(children).filter((child): child is Option => isValidElement(child));
  return (
    <Framed id={id} label={label} error={error} hint={hint} {...(hideLabel ? { hideLabel } : {})}>
      <Select.Root
        value={inward(String(value))}
        onValueChange={(next) => onChange({ target: { value: outward(next) } })}
        {...(rest.disabled ? { disabled: true } : {})}
      >
        <Select.Trigger
          id={id}
          // The list opens outside of the page's tree: in the bay it must be dark like the rest.
          ref={(node) => setTheme(node?.closest('[data-theme]') ?? null)}
          aria-invalid={error ? true : undefined}
          aria-describedby={error ? `${id}-error` : undefined}
          aria-label={rest['aria-label']}
          className={`flex items-center justify-between gap-2 text-left ${look(error, large)} ${rest.className ?? ''}`}
        >
          <span className="truncate">
            <Select.Value />
          </span>
          <Select.Icon asChild>
            <ChevronDown aria-hidden className="size-4 shrink-0" />
          </Select.Icon>
        </Select.Trigger>
        <Select.Portal container={theme}>
          <Select.Content
            position="popper"
            sideOffset={2}
            collisionPadding={8}
            className="z-50 max-h-[min(60vh,var(--radix-select-content-available-height))] min-w-(--radix-select-trigger-width) overflow-hidden border border-ink bg-raised text-ink shadow-lg"
          >
            <Select.Viewport>
              {options.map(({ key, props }) => (
                <Select.Item
                  key={key}
                  value={inward(String(props.value ?? textOf(props.children)))}
                  {...(props.disabled ? { disabled: true } : {})}
                  className={`flex cursor-default items-center gap-2 px-2 outline-none select-none data-[highlighted]:bg-ink data-[highlighted]:text-sheet ${large ? 'min-h-12 text-lg' : 'min-h-8'}`}
                >
                  <span className="w-4 shrink-0">
                    <Select.ItemIndicator>
                      <Check aria-hidden className="size-4" />
                    </Select.ItemIndicator>
                  </span>
                  <Select.ItemText>{props.children}</Select.ItemText>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </Framed>
  );
}
