import { useState } from 'react';
import { Link } from 'react-router';
import type { CardStep, JobCard } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import type { NewEntry } from '../../../stores/card.ts';
import { Button } from '../../../ui/Button.tsx';
import { CardMenu } from './CardMenu.tsx';

interface Props {
  card: JobCard;
  steps: readonly CardStep[];
  kept: boolean;
  me: Me;
  writes: boolean;
  listed: boolean;
  onList: () => void;
  write: (...entries: NewEntry[]) => Promise<void>;
}

/** Which vehicle, how far it is, who has the card. */
export function CardHead({ card, steps, kept, me, writes, listed, onList, write }: Props) {
  const [menu, setMenu] = useState(false);
  const done = steps.filter((step) => step.done !== null).length;
  const holds = steps.filter((step) => step.hold && step.done === null).length;
  const minutes = Math.round(steps.filter((step) => step.done === null).reduce((sum, step) => sum + step.minutes, 0));
  return (
    <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-2">
      <Link
        to={`/jobs/${card.job.id}`}
        className="figures text-2xl leading-tight font-semibold underline decoration-line underline-offset-4"
      >
        {card.job.unit}
      </Link>
      <span className="figures text-lg">
        {done} of {steps.length} steps
      </span>
      <span className="text-soft">
        {holds > 0 ? `${holds} that must be done` : 'every hold is done'}
        {minutes > 0 && `, about ${minutes} min`}
      </span>
      <span className="text-soft">
        {card.job.state === 'in work'
          ? card.holder === null
            ? 'paused'
            : card.holder === me.name
              ? 'you have the card'
              : `${card.holder} has the card`
          : card.job.state}
        {kept && ', as last read: no network'}
      </span>
      <span className="ml-auto flex gap-2">
        <Button large className="lg:hidden" aria-expanded={listed} onClick={onList}>
          {listed ? 'One step' : 'All steps'}
        </Button>
        {writes && (
          <Button large onClick={() => setMenu(true)}>
            More …
          </Button>
        )}
      </span>
      {menu && <CardMenu {...{ card, me, write }} onClose={() => setMenu(false)} />}
    </header>
  );
}
