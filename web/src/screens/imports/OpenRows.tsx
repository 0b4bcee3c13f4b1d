import { useState } from 'react';
import { toast } from 'sonner';
import type { ImportRow } from '@mile-mark/contract/imports';
import { useImportDetail, useMendRow } from '../../api/imports.ts';
import { pathOf } from '../../api/request.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { mayDo } from '@mile-mark/contract';
import { useMe } from '../../api/people.ts';
import { formatDate, withinADay } from '../../ui/format.ts';
import { RowEditor } from './RowEditor.tsx';
import { TakeBackImport } from './TakeBackImport.tsx';

/** The rows of an import that did not go in: mend and take each, dismiss it, or download them all. */
export function OpenRows({ id }: { id: string }) {
  const detail = useImportDetail(id);
  const me = useMe();
  if (detail.isPending) return <State title="Loading" what="Fetching the rows still open." quiet />;
  if (detail.isLoadingError) return <State title="The import couldn’t load" what={detail.error.message} />;
  const { fileName, header, rows, by, technician, withdrawn, at } = detail.data;
  // Who took it in takes it back within a day; the coordinator any.
  const mayTakeBack = mayDo(me.role, 'correctOthers') || (by === me.name && withinADay(at));
  return (
    <div className="flex h-full flex-col">
      <header className="flex items-center gap-4 border-b border-line px-4 py-2">
        <h1 className="text-lg font-semibold">{fileName}</h1>
        <span className="text-soft">
          taken in by {by}
          {technician && `, measured by ${technician}`}
        </span>
        <span className="ml-auto flex items-center gap-4">
          {rows.length > 0 && (
            <a className="underline" href={pathOf('importRefused', { id })} download>
              Download these rows
            </a>
          )}
          {!withdrawn && mayTakeBack && <TakeBackImport taken={detail.data} />}
        </span>
      </header>
      {withdrawn ? (
        <State
          title="Taken back"
          what={`${withdrawn.by} took it back on ${formatDate(withdrawn.at.slice(0, 10))}: ${withdrawn.reason}. Nothing of it counts.`}
        />
      ) : rows.length === 0 ? (
        <State title="All rows are settled" what="Nothing of this file is open." />
      ) : (
        <ol className="min-h-0 flex-1 overflow-y-auto bg-raised">
          {rows.map((row) => (
            <OpenRow key={row.line} importId={id} row={row} header={header} />
          ))}
        </ol>
      )}
    </div>
  );
}

function OpenRow({ importId, row, header }: { importId: string; row: ImportRow; header: string[] }) {
  const mend = useMendRow(importId);
  const [judged, setJudged] = useState<ImportRow>();
  const take = (cells: string[]) =>
    mend.mutate(
      { line: row.line, action: 'take', cells },
      {
        onSuccess: ({ row: now, done }) => {
          if (done) toast(`Line ${row.line} is in.`);
          else setJudged(now);
        },
      },
    );
  const current = judged ?? row;
  return (
    <li className="flex gap-3 border-b border-hair px-4 py-2">
      <span className="figures w-14 shrink-0 text-soft">line {row.line}</span>
      <div className="flex-1">
        <RowEditor key={JSON.stringify(current.cells)} row={current} header={header} onEdit={take}>
          {row.takeable && <Button onClick={() => take(current.cells)}>Take as typed</Button>}
          <Button
            look="bare"
            className="ml-2"
            disabled={mend.isPending}
            onClick={() =>
              mend.mutate(
                { line: row.line, action: 'dismiss' },
                { onSuccess: () => toast(`Line ${row.line} dismissed; it stays on record.`) },
              )
            }
          >
            Dismiss
          </Button>
        </RowEditor>
        {mend.isError && (
          <p role="alert" className="font-medium text-brick">
            {mend.error.message}
          </p>
        )}
      </div>
    </li>
  );
}
