import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { Plan, PlanRow } from '@mile-mark/contract/plan';
import { countInWords } from '@mile-mark/contract/words';
import { planPdfPath, useCancelPlan, usePublishPlan } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { formatDate } from '../../ui/format.ts';
import { saveCsv } from '../../ui/saveCsv.ts';
import { hours, mondayOf, percent, sum } from './figures.ts';
import { SHARE_WORDS } from './shares.ts';

interface Props {
  plan: Plan;
  me: Me;
  depot: string;
  plans: readonly PlanRow[];
  onPlan: (id: string) => void;
  onPropose: () => void;
  onUndo: () => void;
}

const nameOf = ({ state, askedOn, publishedOn, byItself }: PlanRow) =>
  state === 'published'
    ? `Published ${formatDate(publishedOn ?? askedOn)}`
    : `${state === 'solving' ? 'Being solved' : state === 'failed' ? 'Failed' : byItself ? 'Proposed by itself' : 'Proposed'}, ${formatDate(askedOn)}`;

/** Which plan it is, what it costs and how sure that is, and what can be done with it. */
export function PlanHead({ plan, me, depot, plans, onPlan, onPropose, onUndo }: Props) {
  const may = mayDo(me.role, 'plan');
  const publish = usePublishPlan(plan.id);
  const cancel = useCancelPlan(plan.id);
  const [why, setWhy] = useState(false);
  const seen = () => ({ id: crypto.randomUUID(), revision: plan.revision });
  const stop = (said: string) =>
    // Said whether or not this plan is still shown then.
    void cancel.mutateAsync(seen()).then(
      () => toast(said),
      (error: Error) => toast(error.message),
    );
  return (
    <section
      aria-label="The plan"
      className="mb-2 flex flex-wrap items-start gap-x-4 gap-y-2 border-b border-line pb-2"
    >
      <Choose label="Plan" hideLabel value={plan.id} onChange={({ target }) => onPlan(target.value)}>
        {plans.map((one) => (
          <option key={one.id} value={one.id}>
            {nameOf(one)}
          </option>
        ))}
      </Choose>
      <div className="min-w-64 flex-1">
        <Standing plan={plan} onWhy={() => setWhy(true)} />
      </div>
      <div className="flex flex-wrap gap-2 print:hidden">
        <a
          className="self-center underline decoration-line underline-offset-2"
          href={planPdfPath(plan.id, mondayOf(plan.fromDate < plan.today ? plan.today : plan.fromDate), depot)}
        >
          This week as PDF
        </a>
        <Button look="bare" onClick={() => void saveCsv(`plan-${plan.fromDate}`, rowsOfPlan(plan))}>
          CSV
        </Button>
        {may && plan.canUndo && <Button onClick={onUndo}>Take back</Button>}
        {may && plan.state === 'solving' && (
          <Button onClick={() => stop('Stopped; what there is is kept.')}>Stop, keep what there is</Button>
        )}
        {may && plan.state === 'proposed' && <Button onClick={() => stop('Dropped.')}>Drop it</Button>}
        {may && plan.state !== 'solving' && (
          <Button look={plan.state === 'proposed' ? 'plain' : 'next'} onClick={onPropose}>
            {plan.state === 'published' ? 'Plan anew …' : 'Propose another …'}
          </Button>
        )}
        {may && plan.state === 'proposed' && (
          <Button
            look="next"
            disabled={publish.isPending}
            onClick={() =>
              publish.mutate(seen(), {
                onSuccess: ({ booked, moved, calledOff, told }) =>
                  toast(
                    `Published: ${countInWords(booked, 'job')} booked, ${moved} moved, ${calledOff} called off; ${told === 1 ? '1 person' : `${told} people`} told by mail.`,
                  ),
                onError: (error) => toast(error.message),
              })
            }
          >
            Publish
          </Button>
        )}
      </div>
      {why && <WhyCost plan={plan} onClose={() => setWhy(false)} />}
    </section>
  );
}

