import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Me } from '@mile-mark/contract/people';
import { useSetPreferences } from '../api/people.ts';
import { Button } from '../ui/Button.tsx';
import { Modal } from '../ui/Modal.tsx';
import { type Stop, WALKS } from './walks.ts';

/** Offered to whoever is new, above the page and in nobody's way. */
export function WalkOffer({ me, onWalk }: { me: Me; onWalk: () => void }) {
  const set = useSetPreferences();
  if (me.walked) return null;
  return (
    <section
      aria-label="First walk"
      className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-raised px-4 py-1.5 print:hidden"
    >
      <p>New here? {WALKS[me.role].length} places, a minute.</p>
      <Button onClick={onWalk}>Show me</Button>
      <Button look="bare" onClick={() => set.mutate({ walked: true })}>
        Not now
      </Button>
    </section>
  );
}

/** The places of a role one after another, each with what one does there. */
export function FirstWalk({ me, onClose }: { me: Me; onClose: () => void }) {
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const set = useSetPreferences();
  const stops = WALKS[me.role];
  const stop = stops[at] as Stop;
  const end = () => {
    if (!me.walked) set.mutate({ walked: true });
    onClose();
  };
  return (
    <Modal open onClose={end} title={`${at + 1} of ${stops.length}: ${stop.name}`}>
      <p className="min-h-24 max-w-prose text-base">{stop.told}</p>
      <div className="flex flex-wrap gap-2">
        {at + 1 < stops.length ? (
          <Button look="next" large onClick={() => setAt(at + 1)}>
            Next place
          </Button>
        ) : (
          <Button look="next" large onClick={end}>
            Done
          </Button>
        )}
        {at > 0 && (
          <Button large onClick={() => setAt(at - 1)}>
            Back
          </Button>
        )}
        <Button
          large
          onClick={() => {
            end();
            void navigate(stop.to);
          }}
        >
          Go there
        </Button>
      </div>
    </Modal>
  );
}
