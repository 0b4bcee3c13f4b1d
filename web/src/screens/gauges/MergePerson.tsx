import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import { countInWords } from '@mile-mark/contract/words';
import type { Person } from '@mile-mark/contract/people';
import { useMergePerson, usePeople } from '../../api/people.ts';
import { Choose } from '../../ui/Choose.tsx';
import { FormSheet } from '../../ui/FormSheet.tsx';

/** Says that two entries are one person, as where a sheet wrote a name otherwise. */
export function MergePerson({ person: { id, name }, onClose }: { person: Person; onClose: () => void }) {
  const others = usePeople().data?.filter((one) => one.id !== id && mayDo(one.role, 'measure')) ?? [];
  const [into, setInto] = useState('');
  const merge = useMergePerson();
  const other = others.find((one) => one.id === into);
  const save = async () => {
    const { moved } = await merge.mutateAsync({ id, into });
    toast(
      `${name} is ${other?.name ?? 'one'} now: ${countInWords(moved, 'entry', 'entries')} moved; marks are made anew.`,
    );
    onClose();
  };
  return (
    <FormSheet
      title={`Who is ${name}?`}
      save="Make them one"
      error={merge.error}
      disabled={merge.isPending || into === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <Choose label={`${name} is the same person as`} value={into} onChange={(event) => setInto(event.target.value)}>
        <option value="">Choose …</option>
        {others.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </Choose>
      <p className="max-w-prose">
        All that was measured, signed and said under {name} stands under {other?.name ?? 'the other'} from then on, and
        how they read is learnt from both. A sheet that names {name} means {other?.name ?? 'the other'}.{' '}
        <strong>It can’t be taken back.</strong>
      </p>
    </FormSheet>
  );
}
