import { countInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import type { ImportResult, Outcome, Understanding } from '@mile-mark/contract/imports';
import { useCommitImport, usePreview } from '../../api/imports.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { Needs } from './Needs.tsx';
import { Rows } from './Rows.tsx';
import { TakeBackImport } from './TakeBackImport.tsx';
import { UnderstandingPanel } from './UnderstandingPanel.tsx';
import { type Dropped, requestOf } from './files.ts';

interface Props {
  file: Dropped;
  onChange: (part: Partial<Dropped>) => void;
  onDone: (result: ImportResult) => void;
  onOpenRows: (id: string) => void;
  nextName: string | undefined;
  onNext: () => void;
}

/** One file: how it is understood, what is still to be said, its rows, and taking it in. */
export function FilePanel({ file, onChange, onDone, onOpenRows, nextName, onNext }: Props) {
  const preview = usePreview(file.result ? undefined : requestOf(file));
  const commit = useCommitImport();
  const [shown, setShown] = useState<Outcome | 'all'>('all');
  if (file.result) return <Finished result={file.result} {...{ onOpenRows, nextName, onNext }} />;
  if (preview.isPending) return <State title={`Reading ${file.name}`} what="Finding columns, units and dates." quiet />;
  if (preview.isLoadingError) {
    return (
      <State title={`${file.name} can’t be read`} what={preview.error.message}>
        <Button onClick={() => void preview.refetch()}>Try again</Button>
      </State>
    );
  }
  const data = preview.data;
  const state = (part: Partial<Understanding>) => onChange({ stated: statedWith(file.stated, part) });
  const counts = data.counts;
  const total = counts.accepted + counts.questioned + counts.refused + counts.already;
  return (
    <div className="flex h-full flex-col">
      <header className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-4 py-2">
        <h1 className="text-lg font-semibold">{file.name}</h1>
        <div role="group" aria-label="Rows shown" className="flex">
          {(
            [
              ['all', total, 'rows'],
              ['accepted', counts.accepted, 'accepted'],
              ['questioned', counts.questioned, 'questioned'],
              ['refused', counts.refused, 'refused'],
              ['already', counts.already, 'already in'],
            ] as const
          ).map(([key, count, label]) => (
            <button
              key={key}
              aria-pressed={shown === key}
              onClick={() => setShown(key)}
              className={`-ml-px border border-line px-2 py-1 first:ml-0 ${shown === key ? 'bg-ink text-sheet' : 'bg-raised'}`}
            >
              <span className="figures font-semibold">{count}</span> {label}
            </button>
          ))}
        </div>
        <Button
          look="next"
          className="ml-auto"
          disabled={data.needs.length > 0 || commit.isPending || preview.isFetching}
          onClick={() => commit.mutate(requestOf(file), { onSuccess: onDone })}
        >
          {commit.isPending ? 'Taking in …' : `Take in ${countInWords(data.records, 'record')}`}
        </Button>
      </header>
      {commit.isError && (
        <p role="alert" className="bg-raised px-4 py-2 font-medium text-brick">
          {commit.error.message}
        </p>
      )}
      <Needs preview={data} onState={state} />
      <UnderstandingPanel preview={data} onState={state} />
      <Rows
        preview={data}
        shown={shown}
        choices={file.choices}
        edits={file.edits}
        onChoice={(line, choice) => onChange({ choices: { ...file.choices, [line]: choice } })}
        onEdit={(line, cells) => onChange({ edits: { ...file.edits, [line]: cells } })}
      />
    </div>
  );
}

/** What was said so far with what is said now; an answer about one name leaves those about others as they are. */
function statedWith(before: Partial<Understanding>, now: Partial<Understanding>): Partial<Understanding> {
  const all = { ...before, ...now };
  if (now.wheelNames) all.wheelNames = { ...before.wheelNames, ...now.wheelNames };
  if (now.gaugeNames) all.gaugeNames = { ...before.gaugeNames, ...now.gaugeNames };
  if (now.personNames) all.personNames = { ...before.personNames, ...now.personNames };
  return all;
}

function Finished({
  result,
  onOpenRows,
  nextName,
  onNext,
}: { result: ImportResult } & Pick<Props, 'onOpenRows' | 'nextName' | 'onNext'>) {
  const { counts } = result;
  return (
    <State
      title={`${result.fileName} is in`}
      what={`${countInWords(result.records, 'record')} taken; rows: ${counts.accepted} accepted, ${counts.questioned} questioned, ${counts.refused} refused, ${counts.already} already in.`}
    >
      <div className="flex flex-wrap justify-center gap-3">
        {nextName && (
          <Button look="next" onClick={onNext}>
            Next: {nextName}
          </Button>
        )}
        {result.open > 0 && (
          <Button onClick={() => onOpenRows(result.id)}>
            {result.open} {result.open === 1 ? 'row' : 'rows'} to mend
          </Button>
        )}
        <TakeBackImport taken={result} onDone={() => onOpenRows(result.id)} />
      </div>
      {result.open > 0 && (
        <p className="text-soft">They are kept here until mended or dismissed, and can be downloaded.</p>
      )}
    </State>
  );
}
