import { countInWords } from '@mile-mark/contract/words';
import type { ImportDraft, ImportResult } from '@mile-mark/contract/imports';
import { useImportDetail } from '../../api/imports.ts';
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
  // It may be taken back from the bar above, or by somebody else, while this stands here.
  const back = useImportDetail(result.id).data?.withdrawn;
  return (
    <State
      title={back ? `${result.fileName} is taken back` : `${result.fileName} is in`}
      what={
        back
          ? 'Nothing of it counts; the same file may come in again.'
          : `${countInWords(result.records, 'record')} taken; rows: ${figure(counts.accepted)} accepted, ${figure(counts.questioned)} questioned, ${figure(counts.refused)} refused, ${figure(counts.already)} already in.`
      }
    >
      <div className="flex flex-wrap justify-center gap-3">
        {next ? (
          <Button look="next" onClick={() => onNext(next.id)}>
            Next: {next.fileName}
          </Button>
        ) : (
          <WayOn />
        )}
        {!back && result.open > 0 && (
          <Button onClick={() => onOpenRows(result.id)}>
            {result.open} {result.open === 1 ? 'row' : 'rows'} to mend
          </Button>
        )}
        {!back && <TakeBackImport taken={result} onDone={() => onOpenRows(result.id)} />}
      </div>
      {!back && result.open > 0 && (
        <p className="text-soft">They are kept here until mended or dismissed, and can be downloaded.</p>
      )}
    </State>
  );
}
