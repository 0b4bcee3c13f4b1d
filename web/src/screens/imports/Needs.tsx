import { useNewId } from '../../ui/useNewId.ts';
import { useState } from 'react';
import { mayDo } from '@mile-mark/contract';
import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { MM_PER_32ND, MM_PER_INCH, parseThickness } from '@mile-mark/core';
import { useAddGauge, useGauges } from '../../api/gauges.ts';
import { useAddPerson, useMe, usePeople } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { Choose } from '../../ui/Choose.tsx';

interface Props {
  needs: ImportPreview['needs'];
  preview: ImportPreview;
  stated: Understanding;
  onState: (part: Partial<Understanding>) => void;
}

/** What the sheet doesn't say and a person must: who measured, with which gauge. */
export function Needs({ needs, preview, stated, onState }: Props) {
  const asks = needs.filter(({ kind }) => kind !== 'column');
  const columns = needs.filter(({ kind }) => kind === 'column');
  if (needs.length === 0) return null;
  return (
    <div className="flex shrink-0 flex-col gap-3 border-b border-[#c99700] bg-paint/20 px-4 py-3">
      {columns.map(({ name, message }) => (
        <p key={name} className="font-medium">
          {message} Choose it below, under “How it was understood”.
        </p>
      ))}
      {asks.map((need) =>
        need.kind === 'technician' ? (
          <AskTechnician key="technician" message={need.message} onState={onState} />
        ) : (
          <AskGauge
            key={need.name ?? ''}
            name={need.name}
            message={need.message}
            preview={preview}
            onPick={(id) =>
              onState(need.name === null ? { gaugeId: id } : { gaugeNames: { ...stated.gaugeNames, [need.name]: id } })
            }
          />
        ),
      )}
    </div>
  );
}

function AskTechnician({ message, onState }: { message: string; onState: Props['onState'] }) {
  const people = usePeople();
  const add = useAddPerson();
  const [newId, renewId] = useNewId();
  const me = useMe();
  const [name, setName] = useState('');
  const measuring = people.data?.filter(({ role }) => mayDo(role, 'measure')) ?? [];
  return (
    <div className="flex flex-wrap items-end gap-3">
      <p className="w-72 font-medium">{message}</p>
      <Choose
        label="Who measured"
        value=""
        onChange={(event) => event.target.value && onState({ technicianId: event.target.value })}
      >
        <option value="">Choose …</option>
        {measuring.map(({ id, name: known }) => (
          <option key={id} value={id}>
            {known}
          </option>
        ))}
      </Choose>
      {mayDo(me.role, 'administer') && (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            const added = () => {
              renewId();
              onState({ technicianId: newId });
            };
            add.mutate({ id: newId, name, role: 'technician' }, { onSuccess: added });
          }}
        >
          <Field
            label="or a new technician"
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={add.error?.message}
          />
          <Button type="submit" disabled={name.trim() === '' || add.isPending}>
            Add technician
          </Button>
        </form>
      )}
    </div>
  );
}

/** The step of a gauge as its name tells it: `step gauge 0.1`; else the finest step of the sheet's unit. */
function guessStep(name: string | null, unit: Understanding['thicknessUnit']): string {
  const stated = /(\d+[.,]\d+)/.exec(name ?? '')?.[1];
  if (stated) return stated;
  return unit === '1/32 in' ? '1/32' : unit === 'in' ? '0.01' : '0.1';
}

function AskGauge({
  name,
  message,
  preview,
  onPick,
}: {
  name: string | null;
  message: string;
  preview: ImportPreview;
  onPick: (id: string) => void;
}) {
  const gauges = useGauges();
  const add = useAddGauge();
  const [newId, renewId] = useNewId();
  const unit = preview.understanding.thicknessUnit;
  const [label, setLabel] = useState(name ?? '');
  const [step, setStep] = useState(guessStep(name, unit));
  const parsed = parseThickness(step, { unit: unit === '1/32 in' ? 'in' : unit });
  const most = unit === '1/32 in' ? MM_PER_32ND : unit === 'in' ? MM_PER_INCH : 1;
  return (
    <div className="flex flex-wrap items-end gap-3">
      <p className="w-72 font-medium">{message}</p>
      <Choose
        label={name ? `Gauge “${name}” is` : 'Measured with'}
        value=""
        onChange={(event) => event.target.value && onPick(event.target.value)}
      >
        <option value="">Choose …</option>
        {gauges.data?.map((gauge) => (
          <option key={gauge.id} value={gauge.id}>
            {gauge.name}
          </option>
        ))}
      </Choose>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!parsed.ok) return;
          const added = () => {
            renewId();
            onPick(newId);
          };
          const gauge = { id: newId, name: label, kind: 'gauge', resolutionMm: parsed.value.mm, unit };
          add.mutate(gauge, { onSuccess: added });
        }}
      >
        <Field
          label="or a new gauge"
          value={label}
          onChange={(event) => setLabel(event.target.value)}
          error={add.error?.message}
          placeholder="name"
        />
        <div className="w-24">
          <Field
            label={`least step, ${unit === '1/32 in' ? 'in' : unit}`}
            value={step}
            onChange={(event) => setStep(event.target.value)}
            error={parsed.ok && parsed.value.mm <= most && parsed.value.mm > 0 ? undefined : 'A step such as 0.1'}
          />
        </div>
        <Button type="submit" disabled={label.trim() === '' || !parsed.ok || add.isPending}>
          Add gauge
        </Button>
      </form>
    </div>
  );
}
