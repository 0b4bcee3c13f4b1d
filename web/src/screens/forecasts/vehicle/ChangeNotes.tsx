import { Link } from 'react-router';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { suspicionOfChange, timesInWords } from '@mile-mark/contract/words';
import { useAnswerChange } from '../../../api/forecasts.ts';
import { ChangeCard } from '../../../drawings/ChangeCard.tsx';

/** The vehicle's changes of wear, open ones in full, and what its duty does not explain. */
export function ChangeNotes({ vehicle, me }: { vehicle: VehicleDetail; me: Me }) {
  const answer = useAnswerChange();
  const open = vehicle.changes.filter((one) => one.open);
  const settled = vehicle.changes.filter((one) => !one.open);
  const { explained } = vehicle;
  const unexplained = explained && (explained.p05 > 1.15 || explained.p95 < 0.87) ? explained : undefined;
  const { suspected } = vehicle;
  if (open.length + settled.length === 0 && !unexplained && !suspected) return null;
  const card = (change: (typeof open)[number]) => (
    <ChangeCard
      key={change.id}
      change={change}
      me={me}
      problem={answer.isError && answer.variables.changeId === change.id ? answer.error.message : undefined}
      onAnswer={(body) => answer.mutate({ changeId: change.id, ...body })}
    />
  );
  return (
    <div className="flex flex-col gap-2 px-4 pt-3">
      {open.map(card)}
      {suspected && (
        <p role="note" className="border-l-4 border-ochre bg-sheet px-3 py-2">
          {suspicionOfChange(suspected)}
        </p>
      )}
      {unexplained && !open.some(({ kind }) => kind === 'route') && (
        <p role="note" className="border-l-4 border-ochre bg-sheet px-3 py-2">
          This vehicle wears {timesInWords(unexplained)} what its duty explains, against others of its model. The
          forecast counts with that; if the duty is wrong,{' '}
          <Link className="underline" to={`/duty?for=${vehicle.unit}`}>
            state it better
          </Link>
          .
        </p>
      )}
      {settled.length > 0 && (
        <details>
          <summary className="cursor-pointer text-soft">
            {settled.length} earlier {settled.length === 1 ? 'change' : 'changes'} of wear
          </summary>
          <div className="mt-2 flex flex-col gap-2">{settled.map(card)}</div>
        </details>
      )}
    </div>
  );
}
