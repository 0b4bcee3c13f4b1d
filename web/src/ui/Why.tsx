import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

/** A computed figure that can be asked why: a click shows inputs, formula in words, and source. */
export function Why({ children, label, reason }: { children: ReactNode; label: string; reason: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${label}: why?`}
        data-dense
        className="max-w-full cursor-help border-b border-dotted border-soft text-left leading-tight"
      >
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-40 w-80 border-l-4 border-slate bg-raised p-3 text-ink shadow-lg"
        >
          <p className="mb-1 font-semibold">{label}</p>
          <div className="flex flex-col gap-1 text-soft">{reason}</div>
          <Popover.Arrow className="fill-raised" />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
