import { mayDo } from '@mile-mark/contract';
import { useState } from 'react';
import { useAddPerson, useMe, usePeople } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { useNewId } from '../../ui/useNewId.ts';

const letters = (name: string) => name.toLowerCase().replace(/[^\p{L}]/gu, '');
/** Whether two names may be one person's: the same letters, or the same last word and first letter. */
const alike = (a: string, b: string) => {
  const last = (name: string) => letters(name.split(/\s+/).at(-1) ?? '');
  return letters(a) === letters(b) || (last(a) === last(b) && letters(a)[0] === letters(b)[0]);
};

/** Who measured: somebody on record, or a technician put on record here. Names like the sheet's own come first. */
export function AskWho({
  name,
  message,
  onPick,
}: {
  name: string | null;
  message: string;
  onPick: (id: string) => void;
}) {
  const people = usePeople();
  const add = useAddPerson();
  const [newId, renewId] = useNewId();
  const me = useMe();
  const [typed, setTyped] = useState(name ?? '');
  const measuring = people.data?.filter(({ role }) => mayDo(role, 'measure')) ?? [];
  const like = measuring.filter((one) => name !== null && alike(one.name, name));
  const [likely] = like;
  return (
    <div className="flex flex-wrap items-end gap-3">
      <p className="w-72 font-medium">{message}</p>
      {likely && <Button onClick={() => onPick(likely.id)}>The same as {likely.name}</Button>}
      <Choose
        label={name ? `“${name}” is` : 'Who measured'}
        value=""
        onChange={(event) => event.target.value && onPick(event.target.value)}
      >
        <option value="">Choose …</option>
        {[...like, ...measuring.filter((one) => !like.includes(one))].map(({ id, name: known }) => (
          <option key={id} value={id}>
            {known}
          </option>
        ))}
      </Choose>
      {mayDo(me.role, 'administer') && (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            const added = () => {
              renewId();
              onPick(newId);
            };
            add.mutate({ id: newId, name: typed, role: 'technician' }, { onSuccess: added });
          }}
        >
          <Field
            label="or a new technician"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            error={add.error?.message}
          />
          <Button type="submit" disabled={typed.trim() === '' || add.isPending}>
            Add technician
          </Button>
        </form>
      )}
    </div>
  );
}
