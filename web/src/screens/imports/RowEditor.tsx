import { type ReactNode, useState } from 'react';
import type { ImportRow } from '@mile-mark/contract/imports';

/** A row's cells to be mended in place, with each reason said under them and what would mend it one click away. */
export function RowEditor({
  row,
  header,
  onEdit,
  children,
}: {
  row: ImportRow;
  header: string[];
  onEdit: (cells: string[]) => void;
  children?: ReactNode;
}) {
  const [cells, setCells] = useState(row.cells);
  const changed = cells.some((cell, index) => cell !== row.cells[index]);
  const change = (index: number, value: string) => setCells(cells.map((cell, at) => (at === index ? value : cell)));
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onEdit(cells);
      }}
    >
      <div className="flex flex-wrap items-end gap-1">
        {header.map((name, index) => {
          const blamed = row.reasons.some(({ column, alsoColumns }) => column === index || alsoColumns.includes(index));
          return (
            <label key={index} className="flex flex-col text-[11px] text-soft">
              {name}
              <input
                value={cells[index] ?? ''}
                onChange={(event) => change(index, event.target.value)}
                aria-label={`${name}, line ${row.line}`}
                aria-invalid={blamed ? true : undefined}
                size={Math.min(26, Math.max(5, (cells[index] ?? '').length))}
                className={`figures rounded-sm border bg-raised px-1 py-0.5 text-[14px] text-ink ${blamed ? 'border-2 border-brick' : 'border-line'}`}
              />
            </label>
          );
        })}
        {changed && (
          <button
            type="submit"
            className="rounded-sm border border-[#c99700] bg-paint px-2 py-1 text-[13px] font-semibold text-[#26282a]"
          >
            Mend
          </button>
        )}
        {children}
      </div>
      <ul>
        {row.reasons.map(({ column, alsoColumns, message, suggestion, outcome }, index) => (
          <li key={index} className={outcome === 'refused' ? 'text-brick' : 'text-ink'}>
            {column !== null && alsoColumns.length === 0 && <span className="font-medium">{header[column]}: </span>}
            {message}
            {suggestion !== null && column !== null && (
              <button
                type="button"
                className="ml-2 underline"
                onClick={() => onEdit(cells.map((cell, at) => (at === column ? suggestion : cell)))}
              >
                Use {suggestion}
              </button>
            )}
          </li>
        ))}
        {row.withoutPlate.length > 0 && (
          <li>
            <button type="button" className="underline" onClick={() => onEdit(without(cells, row.withoutPlate))}>
              Without the plate: {row.withoutPlate.map(({ cell }) => cell).join(', ')}
            </button>
          </li>
        )}
        {row.notes.map((note) => (
          <li key={note} className="text-soft">
            {note}
          </li>
        ))}
      </ul>
    </form>
  );
}

/** The cells with those that include the backing plate as they are without it. */
function without(cells: readonly string[], instead: ImportRow['withoutPlate']): string[] {
  return cells.map((cell, at) => instead.find(({ column }) => column === at)?.cell ?? cell);
}
