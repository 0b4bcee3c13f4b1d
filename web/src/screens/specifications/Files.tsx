import { DataTable } from '../../ui/DataTable.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { mayDo } from '@mile-mark/contract';
import { pathOf } from '../../api/request.ts';
import { useEffect, useState } from 'react';
import type { Me } from '@mile-mark/contract/people';
import type { LibraryImported, LibraryRow } from '@mile-mark/contract/specifications';
import { useImportLibrary } from '../../api/specifications.ts';
import { useHandedOver } from '../../stores/handedOver.ts';
import { Button } from '../../ui/Button.tsx';
import { Heads } from '../../ui/Heads.tsx';

interface Chosen {
  fileName: string;
  format: 'csv' | 'json';
  text: string;
}

/** The library as a file: out for another shop, in with a look at every difference before anything is taken. */
export function Files({ me }: { me: Me }) {
  const look = useImportLibrary();
  const take = useImportLibrary();
  const [file, setFile] = useState<Chosen>();
  const [confirmed, setConfirmed] = useState<number[]>([]);
  const may = mayDo(me.role, 'specify');
  const choose = async (picked: File) => {
    const chosen: Chosen = {
      fileName: picked.name,
      format: picked.name.toLowerCase().endsWith('.json') ? 'json' : 'csv',
      text: await picked.text(),
    };
    setFile(chosen);
    setConfirmed([]);
    take.reset();
    look.mutate({ ...chosen, dryRun: true, confirmed: [] });
  };
  const handed = useHandedOver((store) => store.take);
  useEffect(() => {
    const sent = handed('library');
    if (sent) void choose(sent);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was handed over is taken once, as the page opens
  }, []);
  const shown: LibraryImported | undefined = take.data ?? look.data;
  const ready =
    look.data?.rows.filter(
      ({ outcome, line }) =>
        outcome === 'new' || outcome === 'changed' || (outcome === 'questioned' && confirmed.includes(line)),
    ).length ?? 0;
  return (
    <div className="flex flex-col gap-5">
      <Out />
      {may && (
        <section aria-labelledby="in" className="flex flex-col gap-2">
          <h2 id="in" className="text-lg font-semibold">
            In
          </h2>
          <p className="max-w-prose text-soft">
            Looked at first; nothing is taken until you say so. What is taken waits for a second person here, whoever
            released it elsewhere.
          </p>
          <ChooseFile onFile={(picked) => void choose(picked)} />
          {look.isPending && <p role="status">Looking at {file?.fileName} …</p>}
          {(look.error ?? take.error) && (
            <p role="alert" className="font-medium whitespace-pre-line text-brick">
              {(take.error ?? look.error)?.message}
            </p>
          )}
          {shown && file && (
            <>
              <div className="flex flex-wrap items-center gap-4">
                <p>
                  <strong>{file.fileName}</strong>: {summary(shown.rows)}
                </p>
                {take.data ? (
                  <p role="status" className="font-medium">
                    {take.data.taken} taken; {take.data.taken === 1 ? 'it waits' : 'they wait'} to be released.
                  </p>
                ) : (
                  <Button
                    look="next"
                    disabled={ready === 0 || take.isPending}
                    onClick={() => take.mutate({ ...file, dryRun: false, confirmed })}
                  >
                    Take {ready} in
                  </Button>
                )}
              </div>
              <Rows
                rows={shown.rows}
                confirmed={confirmed}
                onConfirm={
                  take.data
                    ? undefined
                    : (line, yes) => setConfirmed(yes ? [...confirmed, line] : confirmed.filter((one) => one !== line))
                }
              />
            </>
          )}
        </section>
      )}
    </div>
  );
}

function Out() {
  return (
    <section aria-labelledby="out">
      <h2 id="out" className="mb-1 text-lg font-semibold">
        Out
      </h2>
      <p>
        Released specifications as{' '}
        <a className="underline" href={pathOf('libraryCsv')} download>
          CSV
        </a>{' '}
        or{' '}
        <a className="underline" href={pathOf('libraryJson')} download>
          JSON
        </a>
        , to be read by another shop.
      </p>
    </section>
  );
}

function ChooseFile({ onFile }: { onFile: (file: File) => void }) {
  return (
    <label className="w-fit cursor-pointer rounded-sm border border-line bg-raised px-3 py-1.5 focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-ink hover:border-ink">
      Choose a library file, CSV or JSON …
      <input
        type="file"
        className="sr-only"
        accept=".csv,.json,text/csv,application/json"
        onChange={(event) => {
          const picked = event.target.files?.[0];
          if (picked) onFile(picked);
          event.target.value = '';
        }}
      />
    </label>
  );
}

const OUTCOMES: Record<LibraryRow['outcome'], string> = {
  new: 'new',
  changed: 'differs',
  same: 'the same',
  waiting: 'one waits already',
  questioned: 'questioned',
  refused: 'refused',
};

function summary(rows: readonly LibraryRow[]): string {
  return (Object.keys(OUTCOMES) as LibraryRow['outcome'][])
    .map((outcome) => [rows.filter((row) => row.outcome === outcome).length, OUTCOMES[outcome]] as const)
    .filter(([count]) => count > 0)
    .map(([count, text]) => `${count} ${text}`)
    .join(', ');
}

function Rows({
  rows,
  confirmed,
  onConfirm,
}: {
  rows: readonly LibraryRow[];
  confirmed: readonly number[];
  onConfirm: ((line: number, yes: boolean) => void) | undefined;
}) {
  const shown = rows.filter(({ outcome }) => outcome !== 'same').slice(0, 300);
  return (
    <DataTable name="specification-file" className="w-full bg-sheet">
      <Heads names={['Line', 'Specification', 'Outcome', 'Here → in the file']} />
      <tbody>
        {shown.map((row) => (
          <tr key={row.line} className="border-b border-hair align-top">
            <td className="figures px-2 py-1.5">{row.line}</td>
            <td className="px-2 py-1.5">
              {row.model}, axle {row.axle}: {row.joint || 'limits, fluid, bed-in'}
            </td>
            <td
              className={`px-2 py-1.5 font-medium ${row.outcome === 'refused' ? 'text-brick' : row.outcome === 'questioned' ? 'text-ochre' : ''}`}
            >
              {OUTCOMES[row.outcome]}
            </td>
            <td className="px-2 py-1.5">
              {row.problems.map(({ field, message }) => (
                <p key={`${field} ${message}`}>
                  <span className="text-soft">{field.replace(/^values\./, '')}: </span>
                  {message}
                </p>
              ))}
              {row.outcome === 'questioned' && onConfirm && (
                <Tick checked={confirmed.includes(row.line)} onChange={(checked) => onConfirm(row.line, checked)}>
                  The document says so; take it
                </Tick>
              )}
              {row.differences.length > 0 && (
                <p>
                  {row.differences.map(({ field, from, to }, index) => (
                    <span key={field}>
                      {index > 0 && '; '}
                      <span className="text-soft">{field} </span>
                      {row.outcome !== 'new' && from !== '' && <span className="figures">{from} → </span>}
                      <span className="figures font-medium">{to}</span>
                    </span>
                  ))}
                </p>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </DataTable>
  );
}
