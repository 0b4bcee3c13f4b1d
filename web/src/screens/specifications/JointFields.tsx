import { HeadKind, Pattern, Preparation, Strength } from '@mile-mark/contract/specifications';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { TorqueFields } from './TorqueFields.tsx';
import type { JointDraft } from './draft.ts';

export function JointFields({
  draft,
  shown,
  wrong,
  position,
  onPosition,
  onChange,
}: {
  draft: JointDraft;
  shown: (field: string) => string | undefined;
  wrong: Record<string, string>;
  position: string;
  onPosition: ((position: string) => void) | undefined;
  onChange: (change: Partial<JointDraft>) => void;
}) {
  const field = (name: keyof JointDraft, label: string, placeholder?: string) => (
    <Field
      label={label}
      value={String(draft[name])}
      placeholder={placeholder}
      autoComplete="off"
      error={shown(name)}
      onChange={(event) => onChange({ [name]: event.target.value })}
    />
  );
  const choose = (name: keyof JointDraft, label: string, options: readonly string[]) => (
    <Choose
      label={label}
      value={String(draft[name])}
      error={shown(name)}
      onChange={(event) => onChange({ [name]: event.target.value })}
    >
      <option value="">unknown</option>
      {options.map((option) => (
        <option key={option}>{option}</option>
      ))}
    </Choose>
  );
  return (
    <>
      <Tick checked={draft.absent} onChange={(checked) => onChange({ absent: checked })}>
        The document says that this axle has no such joint
      </Tick>
      {!draft.absent && (
        <>
          <fieldset className="grid grid-cols-4 gap-3">
            <legend className="mb-1 font-semibold">Fastener</legend>
            {onPosition && (
              <Field
                label="Which, if there are several"
                placeholder="upper"
                value={position}
                onChange={(event) => onPosition(event.target.value)}
              />
            )}
            {field('thread', 'Thread', 'M14x1.5')}
            {choose('strength', 'Class or grade', Strength.options)}
            {choose('headKind', 'Head', HeadKind.options)}
            {field('headSize', 'Head size', '21 mm, T50')}
            {field('count', 'Count a wheel end')}
            {field('counterHold', 'Counter-hold', '17 mm')}
          </fieldset>
          <fieldset className="grid grid-cols-4 gap-3">
            <legend className="mb-1 font-semibold">Torque</legend>
            <TorqueFields draft={draft} wrong={{ ...wrong }} onChange={onChange} />
          </fieldset>
          <fieldset className="grid grid-cols-4 gap-3">
            <legend className="mb-1 font-semibold">How</legend>
            {choose('preparation', 'Preparation', Preparation.options)}
            {choose('oneTimeUse', 'New each time', ['yes', 'no'])}
            {choose('pattern', 'Order', Pattern.options)}
            {field('recheckMiles', 'Re-check after, miles')}
          </fieldset>
        </>
      )}
      {field('note', 'Note')}
    </>
  );
}
