import { useState } from 'react';
import { VehicleClass } from '@mile-mark/contract';
import { NewModel } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { AxleTable } from './AxleTable.tsx';
import { blankAxle, figuresOfDraft, type ModelDraft } from './modelDraft.ts';

interface Props {
  draft: ModelDraft;
  onDraft: (draft: ModelDraft) => void;
  /** Axles whose released specification holds beside the list. */
  released: readonly number[];
  error: Error | null;
  mayKeep: boolean;
  /** Whether a save was tried: what is wrong is said from then on. */
  tried: boolean;
}

/** What would be refused of a draft, by field. */
export function wrongIn(draft: ModelDraft): Map<string, string> {
  const parsed = NewModel.safeParse({ id: crypto.randomUUID(), ...figuresOfDraft(draft) });
  const wrong = new Map<string, string>();
  for (const { path, message } of parsed.error?.issues ?? []) {
    const field = path.map(String).join('.');
    if (!wrong.has(field)) wrong.set(field, message);
  }
  return wrong;
}

const MOST_AXLES = 6;

/** A model's figures: masses, and a column for each axle. */
export function ModelForm({ draft, onDraft, released, error, mayKeep, tried }: Props) {
  const problem = error instanceof ApiProblem ? error : undefined;
  const wrong = tried ? wrongIn(draft) : new Map<string, string>();
  const at = (field: string) => wrong.get(field) ?? problem?.of(field);
  const [gone, setGone] = useState<number>();
  const field = (key: 'name' | 'tareKg' | 'gvwrKg', label: string) => (
    <Field
      label={label}
      value={draft[key]}
      readOnly={!mayKeep}
      inputMode={key === 'name' ? 'text' : 'decimal'}
      onChange={(event) => onDraft({ ...draft, [key]: event.target.value })}
      error={at(key)}
    />
  );
  const last = draft.axles.at(-1);
  return (
    <>
      <div className="grid gap-3 sm:grid-cols-[minmax(12rem,1fr)_9rem_9rem_9rem]">
        {field('name', 'Model')}
        <Choose
          label="Class"
          value={draft.class}
          disabled={!mayKeep}
          onChange={(event) => onDraft({ ...draft, class: VehicleClass.parse(event.target.value) })}
          error={at('class')}
        >
          {VehicleClass.options.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Choose>
        {field('tareKg', 'Tare, kg')}
        {field('gvwrKg', 'GVWR, kg')}
      </div>
      <AxleTable
        axles={draft.axles}
        released={released}
        mayKeep={mayKeep}
        errorAt={at}
        onAxles={(axles) => onDraft({ ...draft, axles })}
      />
      {at('axles') && (
        <p role="alert" className="font-medium text-brick">
          {at('axles')}
        </p>
      )}
      {mayKeep && (
        <div className="flex gap-4">
          {draft.axles.length < MOST_AXLES && (
            <Button
              look="bare"
              onClick={() => {
                setGone(undefined);
                onDraft({ ...draft, axles: [...draft.axles, blankAxle((last?.axle ?? 0) + 1, last?.brake)] });
              }}
            >
              Add an axle
            </Button>
          )}
          {draft.axles.length > 1 && last && (
            <Button
              look="bare"
              onClick={() => {
                setGone(last.axle);
                onDraft({ ...draft, axles: draft.axles.slice(0, -1) });
              }}
            >
              Take axle {last.axle} off
            </Button>
          )}
          {gone !== undefined && <span className="text-soft">Axle {gone} goes when you save.</span>}
        </div>
      )}
    </>
  );
}
