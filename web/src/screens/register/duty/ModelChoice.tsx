import type { Model } from '@mile-mark/contract/register';
import { Choose } from '../../../ui/Choose.tsx';

export function ModelChoice({
  models,
  value,
  onChange,
}: {
  models: Model[];
  value: string;
  onChange: (name: string) => void;
}) {
  return (
    <Choose label="Weighed on" value={value} onChange={(event) => onChange(event.target.value)}>
      {models.map(({ id, name }) => (
        <option key={id}>{name}</option>
      ))}
    </Choose>
  );
}
