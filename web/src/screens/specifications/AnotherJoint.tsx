import { useState } from 'react';
import type { JointKindRow } from '@mile-mark/contract/specifications';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';

export function AnotherJoint({
  kinds,
  onEnter,
  onNewKind,
}: {
  kinds: JointKindRow[];
  onEnter: (kind: JointKindRow) => void;
  onNewKind: (() => void) | undefined;
}) {
  const [id, setId] = useState('');
  const kind = kinds.find((one) => one.id === id);
  return (
    <div className="flex flex-wrap items-end gap-3">
      <Choose label="Another joint" value={id} onChange={(event) => setId(event.target.value)}>
        <option value="">choose …</option>
        {kinds.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </Choose>
      <Button disabled={!kind} onClick={() => kind && onEnter(kind)}>
        Enter it …
      </Button>
      {onNewKind && <Button onClick={onNewKind}>A kind that is not on the list …</Button>}
    </div>
  );
}
