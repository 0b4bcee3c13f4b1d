import { TorqueUnit } from '@mile-mark/contract/specifications';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import type { TorqueDraft } from './draft.ts';

/** The figures of a torque, as the document states them. */
export function TorqueFields({
  draft,
  wrong,
  onChange,
}: {
  draft: TorqueDraft;
  wrong: Record<string, string>;
  onChange: (change: Partial<TorqueDraft>) => void;
}) {
  const field = (name: keyof TorqueDraft, label: string, placeholder?: string) => (
    <Field
      label={label}
      value={draft[name]}
      placeholder={placeholder}
      autoComplete="off"
      error={wrong[name]}
      onChange={(event) => onChange({ [name]: event.target.value })}
    />
  );
  return (
    <>
      <Choose
        label="Unit of the document"
        value={draft.unit}
        error={wrong.unit}
        onChange={(event) => onChange({ unit: event.target.value as TorqueDraft['unit'] })}
      >
        <option value="">not stated</option>
        {TorqueUnit.options.map((unit) => (
          <option key={unit}>{unit}</option>
        ))}
      </Choose>
      {field('least', 'Torque, least')}
      {field('nominal', 'Torque, nominal')}
      {field('most', 'Torque, most')}
      {field('passes', 'Earlier passes, in order', 'figures with commas between')}
      {field('angleDeg', 'Then turned by, °')}
      {field('statedToo', 'Stated in another unit too', 'figure and unit')}
    </>
  );
}
