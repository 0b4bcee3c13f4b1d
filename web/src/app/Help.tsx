import { useNavigate } from 'react-router';
import type { SessionState } from '@mile-mark/contract/people';
import { useSetPreferences, useSignOut } from '../api/people.ts';
import { forgetKept, useOutbox } from '../stores/outbox.ts';
import { Button } from '../ui/Button.tsx';
import { Modal } from '../ui/Modal.tsx';
import { SegmentedControl } from '../ui/SegmentedControl.tsx';
import { Tick } from '../ui/Tick.tsx';
import { OwnPassword } from './OwnPassword.tsx';
import { OwnSessions } from './OwnSessions.tsx';
import { SHORTCUTS } from './shortcuts.ts';

/** Said in the head, which keeps its height: nothing under a finger moves when the network comes or goes. */
export const WITHOUT_NETWORK =
  'Measuring goes on: it is kept on this device and sent later. Elsewhere what is shown may be old and nothing can be saved.';

export function Help({
  open,
  onClose,
  me,
  offline,
  onWalk,
}: {
  open: boolean;
  onClose: () => void;
  me: NonNullable<SessionState['me']>;
  offline: boolean;
  onWalk: () => void;
}) {
  const signOut = useSignOut();
  const unsent = useOutbox(({ entries }) => entries.filter(({ personId }) => personId === me.id).length);
  const setPreferences = useSetPreferences();
  const navigate = useNavigate();
  const { distanceUnit, thicknessUnit } = me;
  return (
    <Modal open={open} onClose={onClose} title={[`${me.name}, ${me.role}`, ...me.depots].join(', ')}>
      {offline && <p className="mb-4 border-l-4 border-ink pl-2 font-medium">No network. {WITHOUT_NETWORK}</p>}
      <div className="grid gap-6 sm:grid-cols-2">
        <section>
          <h3 className="mb-2 font-semibold">Keys</h3>
          <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1">
            {SHORTCUTS.map(({ keys, does }) => (
              <div key={keys} className="contents">
                <dt className="figures font-semibold">{keys}</dt>
                <dd className="text-soft">{does}</dd>
              </div>
            ))}
          </dl>
        </section>
        <section className="flex flex-col gap-3">
          <h3 className="font-semibold">Units you read in</h3>
          <SegmentedControl
            label="Distance"
            value={distanceUnit}
            options={['mi', 'km']}
            onChange={(unit) => setPreferences.mutate({ distanceUnit: unit })}
          />
          <SegmentedControl
            label="Thickness"
            value={thicknessUnit}
            options={['mm', '1/32 in', 'in']}
            onChange={(unit) => setPreferences.mutate({ thicknessUnit: unit })}
          />
          <SegmentedControl
            label="Torque"
            value={me.torqueShown}
            options={['as stated', 'N·m', 'lbf·ft']}
            onChange={(unit) => setPreferences.mutate({ torqueShown: unit })}
          />
          <Tick checked={me.singleKeys} onChange={(on) => setPreferences.mutate({ singleKeys: on })}>
            Single letters and figures are shortcuts
          </Tick>
          <Button
            onClick={() => {
              onClose();
              onWalk();
            }}
          >
            Walk through my places
          </Button>
          <p className="text-soft">{me.email}</p>
          <OwnPassword />
          {/* Nothing is asked where nothing answers: it would say no network for longer than that is so. */}
          {!offline && <OwnSessions />}
          {unsent > 0 && (
            <p role="alert" className="border-l-4 border-ink pl-2">
              {unsent} {unsent === 1 ? 'entry is' : 'entries are'} on this device only. Signing out keeps{' '}
              {unsent === 1 ? 'it' : 'them'} here, unsent, until you sign in on this device again.
            </p>
          )}
          <Button
            onClick={() =>
              signOut.mutate(undefined, {
                onSuccess: () => {
                  void forgetKept();
                  void navigate('/sign-in');
                },
              })
            }
          >
            {unsent > 0 ? 'Sign out all the same' : 'Sign out'}
          </Button>
          {signOut.isError && (
            <p role="alert" className="text-brick">
              {signOut.error.message}
            </p>
          )}
        </section>
      </div>
    </Modal>
  );
}
