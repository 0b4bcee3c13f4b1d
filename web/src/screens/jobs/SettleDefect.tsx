import { SEVERITY_WORDS, awayInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Defect, Settlement } from '@mile-mark/contract/jobs';
import type { Me } from '@mile-mark/contract/people';
import { ApiProblem } from '../../api/client.ts';
import { useSettleDefect } from '../../api/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { useNewId } from '../../ui/useNewId.ts';
import { placeOf } from './words.ts';

type How = Settlement['how'];
const HOW: Record<How, { label: string; told: string }> = {
  closed: { label: 'Close it', told: 'It is mended, or there was nothing.' },
  deferred: { label: 'Put it off', told: 'It comes up again on the day you say, and at the next job.' },
  lifted: { label: 'Let it be driven', told: 'It stays open; you answer for the drive.' },
};

/** Settles a defect: always with a reason, by who may. */
export function SettleDefect({ defect, me, onClose }: { defect: Defect; me: Me; onClose: () => void }) {
  const [id] = useNewId();
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const settle = useSettleDefect();
  const problem = settle.error instanceof ApiProblem ? settle.error : undefined;
  const forbids = defect.severity === 'do not drive';
  const decides = mayDo(me.role, 'decide');
  const offered = (Object.keys(HOW) as How[]).filter((how) =>
    how === 'lifted' ? forbids && decides : !forbids || decides,
  );
  const act = (how: How) =>
    settle.mutate(
      { defectId: defect.id, id, how, reason, ...(how === 'deferred' ? { until } : {}) },
      {
        onSuccess: () => {
          toast(`${defect.unit}, ${defect.text}: ${how}.`);
          onClose();
        },
      },
    );
  return (
    <Modal
      open
      onClose={onClose}
      title={`${defect.unit}: ${[placeOf(defect), defect.text].filter(Boolean).join(', ')}`}
    >
      <p className="mb-3">
        <strong>{SEVERITY_WORDS[defect.severity]}.</strong> {defect.saidBy}, {awayInWords(-defect.ageDays)}
        {defect.note && `: “${defect.note}”`}.{defect.look.length > 0 && ` To be looked at: ${defect.look.join(', ')}.`}
      </p>
      {offered.length === 0 ? (
        <p>What forbids driving is settled by the coordinator, or by closing its job.</p>
      ) : (
        <div className="flex flex-col gap-3">
          <Field
            label="Reason"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            error={problem?.of('reason')}
          />
          {offered.includes('deferred') && (
            <DateField
              label="Until, where it is put off"
              value={until}
              onChange={(iso) => setUntil(iso)}
              error={problem?.of('until')}
            />
          )}
          <ul className="flex flex-col gap-2">
            {offered.map((how) => (
              <li key={how} className="flex items-baseline gap-3">
                <Button className="min-w-40 text-left" disabled={settle.isPending} onClick={() => act(how)}>
                  {HOW[how].label}
                </Button>
                <span className="text-soft">{HOW[how].told}</span>
              </li>
            ))}
          </ul>
          {settle.isError && !problem?.problem.errors?.length && (
            <p role="alert" className="text-brick">
              {settle.error.message}
            </p>
          )}
        </div>
      )}
    </Modal>
  );
}
