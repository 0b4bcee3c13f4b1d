import { useState } from 'react';
import { toast } from 'sonner';
import type { Order } from '@mile-mark/contract/parts';
import { moneyInWords } from '@mile-mark/contract/words';
import { ApiProblem } from '../../api/client.ts';
import { useApproveOrder, useChangeOrder } from '../../api/parts.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { figure } from '../../api/typed.ts';
import { CallOff } from './CallOff.tsx';
import { useNewId } from '../../ui/useNewId.ts';

interface Line {
  part: string;
  name: string;
  units: string;
}

/** Looks over a proposal: units changed, lines left out or added; then it goes out, or is called off. */
export function Approve({ order, onClose }: { order: Order; onClose: () => void }) {
  const [lines, setLines] = useState<Line[]>(
    order.lines.map(({ part, name, units }) => ({ part, name, units: String(units) })),
  );
  const [reason, setReason] = useState('');
  const [id] = useNewId();
  const [callingOff, setCallingOff] = useState(false);
  const [change, approve] = [useChangeOrder(order.id), useApproveOrder(order.id)];
  const changed =
    JSON.stringify(lines.map(({ part, units }) => [part, units])) !==
    JSON.stringify(order.lines.map(({ part, units }) => [part, String(units)]));
  const error = change.error ?? approve.error;
  const problem = error instanceof ApiProblem ? error : undefined;
  const doubts = order.lines.flatMap((line) => line.doubts);
  const save = () =>
    change.mutate(
      { revision: order.revision, lines: lines.map(({ part, units }) => ({ part, units: figure(units, true) })) },
      { onSuccess: () => (toast('The proposal is changed; look it over again and approve it.'), onClose()) },
    );
  const send = () =>
    approve.mutate(
      { id, revision: order.revision, ...(reason.trim() === '' ? {} : { reason }) },
      { onSuccess: () => (toast(`${order.number} is approved and goes out to ${order.supplier}.`), onClose()) },
    );
  if (callingOff) return <CallOff order={order} onClose={onClose} />;
  return (
    <Modal open onClose={onClose} title={`${order.number}, ${order.supplier} for ${order.depot}`} wide>
      <Lines
        lines={lines}
        onChange={setLines}
        wrong={(i) => problem?.of(`lines.${i}.units`) ?? problem?.of(`lines.${i}.part`)}
      />
      {doubts.length > 0 && !changed && (
        <div className="mt-3">
          {doubts.map((text) => (
            <p key={text} className="font-medium text-brick">
              {text}
            </p>
          ))}
          <Field
            label="Why it is right all the same"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            error={problem?.of('reason')}
          />
        </div>
      )}
      {problem &&
        !problem.problem.errors?.some(
          ({ field }) => field.startsWith('lines') || (field === 'reason' && doubts.length > 0),
        ) && (
          <p role="alert" className="mt-2 font-medium text-brick">
            {problem.message}
          </p>
        )}
      <div className="mt-4 flex flex-wrap items-center gap-3">
        {changed ? (
          <Button look="next" large disabled={change.isPending} onClick={save}>
            Save the change
          </Button>
        ) : (
          <Button look="next" large disabled={approve.isPending || order.lines.length === 0} onClick={send}>
            Approve and send, {moneyInWords(order.totalMinor + order.freightMinor, order.currency)}
          </Button>
        )}
        <Button large onClick={() => setCallingOff(true)}>
          Call it off …
        </Button>
      </div>
    </Modal>
  );
}

interface LinesProps {
  lines: Line[];
  onChange: (lines: Line[]) => void;
  wrong: (index: number) => string | undefined;
}

/** The lines as they are to be: units changed, lines left out or added by their number. */
function Lines({ lines, onChange, wrong }: LinesProps) {
  const [added, setAdded] = useState('');
  return (
    <>
      <ul>
        {lines.map((line, i) => (
          <li key={line.part} className="grid grid-cols-[1fr_6rem_auto] items-center gap-3 border-b border-hair py-1.5">
            <span>
              <span className="figures font-semibold">{line.part}</span> {line.name}
            </span>
            <Field
              label={`Units of ${line.part}`}
              hideLabel
              inputMode="numeric"
              value={line.units}
              onChange={(event) =>
                onChange(lines.map((one, k) => (k === i ? { ...one, units: event.target.value } : one)))
              }
              error={wrong(i)}
            />
            <Button look="bare" onClick={() => onChange(lines.filter((_one, k) => k !== i))}>
              Leave out
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex items-end gap-2">
        <Field label="Add a part by its number" value={added} onChange={(event) => setAdded(event.target.value)} />
        <Button
          disabled={added.trim() === ''}
          onClick={() => {
            onChange([...lines, { part: added.trim().toUpperCase(), name: '', units: '1' }]);
            setAdded('');
          }}
        >
          Add
        </Button>
      </div>
    </>
  );
}
