import { countInWords } from '@mile-mark/contract/words';
import { type DragEvent, useState } from 'react';
import { useImports } from '../../api/imports.ts';
import { formatDate } from '../../ui/format.ts';
import { FilePanel } from './FilePanel.tsx';
import { OpenRows } from './OpenRows.tsx';
import { type Dropped, readFiles, type Rejected } from './files.ts';

type Shown = { kind: 'drop' } | { kind: 'file'; id: string } | { kind: 'import'; id: string };

/** Import: files in, each shown as it was understood, taken in row by row or left to be mended. */
export function Import() {
  const [files, setFiles] = useState<Dropped[]>([]);
  const [rejected, setRejected] = useState<Rejected[]>([]);
  const [shown, setShown] = useState<Shown>({ kind: 'drop' });
  const [reading, setReading] = useState(false);

  const take = async (list: FileList | null) => {
    if (!list || list.length === 0) return;
    setReading(true);
    const { dropped, rejected: refused } = await readFiles([...list]);
    setReading(false);
    setRejected(refused);
    setFiles((before) => [...before, ...dropped]);
    if (dropped[0]) setShown({ kind: 'file', id: dropped[0].id });
  };
  const change = (id: string, part: Partial<Dropped>) =>
    setFiles((before) => before.map((file) => (file.id === id ? { ...file, ...part } : file)));
  const current = shown.kind === 'file' ? files.find(({ id }) => id === shown.id) : undefined;
  const next = files.find((file) => !file.result && file.id !== current?.id);

  return (
    <div
      className="flex h-full"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        void take(event.dataTransfer.files);
      }}
    >
      <nav
        aria-label="Files and imports"
        className="flex w-60 shrink-0 flex-col gap-4 overflow-y-auto border-r border-line p-3"
      >
        <button
          className={`border-2 border-dashed p-3 text-left ${shown.kind === 'drop' ? 'border-ink' : 'border-line'}`}
          onClick={() => setShown({ kind: 'drop' })}
        >
          Drop files anywhere, or choose …
        </button>
        {files.length > 0 && <TheseFiles files={files} shown={shown} onShow={setShown} />}
        <TakenBefore shown={shown} onShow={setShown} />
      </nav>
      <div className="min-w-0 flex-1">
        {shown.kind === 'import' && <OpenRows key={shown.id} id={shown.id} />}
        {current && (
          <FilePanel
            key={current.id}
            file={current}
            onChange={(part) => change(current.id, part)}
            onDone={(result) => change(current.id, { result })}
            onOpenRows={(id) => setShown({ kind: 'import', id })}
            nextName={next?.name}
            onNext={() => next && setShown({ kind: 'file', id: next.id })}
          />
        )}
        {shown.kind === 'drop' && (
          <DropArea reading={reading} rejected={rejected} onFiles={(list) => void take(list)} />
        )}
        {shown.kind !== 'drop' && rejected.length > 0 && <Rejections rejected={rejected} />}
      </div>
    </div>
  );
}

interface ListProps {
  shown: Shown;
  onShow: (shown: Shown) => void;
}

/** Files dropped here, taken in or not yet. */
function TheseFiles({ files, shown, onShow }: ListProps & { files: readonly Dropped[] }) {
  return (
    <section>
      <h2 className="mb-1 font-semibold">These files</h2>
      <ol>
        {files.map((file) => (
          <li key={file.id}>
            <Entry
              chosen={shown.kind === 'file' && shown.id === file.id}
              onClick={() => onShow({ kind: 'file', id: file.id })}
              name={file.name}
              told={
                file.result
                  ? `in: ${countInWords(file.result.records, 'record')}${file.result.open > 0 ? `, ${countInWords(file.result.open, 'row')} open` : ''}`
                  : `${file.kind}, to look at`
              }
            />
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Imports on record, those with open rows standing out. */
function TakenBefore({ shown, onShow }: ListProps) {
  const imports = useImports();
  if (!imports.data || imports.data.length === 0) return null;
  return (
    <section>
      <h2 className="mb-1 font-semibold">Taken in before</h2>
      <ol>
        {imports.data.map((one) => (
          <li key={one.id}>
            <Entry
              chosen={shown.kind === 'import' && shown.id === one.id}
              onClick={() => onShow({ kind: 'import', id: one.id })}
              name={one.fileName}
              told={`${formatDate(one.at.slice(0, 10))}, ${one.withdrawn ? 'taken back' : one.open > 0 ? `${countInWords(one.open, 'row')} open` : 'all settled'}`}
              loud={one.open > 0}
            />
          </li>
        ))}
      </ol>
    </section>
  );
}

function Entry({
  chosen,
  onClick,
  name,
  told,
  loud,
}: {
  chosen: boolean;
  onClick: () => void;
  name: string;
  told: string;
  loud?: boolean;
}) {
  return (
    <button
      onClick={onClick}
      className={`w-full border-l-4 px-2 py-1 text-left ${chosen ? 'border-ink bg-raised' : 'border-transparent hover:border-line'}`}
    >
      <span className="block truncate">{name}</span>
      <span className={`text-[12px] ${loud ? 'font-semibold text-brick' : 'text-soft'}`}>{told}</span>
    </button>
  );
}

function DropArea({
  reading,
  rejected,
  onFiles,
}: {
  reading: boolean;
  rejected: Rejected[];
  onFiles: (list: FileList | null) => void;
}) {
  return (
    <div className="flex h-full flex-col gap-4 p-4 sm:p-8">
      <h1 className="text-xl font-semibold">Import sheets and lists</h1>
      <label className="flex min-h-40 cursor-pointer flex-col items-center justify-center gap-2 min-w-0 border-2 border-dashed border-soft bg-sheet p-3 sm:p-6 text-center focus-within:outline-2">
        <span className="sm:text-lg">{reading ? 'Reading …' : 'Drop technicians’ sheets and lists here'}</span>
        <span className="text-soft">
          or choose files: models, duties, vehicles, services, readings; several at once
        </span>
        <input
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,text/csv,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
          multiple
          aria-label="Files to import"
          className="w-full max-w-full"
          onChange={(event) => onFiles(event.target.files)}
        />
      </label>
      <Rejections rejected={rejected} />
      <p className="max-w-prose text-soft">
        CSV files and XLSX workbooks, as they are: with titles, two lines of header, a column a wheel or a pad. Each is
        shown as it was understood before anything is written; what nothing in it decides is asked. A row is accepted,
        questioned or refused with the reason in words; nothing is lost, and the same file twice adds nothing.
      </p>
    </div>
  );
}

function Rejections({ rejected }: { rejected: Rejected[] }) {
  return (
    <div role="alert">
      <ul>
        {rejected.map(({ name, message }) => (
          <li key={name} className="font-medium text-brick">
            {name}: {message}
          </li>
        ))}
      </ul>
    </div>
  );
}
