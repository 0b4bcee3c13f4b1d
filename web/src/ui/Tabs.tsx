import { Tabs as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

interface Tab<T extends string> {
  value: T;
  label: ReactNode;
  content: ReactNode;
}

interface Props<T extends string> {
  label: string;
  value: T;
  tabs: readonly Tab<T>[];
  onChange: (value: T) => void;
  /** Stands in one row with the tabs. */
  heading: ReactNode;
}

/** Parts of one thing, one at a time, large enough for gloves. */
export function Tabs<T extends string>({ label, value, tabs, onChange, heading }: Props<T>) {
  return (
    <Radix.Root value={value} onValueChange={(next) => onChange(next as T)} className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {heading}
        <Radix.List aria-label={label} className="ml-auto flex">
          {tabs.map((tab) => (
            <Radix.Trigger
              key={tab.value}
              value={tab.value}
              className="-ml-px min-h-12 border border-line bg-raised px-3 text-[15px] data-[state=active]:bg-ink data-[state=active]:text-sheet sm:px-4"
            >
              {tab.label}
            </Radix.Trigger>
          ))}
        </Radix.List>
      </div>
      {tabs.map((tab) => (
        <Radix.Content key={tab.value} value={tab.value} tabIndex={-1}>
          {tab.content}
        </Radix.Content>
      ))}
    </Radix.Root>
  );
}
