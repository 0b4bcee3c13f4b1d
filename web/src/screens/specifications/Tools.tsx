import { DataTable } from '../../ui/DataTable.tsx';
import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { Me } from '@mile-mark/contract/people';
import type { TorqueTool } from '@mile-mark/contract/specifications';
import { calibratedRange } from '@mile-mark/core';
import { useSession } from '../../api/people.ts';
import { useTorqueTools } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { Why } from '../../ui/Why.tsx';
import { formatDate } from '../../ui/format.ts';
import { AddTool } from './AddTool.tsx';
import { EditTool } from './EditTool.tsx';

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
        <DataTable name="torque-tools" className="w-full bg-sheet">
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
        </DataTable>
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
