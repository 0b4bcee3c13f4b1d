import { type ReactNode, type RefObject, useEffect, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { saveCsv } from './saveCsv.ts';
import { rowsOfTable } from './tableCsv.ts';

interface Props {
  /** What the file is called, with the day of download. */
  name: string;
  className?: string;
  children: ReactNode;
}

/** A table that scrolls by itself where it is too wide, and goes to CSV as it is shown: filtered, in the reader's units. */
export function DataTable({ name, className, children }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const { pathname } = useLocation();
  const [frame, scrolls] = useScrolls();
  const save = async () => {
    if (!table.current) return;
    const of = pathname.split('/')[1] === 'vehicles' ? `-${pathname.split('/')[2] ?? ''}` : '';
    await saveCsv(`${name}${of}`, rowsOfTable(table.current));
  };
  return (
    <div className="max-w-full">
      <div
        ref={frame}
        {...(scrolls ? { tabIndex: 0, role: 'group', 'aria-label': `Table: ${name}` } : {})}
        className="max-w-full overflow-x-auto print:overflow-visible"
      >
        <table ref={table} className={className}>
          {children}
        </table>
      </div>
      <button
        type="button"
        data-dense
        onClick={() => void save()}
        aria-label={`CSV of this table: ${name}`}
        className="mt-0.5 block px-1 py-0.5 text-[12px] text-soft underline decoration-line underline-offset-2 hover:text-ink touch:py-3 print:hidden"
      >
        CSV
      </button>
    </div>
  );
}

/** Whether what is in a frame is wider than it: then it scrolls, by keyboard too. */
function useScrolls(): [RefObject<HTMLDivElement | null>, boolean] {
  const frame = useRef<HTMLDivElement>(null);
  const [scrolls, setScrolls] = useState(false);
  useEffect(() => {
    const own = frame.current;
    if (!own) return undefined;
    const watch = new ResizeObserver(() => setScrolls(own.scrollWidth > own.clientWidth + 1));
    watch.observe(own);
    if (own.firstElementChild) watch.observe(own.firstElementChild);
    return () => watch.disconnect();
  }, []);
  return [frame, scrolls];
}
