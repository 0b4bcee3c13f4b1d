import { useState } from 'react';
import { toast } from 'sonner';
import type { Person } from '@mile-mark/contract/people';
import { useEndAccess } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { formatDate } from '../../ui/format.ts';
import { EditPerson } from './EditPerson.tsx';
import { MergePerson } from './MergePerson.tsx';
import { ResetLink } from './ResetLink.tsx';

interface Props {
  person: Person;
  mayEnd: boolean;
  mayEdit: boolean;
  mayMerge: boolean;
  /** Whether it is who reads this. */
  own: boolean;
  /** Whether addresses are told. */
  tells: boolean;
}

/** One person on record, to be corrected; their access can be ended, which takes two presses. */
export function PersonRow({ person, mayEnd, mayEdit, mayMerge, own, tells }: Props) {
  const [asking, setAsking] = useState(false);
  const [editing, setEditing] = useState(false);
  const [linking, setLinking] = useState(false);
  const [merging, setMerging] = useState(false);
  const { name, role, email, depots, leftOn, signsIn } = person;
  return (
    <tr className="border-b border-hair">
      <td className="px-2 py-1">{name}</td>
      <td className="px-2">{role}</td>
      <td className="px-2 text-soft">{depots.length === 0 ? 'all depots' : depots.join(', ')}</td>
      <td className="px-2 text-soft">
        {leftOn ? `left ${formatDate(leftOn)}` : (email ?? (tells && !signsIn ? 'no account' : ''))}
      </td>
      <td className="px-2 text-right">
        <div className="flex justify-end gap-4 whitespace-nowrap">
          {mayEdit && (
            <Button look="bare" aria-label={`Edit ${name}`} onClick={() => setEditing(true)}>
              Edit …
            </Button>
          )}
          {mayEdit && !own && signsIn && (
            <Button look="bare" aria-label={`A new password for ${name}`} onClick={() => setLinking(true)}>
              Forgotten …
            </Button>
          )}
          {mayMerge && (
            <Button look="bare" aria-label={`${name} is somebody else on record`} onClick={() => setMerging(true)}>
              Same as …
            </Button>
          )}
          {mayEnd && (
            <Button look="bare" aria-label={`End the access of ${name}`} onClick={() => setAsking(true)}>
              End access …
            </Button>
          )}
        </div>
        {editing && <EditPerson person={person} own={own} onClose={() => setEditing(false)} />}
        {merging && <MergePerson person={person} onClose={() => setMerging(false)} />}
        {linking && <ResetLink person={person} onClose={() => setLinking(false)} />}
        {asking && <EndAccess person={person} onClose={() => setAsking(false)} />}
      </td>
    </tr>
  );
}

function EndAccess({ person: { id, name }, onClose }: { person: Person; onClose: () => void }) {
  const end = useEndAccess();
  return (
    <Modal open onClose={onClose} title={`End the access of ${name}`}>
      <div className="flex flex-col gap-3 text-left">
        <p>
          {name} is signed out everywhere at once and can’t sign in again. What {name} measured and signed stays on
          record under that name; an open card is taken up by somebody else. What was not sent yet stays on the tablet
          it was written on and has to be written anew.
        </p>
        {end.isError && (
          <p role="alert" className="text-brick">
            {end.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button
            look="next"
            disabled={end.isPending}
            onClick={() =>
              end.mutate(id, {
                onSuccess: () => {
                  toast(`${name} can no longer sign in.`);
                  onClose();
                },
              })
            }
          >
            End it
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </div>
    </Modal>
  );
}
