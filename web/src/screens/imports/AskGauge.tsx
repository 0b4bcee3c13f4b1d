import { useState } from 'react';
import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import { MM_PER_32ND, MM_PER_INCH, parseThickness } from '@mile-mark/core';
import { useAddGauge, useGauges } from '../../api/gauges.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { Field } from '../../ui/Field.tsx';
import { useNewId } from '../../ui/useNewId.ts';

/** The step of a gauge as its name tells it: `step gauge 0.1`; else the finest step of the sheet's unit. */
function guessStep(name: string | null, unit: Understanding['thicknessUnit']): string {
  const stated = /(?<!\d)(\d+[.,]\d+)/.exec(name ?? '')?.[1];
  if (stated) return stated;
  return unit === '1/32 in' ? '1/32' : unit === 'in' ? '0.01' : '0.1';
}

/** With which gauge: one on record, or one put on record here. */
export function AskGauge({
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
