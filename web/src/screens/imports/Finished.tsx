import { countInWords } from '@mile-mark/contract/words';
import type { ImportDraft, ImportResult } from '@mile-mark/contract/imports';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { TakeBackImport } from './TakeBackImport.tsx';
import { WayOn } from './WayOn.tsx';

const figure = (count: number) => count.toLocaleString('en-US');

/** A file that is in: what became of its rows, and where the way leads on. */
export function Finished({
  result,
  next,
  onOpenRows,
  onNext,
}: {
  result: ImportResult;
  next: ImportDraft | undefined;
  onOpenRows: (id: string) => void;
  onNext: (id: string) => void;
}) {
  const { counts } = result;
  return (
    <State
      title={`${result.fileName} is in`}
      what={`${countInWords(result.records, 'record')} taken; rows: ${figure(counts.accepted)} accepted, ${figure(counts.questioned)} questioned, ${figure(counts.refused)} refused, ${figure(counts.already)} already in.`}
    >
      <div className="flex flex-wrap justify-center gap-3">
        {next ? (
          <Button look="next" onClick={() => onNext(next.id)}>
            Next: {next.fileName}
          </Button>
        ) : (
          <WayOn />
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
