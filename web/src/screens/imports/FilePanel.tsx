import { countInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ImportResult, RowsShown, Understanding } from '@mile-mark/contract/imports';
import { ApiProblem } from '../../api/client.ts';
import {
  useAnswerDraft,
  useDraftProgress,
  useImportDraft,
  usePutAwayDraft,
  useStopDraft,
  useTakeInDraft,
  useWithdrawImport,
} from '../../api/imports.ts';
import { doneWithUndo } from '../../stores/undo.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { Needs } from './Needs.tsx';
import { Rows } from './Rows.tsx';
import { UnderstandingPanel } from './UnderstandingPanel.tsx';
import { WithPlate } from './WithPlate.tsx';

interface Props {
  id: string;
  onDone: (result: ImportResult) => void;
  onPutAway: () => void;
}

/** One file: how it is understood, what is still to be said, its rows, and taking it in. */
export function FilePanel({ id, onDone, onPutAway }: Props) {
  const take = useTakeInDraft(id);
  // While it is taken in, and after, there is nothing to look at anew.
  const preview = useImportDraft(id, take.isIdle || take.isError);
  const answer = useAnswerDraft(id);
  const putAway = usePutAwayDraft();
  const withdraw = useWithdrawImport();
  const [importId, newImport] = useNewId();
  const [shown, setShown] = useState<RowsShown>('all');
  if (preview.isPending) return <State title="Reading the file" what="Finding columns, units and dates." quiet />;
  if (preview.isLoadingError)
    return (
      <State title="The file can’t be read" what={preview.error.message}>
        <Button onClick={() => void preview.refetch()}>Try again</Button>
      </State>
    );
  const data = preview.data;
  const state = (part: Partial<Understanding>) => answer.mutate({ understanding: part });
  const takeIn = async () => {
    try {
      const result = await take.mutateAsync({ id: importId, revision: data.revision });
      if (result.records > 0)
        doneWithUndo(
          `${result.fileName} is in: ${countInWords(result.records, 'record')}.`,
          () =>
            withdraw.mutateAsync({ importId, id: crypto.randomUUID(), reason: 'taken in by mistake, undone at once' }),
          { undone: `${result.fileName} is taken back.`, said: true, id: importId },
        );
      onDone(result);
    } catch (error) {
      // What was refused for what it says is another import when it says something else.
      if (error instanceof ApiProblem) newImport();
    }
  };
  const leave = async () => {
    await putAway.mutateAsync({ params: { id } });
    toast(`${data.fileName} is put away; nothing of it was taken in.`);
    onPutAway();
  };
  const failed = take.error ?? answer.error ?? putAway.error ?? preview.error;
  return (
    <div className="flex h-full flex-col max-sm:overflow-y-auto">
      <header className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-4 py-2">
        <h1 className="text-lg font-semibold">{data.fileName}</h1>
        <Outcomes counts={data.counts} shown={shown} onShow={setShown} />
        <span className="ml-auto flex items-center gap-3">
          {(answer.isPending || (preview.isFetching && !data.judging)) && <span className={SLOW}>Looking again …</span>}
          <Button look="bare" disabled={take.isPending} onClick={() => void leave().catch(() => undefined)}>
            Put away
          </Button>
          <Button
            look="next"
            disabled={
              data.needs.length > 0 || take.isPending || answer.isPending || preview.isFetching || data.judging !== null
            }
            onClick={() => void takeIn()}
          >
            {take.isPending ? 'Taking in …' : `Take in ${countInWords(data.records, 'record')}`}
          </Button>
        </span>
      </header>
      {take.isPending && <Progress id={id} />}
      {data.judging && !take.isPending && <Judging {...data.judging} />}
      {failed && (
        <p role="alert" className="bg-raised px-4 py-2 font-medium text-brick">
          {failed.message}
        </p>
      )}
      <Needs preview={data} onState={state} />
      {!data.judging && (
        <WithPlate preview={data} onAnswer={(wheel) => answer.mutate({ withoutPlate: { look: data.look, wheel } })} />
      )}
      <UnderstandingPanel preview={data} onState={state} />
      <Rows
        id={id}
        preview={data}
        shown={shown}
        onChoice={(line, choice) => answer.mutateAsync({ choices: { [line]: choice } })}
        onEdit={(line, cells) => answer.mutate({ edits: { [line]: cells } })}
      />
    </div>
  );
}

/** How many rows there are of each outcome; one of them is shown. */
function Outcomes({
  counts,
  shown,
  onShow,
}: {
  counts: ImportResult['counts'];
  shown: RowsShown;
  onShow: (shown: RowsShown) => void;
}) {
  const total = counts.accepted + counts.questioned + counts.refused + counts.already;
  return (
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
          onClick={() => onShow(key)}
          className={`-ml-px border border-line px-2 py-1 first:ml-0 ${shown === key ? 'bg-ink text-sheet' : 'bg-raised'}`}
        >
          <span className="figures font-semibold">{count.toLocaleString('en-US')}</span> {label}
        </button>
      ))}
    </div>
  );
}

const STEPS = {
  reading: 'rows read',
  judging: 'vehicles held against the record',
  writing: 'records written',
} as const;

/** Said of what takes longer than a moment only. */
const SLOW = 'text-soft opacity-100 transition-opacity delay-500 starting:opacity-0';

const BAR =
  'h-2 w-60 appearance-none border border-line [&::-moz-progress-bar]:bg-ink [&::-webkit-progress-bar]:bg-raised [&::-webkit-progress-value]:bg-ink';

/** How far the search for doubts is, while the rows are shown already. */
function Judging({ done, of }: { done: number; of: number }) {
  return (
    <div role="status" className="flex items-center gap-4 border-b border-line bg-sheet px-4 py-2">
      <progress value={done} max={Math.max(of, 1)} aria-label="Held against the record so far" className={BAR} />
      <span className="figures">
        {done.toLocaleString('en-US')} of {of.toLocaleString('en-US')} {STEPS.judging}
      </span>
      <span className="text-soft">Rows may still be questioned; answers can be given already.</span>
    </div>
  );
}

/** How far the taking in is, with the way to end it; a short one is over before this is seen. */
function Progress({ id }: { id: string }) {
  const { data } = useDraftProgress(id);
  const stop = useStopDraft();
  if (!data) return null;
  const { step, done, of } = data;
  return (
    <div role="status" className="flex items-center gap-4 border-b border-line bg-sheet px-4 py-2">
      <progress value={done} max={Math.max(of, 1)} aria-label="Taken in so far" className={BAR} />
      <span className="figures">
        {done.toLocaleString('en-US')} of {of.toLocaleString('en-US')} {STEPS[step]}
      </span>
      <Button disabled={stop.isPending} onClick={() => stop.mutate({ params: { id } })}>
        Stop
      </Button>
      <span className="text-soft">Stopped, nothing of it is written.</span>
    </div>
  );
}