/** A plan as rows: every visit of every depot, as its chip and its panel tell it. */
const rowsOfPlan = ({ items }: Plan): string[][] => [
  ['Unit', 'Axles', 'Depot', 'Of depot', 'Date', 'Bay', 'Hours', 'Stands', 'Locked', 'Moved from', 'Mile mark', 'Why'],
  ...items.map((one) => [
    one.unit,
    one.axles.join(' '),
    one.depot,
    one.lentFrom ?? one.depot,
    one.date,
    one.outside ? 'outside shop' : (one.bay ?? ''),
    hours(one.hours),
    one.jobId === null ? 'planned' : 'booked',
    one.locked ? 'yes' : 'no',
    one.moved ?? '',
    one.mark ?? '',
    one.why.join(' '),
  ]),
];

/** Progress while it is solved; then what it costs, against what else a shop would do. */
function Standing({ plan, onWhy }: { plan: Plan; onWhy: () => void }) {
  const { state, depots, items, cost, currency, provedGap, againstEarliestDueFirst, againstFixedInterval, weeks } =
    plan;
  const failed = depots.filter((one) => one.state === 'failed');
  if (state === 'solving')
    return (
      <p role="status">
        {depots
          .map(
            (one) =>
              `${one.depot}: ${one.state === 'solving' && one.cost !== null ? 'found, being proved' : one.state === 'waiting' ? 'waits' : one.state}`,
          )
          .join('; ')}
        .
      </p>
    );
  return (
    <>
      {cost !== null && (
        <p>
          <button
            type="button"
            className="figures text-base font-semibold underline decoration-dotted underline-offset-4"
            onClick={onWhy}
          >
            {sum(cost, currency)}
          </button>{' '}
          over {countInWords(weeks, 'week')}
          {againstEarliestDueFirst !== null && (
            <>
              , <span className="figures font-semibold">{percent(1 - againstEarliestDueFirst)}</span> less than axle by
              axle on its last day
            </>
          )}
          {againstFixedInterval !== null && (
            <>
              , <span className="figures font-semibold">{percent(1 - againstFixedInterval)}</span> less than at fixed
              miles
            </>
          )}
          .{' '}
          <span className="text-soft">
            {provedInWords(
              provedGap,
              items.some(({ lentFrom }) => lentFrom !== null),
            )}
          </span>
        </p>
      )}
      {failed.map((one) => (
        <p key={one.depot} role="alert" className="font-medium text-brick">
          {one.depot}: {one.failure}.
        </p>
      ))}
    </>
  );
}

const HARDLY = 0.0005;

/** Who is lent is searched for; what is proved goes for those who are. */
function provedInWords(gap: number | null, lends: boolean): string {
  if (gap === null) return 'How good it is was not proved.';
  const of = lends ? ' with the same vehicles lent' : '';
  return gap < HARDLY
    ? `Proved: no plan costs less${of}.`
    : `Proved: no plan costs less by more than ${percent(gap)}${of}.`;
}

/** What the cost is made of, and what it is held against. */
function WhyCost({ plan, onClose }: { plan: Plan; onClose: () => void }) {
  const { shares, currency, cost } = plan;
  return (
    <Modal open onClose={onClose} title={`What ${sum(cost ?? 0, currency)} is made of`}>
      <table className="w-full">
        <tbody>
          {shares &&
            Object.entries(SHARE_WORDS).map(([name, words]) => (
              <tr key={name} className="border-b border-hair">
                <th scope="row" className="py-1 text-left font-medium first-letter:uppercase">
                  {words}
                </th>
                <td className="figures py-1 text-right">{sum(shares[name as keyof typeof shares], currency)}</td>
              </tr>
            ))}
        </tbody>
      </table>
      <p className="mt-3 text-soft">
        Pad life given up: expected days still to come × what a day of an axle’s pads costs. Risk: chance of being below
        the limit by the visit × what wearing out costs beyond a planned service. Both come from the forecasts; prices
        from the settings and from Plan, Shop. “Axle by axle on its last day” and “at fixed miles” (the best of half to
        twice the interval stated there) are weighed on the same marks, in the same shops, with the same vehicles lent.
      </p>
    </Modal>
  );
}
