import { useState } from 'react';
import { toast } from 'sonner';
import type { NewMovement, PartsDay, StockRow } from '@mile-mark/contract/parts';
import { ApiProblem } from '../../api/client.ts';
import { useMove, useStock } from '../../api/parts.ts';
import { useDepots } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DateField } from '../../ui/DateField.tsx';
import { Field } from '../../ui/Field.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { figure } from '../../api/typed.ts';
import { useNewId } from '../../ui/useNewId.ts';

const KINDS = [
  { value: 'transfer', label: 'To another bin or depot' },
  { value: 'scrap', label: 'Scrap it' },
  { value: 'exchange', label: 'Goes back to the supplier' },
] as const;
type Kind = (typeof KINDS)[number]['value'] | 'receive';

interface Props {
  /** What lies there; undefined puts something in that came without an order. */
  of: StockRow | undefined;
  depot: string;
  depots: readonly string[];
  /** What is advised: so many, to that depot. */
  advised?: { units: number; to: string };
  onClose: () => void;
}

/** Moves stock: on to another bin or depot, out, or in without an order. */
export function Move({ of, depot, depots, advised, onClose }: Props) {
  const [kind, setKind] = useState<Kind>(of ? 'transfer' : 'receive');
  const [form, setForm] = useState({
    part: of?.part ?? '',
    bin: of?.bin ?? '',
    units: String(advised?.units ?? 1),
    note: '',
    lot: of?.lot ?? '',
    expiresOn: '',
    depot: of?.depot ?? (depot || (depots[0] ?? '')),
    toDepot: advised?.to ?? of?.depot ?? '',
    toBin: '',
  });
  const [id] = useNewId();
  const move = useMove();
  const problem = move.error instanceof ApiProblem ? move.error : undefined;
  const set = (key: keyof typeof form) => (value: string) => setForm({ ...form, [key]: value });
  const field = (key: keyof typeof form, label: string) => (
    <Field
      label={label}
      value={form[key]}
      onChange={(event) => set(key)(event.target.value)}
      error={problem?.of(key)}
    />
  );
  const shown = new Set(['part', 'bin', 'units', 'note', 'lot', 'expiresOn', 'depot', 'toDepot', 'toBin']);
  const elsewhere = problem?.problem.errors?.filter((error) => !shown.has(error.field)) ?? [];
  return (
    <Modal open onClose={onClose} title={of ? `${of.part} in bin ${of.bin}` : 'Receive without an order'}>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          move.mutate(movementOf(kind, id, form), {
            onSuccess: ({ onHand }) => {
              toast(`${form.part}: ${onHand} at ${form.depot} now.`);
              onClose();
            },
          });
        }}
      >
        {of ? (
          <div className="col-span-2">
            <SegmentedControl label="What becomes of it" value={kind} options={[...KINDS]} onChange={setKind} />
          </div>
        ) : (
          <>
            {field('part', 'Part number')}
            <DepotField
              label="Depot"
              value={form.depot}
              depots={depots}
              onChange={set('depot')}
              error={problem?.of('depot')}
            />
            {field('bin', 'Bin')}
          </>
        )}
        {field('units', 'Units')}
        {kind === 'transfer' && (
          <>
            <DepotField
              label="To depot"
              value={form.toDepot}
              depots={depots}
              onChange={set('toDepot')}
              error={problem?.of('toDepot')}
            />
            {field('toBin', 'To bin')}
          </>
        )}
        {kind === 'receive' && field('lot', 'Lot, where it has one')}
        {kind === 'receive' && (
          <DateField
            label="Last day it may be used"
            value={form.expiresOn}
            onChange={set('expiresOn')}
            error={problem?.of('expiresOn')}
          />
        )}
        {kind === 'scrap' && field('note', 'Why')}
        {problem && (elsewhere.length > 0 || !problem.problem.errors?.length) && (
          <p role="alert" className="col-span-2 font-medium text-brick">
            {elsewhere.map(({ message }) => message).join(' ') || problem.message}
          </p>
        )}
        <div className="col-span-2">
          <Button look="next" type="submit" disabled={move.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** The transfer that is advised, from the bin where it lies. */
export function MoveOn({ transfer, onClose }: { transfer: PartsDay['transfers'][number]; onClose: () => void }) {
  const stock = useStock(transfer.from);
  const depots = useDepots();
  // The fullest bin; what it lacks of what is advised is said at the field.
  const [row] = (stock.data ?? [])
    .filter(({ part, units }) => part === transfer.part && units > 0)
    .sort((a, b) => b.units - a.units);
  if (!row) return null;
  return (
    <Move
      of={row}
      depot={transfer.from}
      depots={(depots.data ?? []).map(({ name }) => name)}
      advised={transfer}
      onClose={onClose}
    />
  );
}

interface DepotFieldProps {
  label: string;
  value: string;
  depots: readonly string[];
  onChange: (value: string) => void;
  error: string | undefined;
}

function DepotField({ label, value, depots, onChange, error }: DepotFieldProps) {
  return (
    <Choose label={label} value={value} onChange={({ target }) => onChange(target.value)} error={error}>
      {depots.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </Choose>
  );
}

function movementOf(
  kind: Kind,
  id: string,
  form: Record<'part' | 'bin' | 'units' | 'note' | 'lot' | 'expiresOn' | 'depot' | 'toDepot' | 'toBin', string>,
): NewMovement {
  const base = {
    id,
    part: form.part,
    depot: form.depot,
    bin: form.bin,
    // What is no number is said at the field by whoever judges it.
    units: figure(form.units, true),
    ...(form.lot === '' ? {} : { lot: form.lot }),
  };
  if (kind === 'transfer') return { ...base, kind, toDepot: form.toDepot, toBin: form.toBin };
  if (kind === 'scrap') return { ...base, kind, note: form.note };
  if (kind === 'exchange') return { ...base, kind };
  return { ...base, kind, ...(form.expiresOn === '' ? {} : { expiresOn: form.expiresOn }) };
}
