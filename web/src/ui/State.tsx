import type { ReactNode } from 'react';

/** A screen, or a part of one, that has nothing to show: says why and what to do next. */
export function State({
  title,
  what,
  quiet,
  page,
  children,
}: {
  title: string;
  what: string;
  quiet?: boolean;
  /** It is the whole page, and its title the page’s. */
  page?: boolean;
  children?: ReactNode;
}) {
  return (
    <div
      role="status"
      className={`flex h-full flex-col items-center justify-center gap-2 p-8 text-center ${quiet ? 'text-soft' : ''}`}
    >
      {page ? <h1 className="text-lg font-semibold">{title}</h1> : <h2 className="text-lg font-semibold">{title}</h2>}
      <p className="max-w-md text-soft">{what}</p>
      {children}
    </div>
  );
}
