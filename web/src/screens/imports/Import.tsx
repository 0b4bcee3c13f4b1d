import { countInWords } from '@mile-mark/contract/words';
import type { ImportDraft, ImportResult } from '@mile-mark/contract/imports';
import { type DragEvent, useState } from 'react';
import { useImportDrafts, useImports } from '../../api/imports.ts';
import { useMe } from '../../api/people.ts';
import { formatDate } from '../../ui/format.ts';
import { Button } from '../../ui/Button.tsx';
import { useAddressValues } from '../../ui/useAddressValues.ts';
import { DropArea, Rejections } from './DropArea.tsx';
import { FilePanel } from './FilePanel.tsx';
import { Finished } from './Finished.tsx';
import { OpenRows } from './OpenRows.tsx';
import { dropFiles, inOrder, type Rejected } from './files.ts';

/** Import: files in, each shown as it was understood, taken in row by row or left to be mended. */
export function Import() {
  const drafts = useImportDrafts();
  // Files taken in since the page was opened stay among the others, as what they became.
  const [taken, setTaken] = useState<Taken[]>([]);
  const [rejected, setRejected] = useState<Rejected[]>([]);
  const [address, setAddress] = useAddressValues();
  const [reading, setReading] = useState(false);
  const [file, before] = [address.get('file'), address.get('import')];
  const waiting = inOrder((drafts.data ?? []).filter(({ id }) => !taken.some(({ draftId }) => draftId === id)));
  const current = taken.find(({ draftId }) => draftId === file);
  const next = waiting.find(({ id }) => id !== file);
  const show = (shown: { file?: string; import?: string }) => setAddress({ file: '', import: '', ...shown });

  const take = async (list: FileList | null) => {
    if (!list || list.length === 0) return;
    setReading(true);
    const { dropped, rejected: refused } = await dropFiles([...list]);
    await drafts.refetch();
    setReading(false);
    setRejected(refused);
    if (dropped[0]) show({ file: dropped[0].id });
  };

  return (
    <div
      className="flex h-full max-sm:flex-col-reverse max-sm:justify-end max-sm:overflow-y-auto"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        void take(event.dataTransfer.files);
      }}
    >
      <nav
        aria-label="Files and imports"
        className={`flex w-full shrink-0 flex-col gap-4 border-line p-3 sm:w-60 sm:overflow-y-auto sm:border-r ${file || before ? 'max-sm:hidden' : ''}`}
      >
        <button
          className={`border-2 border-dashed p-3 text-left max-sm:hidden ${!file && !before ? 'border-ink' : 'border-line'}`}
          onClick={() => show({})}
        >
          Drop files anywhere, or choose&nbsp;…
        </button>
        {drafts.isLoadingError && (
          <p role="alert" className="text-brick">
            The files that wait couldn’t load: {drafts.error.message}
          </p>
        )}
        <TheseFiles waiting={waiting} taken={taken} file={file} onShow={(id) => show({ file: id })} />
        <TakenBefore shown={before} onShow={(id) => show({ import: id })} />
      </nav>
      <div className={`min-w-0 sm:flex-1 ${file || before ? 'max-sm:h-full' : ''}`}>
        {(file ?? before) && (
          <p className="px-4 pt-2 sm:hidden">
            <Button look="bare" onClick={() => show({})}>
              All files
            </Button>
          </p>
        )}
        {before && <OpenRows key={before} id={before} />}
        {current && (
          <Finished
            result={current.result}
            onOpenRows={(id) => show({ import: id })}
            next={next}
            onNext={(id) => show({ file: id })}
          />
        )}
        {file && !current && (
          <FilePanel
            key={file}
            id={file}
            onDone={(result) => setTaken((all) => [...all, { draftId: file, result }])}
            onPutAway={() => show({})}
          />
        )}
        {!file && !before && <DropArea reading={reading} rejected={rejected} onFiles={(list) => void take(list)} />}
        {(file ?? before) && rejected.length > 0 && <Rejections rejected={rejected} />}
      </div>
    </div>
  );
}

interface Taken {
  draftId: string;
  result: ImportResult;
}

/** Files that wait, and those taken in since the page was opened. */
function TheseFiles({
  waiting,
  taken,
  file,
  onShow,
}: {
  waiting: readonly ImportDraft[];
  taken: readonly Taken[];
  file: string | null;
  onShow: (id: string) => void;
}) {
  const me = useMe();
  const back = new Set((useImports().data ?? []).filter(({ withdrawn }) => withdrawn).map(({ id }) => id));
  const all = inOrder([
    ...waiting.map(({ id, kind, fileName, by }) => ({
      id,
      kind,
      fileName,
      told: `${kind}, to look at${by === me.name ? '' : `; dropped by ${by}`}`,
    })),
    ...taken.map(({ draftId: id, result: { id: importId, kind, fileName, records, open } }) => ({
      id,
      kind,
      fileName,
      told: back.has(importId)
        ? 'taken back'
        : `in: ${countInWords(records, 'record')}${open > 0 ? `, ${countInWords(open, 'row')} open` : ''}`,
    })),
  ]);
  if (all.length === 0) return null;
  return (
    <section aria-label="These files">
      <h2 className="mb-1 font-semibold">These files</h2>
      <ol>
        {all.map(({ id, fileName, told }) => (
          <li key={id}>
            <Entry chosen={file === id} onClick={() => onShow(id)} name={fileName} told={told} />
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Imports on record, those with open rows standing out. */
function TakenBefore({ shown, onShow }: { shown: string | null; onShow: (id: string) => void }) {
  const imports = useImports();
  if (!imports.data || imports.data.length === 0) return null;
  return (
    <section aria-label="Taken in before">
      <h2 className="mb-1 font-semibold">Taken in before</h2>
      <ol>
        {imports.data.map((one) => (
          <li key={one.id}>
            <Entry
              chosen={shown === one.id}
              onClick={() => onShow(one.id)}
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
