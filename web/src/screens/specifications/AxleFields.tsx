import { Field } from '../../ui/Field.tsx';
import type { AxleDraft } from './draft.ts';

const AXLE_LABELS: [keyof AxleDraft, string][] = [
  ['padMinMm', 'Pads at least, mm'],
  ['rotorDiscardMm', 'Rotor discard, mm'],
  ['rotorMachineToMm', 'Rotor machine-to, mm'],
  ['runoutMm', 'Runout at most, mm'],
  ['thicknessVariationMm', 'Thickness variation at most, mm'],
  ['fluidGrade', 'Fluid grade'],
];

export function AxleFields({
  draft,
  shown,
  onChange,
}: {
  draft: AxleDraft;
  shown: (field: string) => string | undefined;
  onChange: (change: Partial<AxleDraft>) => void;
}) {
  const field = (name: keyof AxleDraft, label: string) => (
    <Field
      key={name}
      label={label}
      value={draft[name]}
      error={shown(name)}
      autoComplete="off"
      onChange={(event) => onChange({ [name]: event.target.value })}
    />
  );
  return (
    <>
      <div className="grid grid-cols-3 gap-3">{AXLE_LABELS.map(([name, label]) => field(name, label))}</div>
      {field('parkingBrake', 'Parking brake: how it is put in service mode')}
      {field('bedIn', 'Bed-in')}
      {field('note', 'Note')}
    </>
  );
}
