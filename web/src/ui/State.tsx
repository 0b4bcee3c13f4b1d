import type { ReactNode } from 'react';

/** A screen, or a part of one, that has nothing to show: says why and what to do next. */
export function State({
  title,
  what,
  quiet,
  children,
}: {
  title: string;
  what: string;
  quiet?: boolean;
  children?: ReactNode;
}) {
  return (
    <div
      role="status"
      className={`flex h-full flex-col items-center justify-center gap-2 p-8 text-center ${quiet ? 'text-soft' : ''}`}
    >
      <h2 className="text-lg font-semibold">{title}</h2>
      <p className="max-w-md text-soft">{what}</p>
      {children}
    </div>
  );
}
