import { useState } from 'react';
import { toast } from 'sonner';
import type { CardStep, JobCard } from '@mile-mark/contract/jobs';
import { actionInWords } from '@mile-mark/contract/words';
import { FINDING_ITEMS, findingOf, type JobAction } from '@mile-mark/core';
import { useChangeScope } from '../../../api/jobs.ts';
import { Button } from '../../../ui/Button.tsx';

/** What a finding of this step asks for and the job has not yet: one touch adds it, with the finding as its reason. */
export function AsksFor({ step, card, writes }: { step: CardStep; card: JobCard; writes: boolean }) {
  const change = useChangeScope(card.job.id);
  const [adding, setAdding] = useState(false);
  const state = step.done?.text ?? '';
  const item = FINDING_ITEMS.find((one) => findingOf(one, state) && step.states.includes(state));
  const found = item && findingOf(item, state);
  const scope = card.job.axles.find(({ axle }) => axle === step.axle)?.scope ?? [];
  const sideHas = (action: JobAction) =>
    scope.some((one) => one.action === action && (one.sides === 'both' || one.sides[0] === step.side));
  const asked = (found?.actions ?? []).filter((action) => !sideHas(action));
  if (!found || (found.causes ?? []).length === 0) return null;
  const add = async () => {
    setAdding(true);
    try {
      for (const action of asked)
        await change.mutateAsync({
          id: crypto.randomUUID(),
          axle: step.axle ?? 1,
          action,
          sides: step.side && action !== 'pads' && !action.startsWith('rotors') ? [step.side] : 'both',
          wanted: true,
          reason: `found: ${item ?? ''} ${state}`,
        });
      toast('Added; the card has its steps.');
    } catch (error) {
      toast((error as Error).message);
    } finally {
      setAdding(false);
    }
  };
  return (
    <div className="flex flex-col items-start gap-2 border-l-4 border-brick pl-3 text-lg">
      <p>
        Likely cause: {(found.causes ?? []).join(', ')}.
        {found.severity === 'do not drive' && <strong> Do not drive until it is mended.</strong>}
      </p>
      {asked.length > 0 && (
        <>
          <p>It asks for: {asked.map((action) => actionInWords({ action, sides: 'both' })).join(', ')}.</p>
          {writes && (
            <Button look="next" large disabled={adding} onClick={() => void add()}>
              Add it to the job
            </Button>
          )}
        </>
      )}
    </div>
  );
}
