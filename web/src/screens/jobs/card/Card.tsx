import { useEffect, useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { CardStep, JobCard } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { useMe } from '../../../api/people.ts';
import { useCard, useJustSent, usePending, useWrite, withPending, type CardState } from '../../../stores/card.ts';
import { Button } from '../../../ui/Button.tsx';
import { State } from '../../../ui/State.tsx';
import { DriveNotice } from '../DriveNotice.tsx';
import { CloseCard } from './CloseCard.tsx';
import { CardHead } from './CardHead.tsx';
import { CameBack } from './CameBack.tsx';
import { StepList } from './StepList.tsx';
import { END } from './end.ts';
import { StepPanel } from './StepPanel.tsx';

/** The service card: one step at a time for gloves, the whole list beside it where there is room. Dark, for the bay. */
export function Card() {
  const { id = '' } = useParams();
  const me = useMe();
  const card = useCard(id);
  useEffect(() => {
    document.documentElement.dataset.theme = 'bay';
    return () => {
      delete document.documentElement.dataset.theme;
    };
  }, []);
  if (card.isPending) return <State title="Loading the card" what="Fetching its steps and torques." quiet />;
  if (card.isLoadingError)
    return (
      <State
        title="The card couldn’t load"
        what={`${card.error.message} Open it once with a network; from then on it works without.`}
      >
        <Button onClick={() => void card.refetch()}>Try again</Button>
      </State>
    );
  return <Open key={id} state={card.data} me={me} />;
}

function Open({ state: { card, kept }, me }: { state: CardState; me: Me }) {
  const pending = usePending(card.job.id);
  const justSent = useJustSent(card.job.id, card.steps);
  const steps = withPending(card.steps, [...justSent, ...pending], me);
  const write = useWrite(card.job, me.id);
  const [address, setAddress] = useSearchParams();
  const [listed, setListed] = useState(false);
  // A card is opened at its first open step, and stays there until somebody goes on: signing it moves nothing by itself.
  const [opened] = useState(() => steps.find(({ done }) => done === null)?.id ?? END);
  const at = address.get('step') ?? opened;
  const shown = useRef(at);
  useEffect(() => {
    shown.current = at;
  });
  const go = (id: string) => {
    setListed(false);
    setAddress({ step: id }, { replace: true });
  };
  const step = steps.find(({ id }) => id === at);
  const writes = card.job.state === 'in work' && mayDo(me.role, 'work');
  return (
    <div className="flex h-full flex-col bg-ground">
      <CardHead
        {...{ card, steps, kept, me, write }}
        writes={writes}
        listed={listed}
        onList={() => setListed(!listed)}
      />
      <DriveNotice unit={card.job.unit} />
      <CameBack jobId={card.job.id} />
      <div className="grid min-h-0 flex-1 grid-cols-1 lg:grid-cols-[22rem_1fr]">
        <div className={`min-h-0 overflow-y-auto border-line lg:block lg:border-r ${listed ? '' : 'hidden'}`}>
          <StepList steps={steps} at={step ? step.id : END} onGo={go} />
        </div>
        <section aria-label="Step" className={`min-h-0 overflow-y-auto p-4 lg:block ${listed ? 'hidden' : ''}`}>
          {!writes && <Standing card={card} />}
          {step ? (
            <StepPanel
              key={step.id}
              {...{ step, steps, card, me, write, go }}
              writes={writes}
              onNext={() => {
                // Whoever went elsewhere while it was kept is not fetched from there.
                if (shown.current === step.id) go(nextOf(steps, step));
              }}
            />
          ) : (
            <CloseCard {...{ card, steps, me, go }} writes={writes} />
          )}
        </section>
      </div>
    </div>
  );
}

/** The next step that is not done, after this one; the end where none is. */
function nextOf(steps: readonly CardStep[], step: CardStep): string {
  const index = steps.findIndex(({ id }) => id === step.id);
  const after = [...steps.slice(index + 1), ...steps.slice(0, index)].find(({ done }) => done === null);
  return after?.id ?? END;
}

function Standing({ card }: { card: JobCard }) {
  const { state, id } = card.job;
  return (
    <p role="status" className="mb-4 border-l-4 border-ink pl-3">
      {state === 'in work'
        ? 'You may read this card; technicians and the coordinator write on it.'
        : `This job is ${state}.`}{' '}
      {(state === 'proposed' || state === 'booked') && (
        <>
          Nothing is written before work begins.{' '}
          <Link className="underline" to={`/jobs/${id}`}>
            Begin it on its page
          </Link>
          .
        </>
      )}
    </p>
  );
}
