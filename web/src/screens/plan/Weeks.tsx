import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { Plan, PlanItem, PlanRow } from '@mile-mark/contract/plan';
import { useMovePlan, usePlan, useTry, useUndoMove } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { TOAST_TO_ACT_MS } from '../../ui/toasts.ts';
import { Board, type Held } from './Board.tsx';
import { HeldNote } from './HeldNote.tsx';
import { PlanHead } from './PlanHead.tsx';
import { Propose } from './Propose.tsx';
import { SidePanel } from './SidePanel.tsx';
import { axlesInWords, moreOrLess } from './figures.ts';

interface Props {
  me: Me;
  depot: string;
  /** Plans that can be looked at, the newest first. */
  plans: readonly PlanRow[];
  planId: string | undefined;
  onPlan: (id: string) => void;
}

/** The weeks of a plan: what is where, what it costs to move it, and what changes when it is published. */
export function Weeks({ me, depot, plans, planId, onPlan }: Props) {
  const plan = usePlan(planId);
  const [proposing, setProposing] = useState(false);
  const may = mayDo(me.role, 'plan');
  const propose = proposing && (
    <Propose
      onClose={() => setProposing(false)}
      onAsked={(id) => {
        setProposing(false);
        onPlan(id);
      }}
    />
  );
  if (planId === undefined)
    return (
      <>
        <State
          title="No plan yet"
          what="A plan books the marks of the weeks ahead into days, bays and people, kits and absences considered. Nothing is booked before you publish it."
        >
          {may && (
            <Button look="next" onClick={() => setProposing(true)}>
              Propose a plan …
            </Button>
          )}
        </State>
        {propose}
      </>
    );
  if (plan.isPending) return <State title="Loading" what="Fetching the plan." quiet />;
  if (plan.isLoadingError)
    return (
      <State title="The plan couldn’t load" what={plan.error.message}>
        <Button onClick={() => void plan.refetch()}>Try again</Button>
      </State>
    );
  return (
    <>
      <PlanWeeks key={planId} plan={plan.data} {...{ me, depot, plans, onPlan, onPropose: () => setProposing(true) }} />
      {propose}
    </>
  );
}

function PlanWeeks({
  plan,
  me,
  depot,
  plans,
  onPlan,
  onPropose,
}: Omit<Props, 'planId'> & { plan: Plan; onPropose: () => void }) {
  const [chosen, setChosen] = useState<string>();
  const [held, setHeld] = useState<Held>();
  const move = useMovePlan(plan.id);
  const undo = useUndoMove(plan.id);
  const may = mayDo(me.role, 'plan') && plan.state === 'proposed';
  const at = plan.depots.find((one) => one.depot === depot);
  const items = plan.items.filter((one) => one.depot === depot);
  const item = items.find(({ id }) => id === chosen);
  const tried = useTry(
    held && held.date !== held.item.date
      ? { planId: plan.id, unit: held.item.unit, axles: held.item.axles, date: held.date }
      : undefined,
    plan.revision,
  );
  const takeBack = (revision: number) =>
    undo.mutate(
      { id: crypto.randomUUID(), revision },
      { onSuccess: () => toast('Taken back.'), onError: (error) => toast(error.message) },
    );
  const drop = (of: PlanItem, date: string) => {
    setHeld(undefined);
    if (date === of.date) return;
    move.mutate(
      { id: crypto.randomUUID(), revision: plan.revision, unit: of.unit, axles: of.axles, date },
      {
        onSuccess: ({ difference, currency, breaks }) =>
          toast(
            `${of.unit}, ${axlesInWords(of.axles)}: ${formatDate(date)}, locked there; ${moreOrLess(difference, currency)}.${breaks.length > 0 ? ` ${breaks.join(' ')}` : ''}`,
            { duration: TOAST_TO_ACT_MS, action: { label: 'Take back', onClick: () => takeBack(plan.revision + 1) } },
          ),
        onError: (error) => toast(error.message),
      },
    );
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <PlanHead plan={plan} {...{ me, depot, plans, onPlan, onPropose }} onUndo={() => takeBack(plan.revision)} />
      <div className="grid min-h-0 flex-1 grid-cols-1 gap-4 lg:grid-cols-[1fr_23rem]">
        <Board
          days={at?.days ?? []}
          items={items}
          today={plan.today}
          movable={may}
          replaces={plan.replaces}
          chosen={chosen}
          held={held}
          onChoose={setChosen}
          onHold={setHeld}
          onDrop={drop}
        />
        <SidePanel
          plan={plan}
          depot={depot}
          item={item}
          may={may}
          onChoose={setChosen}
          onHold={(one) => setHeld({ item: one, date: one.date })}
        />
      </div>
      {held && <HeldNote held={held} tried={tried.data} error={tried.error} waiting={tried.isFetching} />}
    </div>
  );
}
