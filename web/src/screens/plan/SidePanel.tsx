import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Plan, PlanItem } from '@mile-mark/contract/plan';
import { useLockVisit, usePlanHolds } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { formatDate } from '../../ui/format.ts';
import { ChooseVisit } from './ChooseVisit.tsx';
import { Because, Changes, Elsewhere, Unplaced } from './SideLists.tsx';
import { axlesInWords, hours } from './figures.ts';

interface Props {
  plan: Plan;
  depot: string;
  item: PlanItem | undefined;
  /** Whether it can be changed. */
  may: boolean;
  onChoose: (id: string) => void;
  onHold: (item: PlanItem) => void;
}

/** The chosen visit with its reasons; below it what the plan changes, and what it could not place. */
export function SidePanel({ plan, depot, item, may, onChoose, onHold }: Props) {
  return (
    <aside aria-label="About the plan" className="min-h-0 overflow-y-auto border-line lg:border-l lg:pl-4">
      {item ? (
        <Visit plan={plan} item={item} may={may} onHold={onHold} />
      ) : (
        <p className="text-soft">
          Choose a visit to see why it is on its day
          {may ? '; drag it, or press M, to see what another day would cost' : ''}.
        </p>
      )}
      <Because plan={plan} />
      <NoLonger plan={plan} depot={depot} onChoose={onChoose} />
      <PastMark plan={plan} depot={depot} onChoose={onChoose} />
      <Unplaced plan={plan} depot={depot} />
      <Elsewhere plan={plan} depot={depot} />
      <Changes plan={plan} depot={depot} onChoose={onChoose} />
    </aside>
  );
}

function Visit({
  plan,
  item,
  may,
  onHold,
}: {
  plan: Plan;
  item: PlanItem;
  may: boolean;
  onHold: (item: PlanItem) => void;
}) {
  const lock = useLockVisit(plan.id);
  const { unit, axles, date, bay, outside, locked, byHand, jobId, mark, why } = item;
  return (
    <section aria-label={`Visit of ${unit}`} className="border-b border-line pb-3">
      <h2 className="text-lg font-semibold">
        <Link className="figures underline decoration-line underline-offset-4" to={`/vehicles/${unit}`}>
          {unit}
        </Link>{' '}
        {axlesInWords(axles)}
      </h2>
      <p className="font-medium">
        {formatDate(date)}, {outside ? 'outside shop' : (bay ?? 'no bay of its kind')},{' '}
        <span className="figures">{hours(item.hours)} h</span>
      </p>
      <p className="text-soft">
        {mark === null ? 'No mark.' : `Mile mark ${formatDate(mark)}.`}{' '}
        {locked ? (byHand ? 'Moved and locked by hand.' : 'Locked.') : ''}
      </p>
      <ul className="my-2 list-disc pl-4">
        {why.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        {may && (
          <Button
            hotkey="M"
            onClick={() => {
              onHold(item);
              document.querySelector<HTMLElement>(`[data-visit="${unit}/${axles.join(' ')}"]`)?.focus();
            }}
          >
            Move
          </Button>
        )}
        {may && (
          <Button
            disabled={lock.isPending}
            onClick={() =>
              lock.mutate(
                { id: crypto.randomUUID(), revision: plan.revision, visitId: item.id, locked: !locked },
                {
                  onSuccess: () =>
                    toast(
                      locked
                        ? `${unit} may be moved by the next plan.`
                        : `${unit} stays on ${formatDate(date)}, whatever comes.`,
                    ),
                  onError: (error) => toast(error.message),
                },
              )
            }
          >
            {locked ? 'Unlock' : 'Lock'}
          </Button>
        )}
        {jobId !== null && (
          <Link className="self-center underline underline-offset-2" to={`/jobs/${jobId}`}>
            Its job
          </Link>
        )}
      </div>
    </section>
  );
}

/** What of the published plan no longer holds as things stand, with the visit it is about. */
function NoLonger({ plan, depot, onChoose }: { plan: Plan; depot: string; onChoose: (id: string) => void }) {
  const { data, isError } = usePlanHolds(plan.state === 'published' ? plan.id : undefined);
  const own = (data?.items ?? []).filter((one) => one.depot === depot);
  if (plan.state !== 'published' || (own.length === 0 && !isError)) return null;
  return (
    <section aria-label="No longer holds" className="border-b border-line py-3">
      <h2 className="font-semibold">No longer holds {isError ? '' : own.length}</h2>
      {isError && <p className="text-soft">It could not be looked at; it is tried again when you come back.</p>}
      <ul className="flex flex-col gap-1">
        {own.map(({ unit, date, what }) => {
          const visit = plan.items.find((one) => one.unit === unit && one.date === date);
          return (
            <li key={`${unit ?? ''}/${date ?? ''}/${what}`} className="border-l-4 border-brick pl-2">
              {visit ? (
                <button type="button" className="min-h-8 w-full text-left" onClick={() => onChoose(visit.id)}>
                  {what}
                </button>
              ) : (
                what
              )}
            </li>
          );
        })}
      </ul>
      {own.length > 0 && <p className="text-soft">Plan anew moves what has to move, and what pays.</p>}
    </section>
  );
}

/** Visits whose mark comes before their day: marks moved since, or nothing sooner was to be had. */
function PastMark({ plan, depot, onChoose }: { plan: Plan; depot: string; onChoose: (id: string) => void }) {
  const own = plan.items.filter((one) => one.depot === depot && one.mark !== null && one.mark < one.date);
  if (own.length === 0) return null;
  return (
    <section aria-label="Mark before the visit" className="border-b border-line py-3">
      <h2 className="font-semibold">Mark before the visit {own.length}</h2>
      {plan.state === 'published' && <p className="text-soft">Plan anew, if marks moved since it was published.</p>}
      <ul className="flex flex-col gap-1">
        {own.map((one) => (
          <li key={one.id}>
            <ChooseVisit visit={one} onChoose={onChoose}>
              mark {formatDate(one.mark ?? '')}, visit {formatDate(one.date)}
            </ChooseVisit>
          </li>
        ))}
      </ul>
    </section>
  );
}
