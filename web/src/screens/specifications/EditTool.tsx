import { useState } from 'react';
import type { TorqueTool } from '@mile-mark/contract/specifications';
import { ApiProblem } from '../../api/client.ts';
import { useDepots } from '../../api/register.ts';
import { useAddCalibration, useChangeTorqueTool } from '../../api/specifications.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';

export function EditTool({ tool, today, onClose }: { tool: TorqueTool; today: string; onClose: () => void }) {
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
            <DateField
              label="Calibrated on"
              value={doneOn}
              error={problem?.of('doneOn')}
              onChange={(iso) => setDoneOn(iso)}
            />
            <DateField label="Next due" value={due} error={problem?.of('due')} onChange={(iso) => setDue(iso)} />
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
