import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_text,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, type ReactNode, useMemo, useRef } from 'react';
import { saveCsv } from './saveCsv.ts';
import { usePrinting } from './usePrinting.ts';

export interface Column<Row> {
  id: string;
  head: string;
  /** What is sorted by; rows without it stand last. */
  of: (row: Row) => string | number | undefined;
  /** What a cell of a file says, with its unit in the head. */
  text: (row: Row) => string;
  /** What a cell shows; its text, where left out. */
  cell?: (row: Row) => ReactNode;
  /** Classes of the column's width and place. */
  look?: string;
  /** Whether it holds figures, which stand in columns. */
  figures?: boolean;
}

interface Props<Row> {
  /** What the file is called. */
  name: string;
  rows: readonly Row[];
  columns: readonly Column<Row>[];
  idOf: (row: Row) => string;
  /** The column sorted by; with a minus before it, the other way round. */
  sort: string;
  onSort: (sort: string) => void;
  selected: string | undefined;
  onSelect: (row: Row) => void;
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, text: sortFn_text },
});

const ROW_PX = 34;

/** The rows in the order of a column. */
function useSorted<Row extends object>(
  rows: readonly Row[],
  columns: readonly Column<Row>[],
  by: string,
  falling: boolean,
): Row[] {
  const data = useMemo(() => [...rows], [rows]);
  const defined = useMemo(() => {
    const helper = createColumnHelper<typeof features, Row>();
    return helper.columns(
      columns.map(({ id, head, of }) =>
        helper.accessor((row) => of(row), { id, header: head, sortUndefined: 'last', sortFn: 'alphanumeric' }),
      ),
    );
  }, [columns]);
  const sorting = useMemo(() => [{ id: by, desc: falling }], [by, falling]);
  const table = useTable({ features, columns: defined, data, state: { sorting } });
  return table.getRowModel().rows.map(({ original }) => original);
}

function Cells<Row>({ row, columns }: { row: Row; columns: readonly Column<Row>[] }) {
  return columns.map(({ id, text, cell, look, figures }) => (
    <td key={id} className={`px-2 ${figures ? 'figures' : ''} ${look ?? ''}`}>
      {cell ? cell(row) : text(row)}
    </td>
  ));
}

/** Many rows, sorted by any column, one of them chosen; only those in sight are drawn, the file has all. */
export function SortedTable<Row extends object>(props: Props<Row>) {
  const { name, rows, columns, idOf, sort, onSort, selected, onSelect } = props;
  const by = sort.replace(/^-/, '');
  const falling = sort.startsWith('-');
  const ordered = useSorted(rows, columns, by, falling);
  const scroller = useRef<HTMLDivElement>(null);
  const printing = usePrinting();
  const virtual = useVirtualizer({
    count: ordered.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: printing ? ordered.length : 10,
  });
  const items = virtual.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  const move = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const at = ordered.findIndex((row) => idOf(row) === selected);
    const next = ordered[Math.min(ordered.length - 1, Math.max(0, at < 0 ? 0 : at + step))];
    if (!next) return;
    onSelect(next);
    virtual.scrollToIndex(ordered.indexOf(next), { align: 'auto' });
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div
        ref={scroller}
        tabIndex={0}
        role="group"
        aria-label={`Table: ${name}`}
        onKeyDown={move}
        className="min-h-0 flex-1 overflow-auto print:overflow-visible"
      >
        <table className="w-full bg-sheet text-left" aria-rowcount={ordered.length + 1}>
          <Sorters {...{ columns, by, falling, onSort }} />
          <tbody>
            {before > 0 && <Gap height={before} columns={columns.length} />}
            {items.map(({ index }) => {
              const row = ordered[index];
              if (!row) return null;
              return (
                <tr
                  key={idOf(row)}
                  // A row whose words wrap is as high as they are.
                  ref={virtual.measureElement}
                  data-index={index}
                  aria-rowindex={index + 2}
                  aria-selected={idOf(row) === selected}
                  onClick={() => onSelect(row)}
                  style={{ height: ROW_PX }}
                  className={`cursor-pointer border-b border-hair ${idOf(row) === selected ? 'bg-raised outline-2 -outline-offset-2 outline-ink' : 'hover:bg-raised'}`}
                >
                  <Cells row={row} columns={columns} />
                </tr>
              );
            })}
            {after > 0 && <Gap height={after} columns={columns.length} />}
          </tbody>
        </table>
      </div>
      <button
        type="button"
        data-dense
        onClick={() =>
          void saveCsv(name, [
            columns.map(({ head }) => head),
            ...ordered.map((row) => columns.map(({ text }) => text(row))),
          ])
        }
        aria-label={`CSV of this table: ${name}`}
        className="mt-0.5 min-h-7 min-w-11 shrink-0 self-start px-2 py-0.5 text-left text-[12px] text-soft underline decoration-line underline-offset-2 hover:text-ink touch:py-3 print:hidden"
      >
        CSV
      </button>
    </div>
  );
}

interface SortersProps<Row> {
  columns: readonly Column<Row>[];
  by: string;
  falling: boolean;
  onSort: (sort: string) => void;
}

/** The heads of the columns; a press sorts by one, another the other way round. */
function Sorters<Row>({ columns, by, falling, onSort }: SortersProps<Row>) {
  return (
    <thead className="sticky top-0 z-10 bg-sheet shadow-[0_1px_0_var(--color-line)]">
      <tr>
        {columns.map(({ id, head, look }) => (
          <th
            key={id}
            scope="col"
            aria-sort={by !== id ? 'none' : falling ? 'descending' : 'ascending'}
            className={`px-2 py-1 font-medium text-soft ${look ?? ''}`}
          >
            <button
              type="button"
              data-dense
              className="flex items-center gap-1 hover:text-ink touch:min-h-11"
              onClick={() => onSort(by === id && !falling ? `-${id}` : id)}
            >
              {head}
              <span aria-hidden className={by === id ? '' : 'invisible'}>
                {falling ? '↓' : '↑'}
              </span>
            </button>
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** What of the rows is not drawn takes its room all the same. */
function Gap({ height, columns }: { height: number; columns: number }) {
  return (
    <tr aria-hidden style={{ height }}>
      <td colSpan={columns} />
    </tr>
  );
}
