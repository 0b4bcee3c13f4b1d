import { useNewId } from '../../ui/useNewId.ts';
import { mayDo } from '@mile-mark/contract';
import { useState, type FormEvent } from 'react';
import { figureOf, calibratedRange } from '@mile-mark/core';
import type { Me } from '@mile-mark/contract/people';
import { NewTorqueTool, TorqueUnit, type TorqueTool } from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useDepots } from '../../api/register.ts';
import { useAddCalibration, useAddTorqueTool, useChangeTorqueTool, useTorqueTools } from '../../api/specifications.ts';
import { useSession } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { formatDate } from '../../ui/format.ts';
import { Heads } from '../../ui/Heads.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { State } from '../../ui/State.tsx';
import { Why } from '../../ui/Why.tsx';

/** The torque tools of every depot, and when they must be calibrated. */
export function Tools({ me }: { me: Me }) {
  const tools = useTorqueTools();
  const today = useSession().data?.today ?? '';
  const [adding, setAdding] = useState(false);
  const [editing, setEditing] = useState<TorqueTool>();
  if (tools.isPending) return <State title="Loading" what="Fetching the torque tools." quiet />;
  if (tools.isLoadingError) return <State title="They couldn’t load" what={tools.error.message} />;
  const may = mayDo(me.role, 'equip');
  return (
    <div className="flex max-w-6xl flex-col gap-3">
      <div className="flex items-center gap-4">
        <p className="max-w-prose grow text-soft">
          A tool out of calibration, or with none on record, blocks the jobs that need it.
        </p>
        {may && (
          <Button look="next" onClick={() => setAdding(true)}>
            Put a tool on record …
          </Button>
        )}
      </div>
      {tools.data.length === 0 && <p>None on record yet: no job can be held against a bench.</p>}
      {tools.data.length > 0 && (
        <table className="w-full bg-sheet">
          <Heads
            names={['Tool', 'Depot', 'Range', 'Graduation', 'Drive, length', 'Calibration', ...(may ? ['Edit'] : [])]}
          />
          <tbody>
            {tools.data.map((tool) => (
              <tr key={tool.id} className={`border-b border-hair align-top ${tool.retired ? 'text-soft' : ''}`}>
                <td className="px-2 py-1.5">
                  {tool.name}
                  <span className="block text-soft">{tool.retired ? 'retired' : kindInWords(tool)}</span>
                </td>
                <td className="px-2 py-1.5">{tool.depot}</td>
                <td className="figures px-2 py-1.5">
                  <Range tool={tool} />
                </td>
                <td className="figures px-2 py-1.5">
                  {tool.graduation === null ? '' : `${tool.graduation} ${tool.unit}`}
                </td>
                <td className="figures px-2 py-1.5">
                  {[
                    tool.drive,
                    tool.lengthMm && `L ${tool.lengthMm} mm`,
                    tool.extensionMm && `E ${tool.extensionMm} mm`,
                  ]
                    .filter((part) => part)
                    .join(', ')}
                </td>
                <td className="figures px-2 py-1.5">
                  <Calibration tool={tool} today={today} />
                </td>
                {may && (
                  <td className="px-2 py-1.5">
                    <Button onClick={() => setEditing(tool)} aria-label={`Edit ${tool.name}`}>
                      Edit …
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {adding && <AddTool onClose={() => setAdding(false)} />}
      {editing && <EditTool tool={editing} today={today} onClose={() => setEditing(undefined)} />}
    </div>
  );
}

function kindInWords({ kind, type, ratio }: TorqueTool): string {
  if (kind === 'wrench') return type === 'indicating' ? 'indicating wrench' : 'setting wrench';
  return kind === 'adapter' ? 'adapter in line' : `multiplier ${ratio} to 1`;
}

function Range({ tool }: { tool: TorqueTool }) {
  const { kind, least, most, unit } = tool;
  if (kind !== 'wrench' || least === null) return <>up to {`${most} ${unit}`}</>;
  const range = calibratedRange({
    id: '',
    name: '',
    unit,
    least,
    most,
    graduation: 1,
    lengthMm: null,
    calibrationDue: null,
  });
  if (range.least === least) return <>{`${least} to ${most} ${unit}`}</>;
  return (
    <Why
      label="Range that counts"
      reason={
        <p>
          It states {least} to {most} {unit}; a wrench is calibrated from 20 % of its full scale up (ISO 6789-1:2017,
          from memory).
        </p>
      }
    >{`${range.least} to ${most} ${unit}`}</Why>
  );
}

function Calibration({ tool, today }: { tool: TorqueTool; today: string }) {
  if (tool.kind === 'adapter') return <span className="text-soft">none needed</span>;
  if (tool.calibrationDue === null) return <strong className="text-brick">none on record: blocked</strong>;
  if (tool.calibrationDue < today)
    return <strong className="text-brick">overdue since {formatDate(tool.calibrationDue)}: blocked</strong>;
  return <>due {formatDate(tool.calibrationDue)}</>;
}

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

function AddTool({ onClose }: { onClose: () => void }) {
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
            Put on record
          </Button>
        </div>
      </form>
    </Modal>
  );
}

function EditTool({ tool, today, onClose }: { tool: TorqueTool; today: string; onClose: () => void }) {
  const calibrate = useAddCalibration();
  const change = useChangeTorqueTool();
  const depots = useDepots();
  const [doneOn, setDoneOn] = useState(today);
  const [due, setDue] = useState('');
  const [id] = useNewId();
  const problem = calibrate.error instanceof ApiProblem ? calibrate.error : undefined;
  return (
    <Modal open onClose={onClose} title={tool.name}>
      <div className="flex flex-col gap-4">
        {tool.kind !== 'adapter' && (
          <form
            className="flex flex-wrap items-end gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              calibrate.mutate({ toolId: tool.id, id, doneOn, due }, { onSuccess: onClose });
            }}
          >
            <Field
              label="Calibrated on"
              type="date"
              value={doneOn}
              error={problem?.of('doneOn')}
              onChange={(event) => setDoneOn(event.target.value)}
            />
            <Field
              label="Next due"
              type="date"
              value={due}
              error={problem?.of('due')}
              onChange={(event) => setDue(event.target.value)}
            />
            <Button look="next" type="submit" disabled={doneOn === '' || due === '' || calibrate.isPending}>
              Record the calibration
            </Button>
            {calibrate.isError && !problem?.problem.errors?.length && (
              <p role="alert" className="text-brick">
                {calibrate.error.message}
              </p>
            )}
          </form>
        )}
        <div className="flex items-end gap-3 border-t border-line pt-3">
          <Choose
            label="Depot"
            value={tool.depot}
            onChange={(event) =>
              change.mutate(
                { id: tool.id, depot: event.target.value, retired: tool.retired, revision: tool.revision },
                { onSuccess: onClose },
              )
            }
          >
            {depots.data?.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
          <Button
            onClick={() =>
              change.mutate(
                { id: tool.id, depot: tool.depot, retired: !tool.retired, revision: tool.revision },
                { onSuccess: onClose },
              )
            }
          >
            {tool.retired ? 'In use again' : 'Retire it'}
          </Button>
          {change.isError && (
            <p role="alert" className="text-brick">
              {change.error.message}
            </p>
          )}
        </div>
      </div>
    </Modal>
  );
}
