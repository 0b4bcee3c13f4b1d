import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { lazy, Suspense, useId, useState } from 'react';
import { formatDate } from './format.ts';
import { type Frame, Framed, look } from './Field.tsx';
import { DATE_WANTED, readDate } from './readDate.ts';

const Calendar = lazy(async () => ({ default: (await import('./Calendar.tsx')).Calendar }));

interface Props extends Frame {
  /** ISO date; '' while there is none. */
  value: string;
  onChange: (iso: string) => void;
  /** First and last day that is accepted, ISO. */
  min?: string | undefined;
  max?: string | undefined;
}

/** A day, typed or picked; it is shown as every other date is. */
export function DateField({ label, error, hint, large, hideLabel, value, onChange, min, max }: Props) {
  const id = useId();
  const [typed, setTyped] = useState<string>();
  const [open, setOpen] = useState(false);
  const read = typed === undefined ? value : readDate(typed);
  // What can't be read is said when the field is left, not at its first letter.
  const [left, setLeft] = useState(false);
  const wrong = error ?? (left && read === undefined ? DATE_WANTED : undefined);
  return (
    <Framed id={id} label={label} error={wrong} hint={hint} {...(hideLabel ? { hideLabel } : {})}>
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Anchor className="relative">
          <input
            id={id}
            autoComplete="off"
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? `${id}-error` : hint ? `${id}-hint` : undefined}
            className={`${look(wrong, large)} pr-12`}
            placeholder="23 Nov 2026"
            value={typed ?? (value === '' ? '' : formatDate(value))}
            onChange={(event) => {
              setTyped(event.target.value);
              setLeft(false);
              const now = readDate(event.target.value);
              if (now !== undefined) onChange(now);
            }}
            onBlur={() => {
              setLeft(true);
              if (read !== undefined) setTyped(undefined);
            }}
          />
          <Popover.Trigger
            aria-label="Calendar"
            className="absolute inset-y-0 right-0 flex w-11 items-center justify-center text-soft hover:text-ink"
          >
            <CalendarDays aria-hidden size={18} />
          </Popover.Trigger>
        </Popover.Anchor>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={4}
            className="z-50 border border-line bg-raised p-2 text-ink shadow-lg"
            aria-label={label}
          >
            <Suspense fallback={<p className="p-4 text-soft">…</p>}>
              <Calendar
                value={value}
                min={min}
                max={max}
                onPick={(iso) => {
                  onChange(iso);
                  setTyped(undefined);
                  setOpen(false);
                }}
              />
            </Suspense>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </Framed>
  );
}
