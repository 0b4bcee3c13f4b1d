import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import type { DraftPreview, ImportRow, Outcome, RowChoice, RowsShown } from '@mile-mark/contract/imports';
import { useDraftRows } from '../../api/imports.ts';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { RowEditor } from './RowEditor.tsx';

interface Props {
  id: string;
  preview: DraftPreview;
  shown: RowsShown;
  onChoice: (line: number, choice: RowChoice) => Promise<unknown>;
  onEdit: (line: number, cells: string[]) => void;
}

const OUTCOME_WORDS: Record<Outcome, string> = {
  accepted: 'accepted',
  questioned: 'questioned',
  refused: 'refused',
  already: 'already in',
};
/** The rows of a file, those that need a look first; only what is seen is drawn. */
export function Rows({ id, preview, shown, onChoice, onEdit }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { data, hasNextPage, isFetching, fetchNextPage } = useDraftRows({ ...preview, id }, shown);
  const rows = data?.pages.flatMap((page) => page.rows) ?? [];
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (rows[index]?.reasons.length ? 96 : 46),
    getItemKey: (index) => rows[index]?.line ?? index,
    overscan: 8,
  });
  const last = virtual.getVirtualItems().at(-1)?.index ?? 0;
  useEffect(() => {
    // The next page is asked for before the end of this one comes into sight.
    if (hasNextPage && !isFetching && last > rows.length - 40) void fetchNextPage();
  }, [hasNextPage, isFetching, last, rows.length, fetchNextPage]);
  return (
    <div
      ref={scroller}
      className="min-h-0 flex-1 overflow-auto bg-raised max-sm:min-h-[70vh]"
      tabIndex={0}
      aria-label="Rows of the file"
    >
      <Headings header={preview.header} />
      <div
        role="table"
        aria-label="Rows"
        style={{ height: virtual.getTotalSize(), minWidth: widthOf(preview.header) }}
        className="relative"
      >
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          return (
            <div
              key={item.key}
              ref={virtual.measureElement}
              data-index={item.index}
              role="row"
              style={{ transform: `translateY(${item.start}px)` }}
              className="absolute inset-x-0 border-b border-hair px-4 py-1"
            >
              <Row
                row={row}
                header={preview.header}
                edited={preview.mended.includes(row.line)}
                onChoice={(choice) => onChoice(row.line, choice)}
                onEdit={(cells) => onEdit(row.line, cells)}
              />
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** A column's least width, and what stands before the columns, in rem. */
const COLUMN = 6.5;
const BEFORE = 12;
const widthOf = (header: readonly string[]) => `${BEFORE + COLUMN * header.length}rem`;
const gridOf = (columns: number) => ({ gridTemplateColumns: `repeat(${columns}, minmax(${COLUMN}rem, 1fr))` });

/** The columns' names, above the rows whatever is scrolled. */
function Headings({ header }: { header: string[] }) {
  return (
    <div
      aria-hidden
      style={{ minWidth: widthOf(header) }}
      className="sticky top-0 z-10 flex gap-3 border-b border-line bg-sheet px-4 py-1 font-semibold"
    >
      <span className="w-14 shrink-0">line</span>
      <span className="w-24 shrink-0" />
      <span className="grid min-w-0 flex-1 gap-x-2" style={gridOf(header.length)}>
        {header.map((name, index) => (
          <span key={index} className="truncate" title={name}>
            {name}
          </span>
        ))}
      </span>
    </div>
  );
}

/** A row's cells as typed, and under each what it was understood as, where that says more. */
function Cells({ row: { cells, understood } }: { row: ImportRow }) {
  return (
    <div className="grid gap-x-2" style={gridOf(cells.length)}>
      {cells.map((cell, index) => (
        <span key={index} className="min-w-0">
          <span className="figures block truncate">{cell}</span>
          {understood[index] && understood[index] !== cell.trim() && (
            <span className="block text-[12px] leading-tight text-soft">{understood[index]}</span>
          )}
        </span>
      ))}
    </div>
  );
}

const CHOICES = [
  { value: 'take', label: 'take as typed' },
  { value: 'leave', label: 'leave out for now' },
] as const;

function Row({
  row,
  header,
  edited,
  onChoice,
  onEdit,
}: {
  row: ImportRow;
  header: string[];
  edited: boolean;
  onChoice: (choice: RowChoice) => Promise<unknown>;
  onEdit: (cells: string[]) => void;
}) {
  // Shown as chosen at once, unless the server refuses.
  const [choice, setChoice] = useState<RowChoice>();
  const choose = (chosen: RowChoice) => {
    setChoice(chosen);
    onChoice(chosen).catch(() => setChoice(undefined));
  };
  const fate =
    row.outcome === 'already'
      ? ''
      : row.outcome === 'refused' && row.taken
        ? 'the rest goes in'
        : row.taken
          ? 'goes in'
          : 'stays out';
  return (
    <div className={`flex gap-3 ${row.reasons.length > 0 ? 'max-sm:flex-col max-sm:gap-1' : ''}`}>
      <span className="figures w-14 shrink-0 text-soft">line {row.line}</span>
      <span
        className={`w-24 shrink-0 ${row.outcome === 'refused' ? 'font-semibold text-brick' : row.outcome === 'questioned' ? 'font-semibold text-ochre' : 'text-soft'}`}
      >
        {OUTCOME_WORDS[row.outcome]}
        {fate && row.reasons.length > 0 && <span className="block text-[12px] font-normal text-soft">{fate}</span>}
      </span>
      <div className="min-w-0 flex-1">
        {row.reasons.length === 0 ? (
          <>
            <Cells row={row} />
            {row.notes.length > 0 && <p className="text-ochre">{row.notes.join(' ')}</p>}
            {edited && <p className="text-soft">mended here</p>}
          </>
        ) : (
          <>
            <div className="sticky left-4 max-w-[calc(100vw-2rem)] sm:max-w-[calc(100vw-28rem)]">
              <RowEditor row={row} header={header} onEdit={onEdit} />
            </div>
            {row.outcome === 'questioned' && row.takeable && (
              <div className="mt-1">
                <SegmentedControl
                  label={`Line ${row.line}`}
                  hideLabel
                  value={choice ?? (row.taken ? 'take' : 'leave')}
                  options={CHOICES}
                  onChange={choose}
                />
              </div>
            )}
          </>
        )}
      </div>
    </div>
  );
}
