import { type FormEvent, useState } from 'react';
import { NewTorqueTool, type TorqueTool, TorqueUnit } from '@mile-mark/contract/specifications';
import { figureOf } from '@mile-mark/core';
import { ApiProblem } from '../../api/client.ts';
import { useDepots } from '../../api/register.ts';
import { useAddTorqueTool } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { useNewId } from '../../ui/useNewId.ts';

type Kind = TorqueTool['kind'];
const KIND_FIELDS: Record<Kind, [name: string, label: string][]> = {
  wrench: [
    ['least', 'Range from'],
    ['most', 'to'],
    ['graduation', 'Graduation'],
    ['lengthMm', 'L, grip to drive, mm, if adapters are used'],
  ],
  adapter: [
    ['extensionMm', 'E, drive to fastener, mm'],
    ['most', 'Takes at most'],
  ],
  multiplier: [
    ['ratio', 'Ratio, output over input'],
    ['most', 'Output at most'],
  ],
};

export function AddTool({ onClose }: { onClose: () => void }) {
  const add = useAddTorqueTool();
  const depots = useDepots();
  const [kind, setKind] = useState<Kind>('wrench');
  const [typed, setTyped] = useState<Record<string, string>>({ unit: 'N·m', type: 'setting' });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [id] = useNewId();
  const problem = add.error instanceof ApiProblem ? add.error : undefined;
  const depot = typed.depot ?? depots.data?.[0]?.name ?? '';
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const figures = Object.fromEntries(
      KIND_FIELDS[kind].map(([name]) => {
        const thousandsLikely = name === 'least' || name === 'most';
        return [name, figureOf(typed[name] ?? '', { thousandsLikely }) ?? null];
      }),
    );
    const parsed = NewTorqueTool.safeParse({
      id,
      kind,
      name: typed.name ?? '',
      depot,
      unit: typed.unit,
      drive: typed.drive ?? null,
      endSize: typed.endSize ?? null,
      type: typed.type,
      calibrationDue: typed.calibrationDue || null,
      ...figures,
    });
    if (!parsed.success) {
      setWrong(Object.fromEntries(parsed.error.issues.map(({ path, message }) => [String(path[0]), message])));
      return;
    }
    setWrong({});
    add.mutate(parsed.data, { onSuccess: onClose });
  };
  const field = (name: string, label: string, rest: object = {}) => (
    <Field
      key={name}
      label={label}
      value={typed[name] ?? ''}
      error={wrong[name] ?? problem?.of(name)}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      {...rest}
    />
  );
  return (
    <Modal open onClose={onClose} title="A torque tool">
      <form className="grid grid-cols-2 gap-3" onSubmit={submit}>
        <div className="col-span-2">
          <SegmentedControl<Kind>
            label="Kind"
            value={kind}
            options={['wrench', 'adapter', 'multiplier']}
            onChange={setKind}
          />
        </div>
        {field('name', 'Name')}
        <Choose label="Depot" value={depot} onChange={(event) => setTyped({ ...typed, depot: event.target.value })}>
          {depots.data?.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
        <Choose
          label="Unit of its scale"
          value={typed.unit ?? ''}
          onChange={(event) => setTyped({ ...typed, unit: event.target.value })}
        >
          {TorqueUnit.options.map((unit) => (
            <option key={unit}>{unit}</option>
          ))}
        </Choose>
        {kind === 'wrench' && (
          <Choose
            label="Type"
            value={typed.type ?? ''}
            onChange={(event) => setTyped({ ...typed, type: event.target.value })}
          >
            <option value="setting">setting (clicks)</option>
            <option value="indicating">indicating (shows)</option>
          </Choose>
        )}
        {KIND_FIELDS[kind].map(([name, label]) => field(name, label))}
        {kind === 'adapter' && field('endSize', 'Its own end fits, blank for any socket', { placeholder: '21 mm' })}
        {field('drive', 'Square drive', { placeholder: '1/2 in' })}
        {kind !== 'adapter' && field('calibrationDue', 'Calibration due', { type: 'date' })}
        {add.isError && !problem?.problem.errors?.length && (
          <p role="alert" className="col-span-2 text-brick">
            {add.error.message}
          </p>
        )}
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={add.isPending}>
            Add
          </Button>
        </div>
      </form>
    </Modal>
  );
}
