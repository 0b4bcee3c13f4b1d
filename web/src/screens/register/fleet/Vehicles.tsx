import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { useMe, useSession } from '../../../api/people.ts';
import { useFleet } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { SortedTable } from '../../../ui/SortedTable.tsx';
import { State } from '../../../ui/State.tsx';
import { AddVehicle } from './AddVehicle.tsx';
import { columnsFor } from './vehicleColumns.tsx';
import { VehiclePanel } from './VehiclePanel.tsx';
import { useAddressValues } from '../../../ui/useAddressValues.ts';

const SHOWN = [
  { value: '', name: 'In the fleet', is: ({ left }: FleetVehicle) => left === null },
  { value: 'left', name: 'Sold or retired', is: ({ left }: FleetVehicle) => left !== null },
  { value: 'all', name: 'All on record', is: () => true },
] as const;

/** Every vehicle on record: found, filtered, sorted; the chosen one beside it, with what can be done. */
export function Vehicles() {
  const me = useMe();
  const today = useSession().data?.today ?? '';
  const fleet = useFleet();
  const [address, set] = useAddressValues();
  const [adding, setAdding] = useState(false);
  const columns = useMemo(() => columnsFor(me, today), [me, today]);
  const asked = {
    find: address.get('find') ?? '',
    depot: address.get('depot') ?? '',
    model: address.get('model') ?? '',
    shown: SHOWN.find(({ value }) => value === (address.get('show') ?? '')) ?? SHOWN[0],
  };
  if (fleet.isPending) return <State title="Loading" what="Fetching the vehicles." quiet />;
  if (fleet.isLoadingError)
    return (
      <State title="The vehicles couldn’t load" what={fleet.error.message}>
        <Button onClick={() => void fleet.refetch()}>Try again</Button>
      </State>
    );
  const mayKeep = mayDo(me.role, 'register');
  const all = fleet.data;
  const rows = all.filter((row) => fits(row, asked));
  const unit = address.get('unit') ?? undefined;
  const chosen = all.find((row) => row.unit === unit);
  return (
    <div className={`grid h-full grid-cols-1 ${chosen ? 'lg:grid-cols-[1fr_23rem]' : ''}`}>
      <section aria-label="Vehicles" className="flex min-h-0 flex-col">
        <Bar {...{ asked, all, count: rows.length, set }} onAdd={mayKeep ? () => setAdding(true) : undefined} />
        {rows.length === 0 ? (
          <State
            title={all.length === 0 ? 'No vehicle on record' : 'No vehicle fits'}
            what={
              all.length === 0
                ? 'Take in a list of vehicles, or add one by hand.'
                : 'Nothing on record fits what is asked above.'
            }
          >
            {all.length === 0 && mayDo(me.role, 'import') && (
              <Link className="underline" to="/import">
                Take in a list
              </Link>
            )}
          </State>
        ) : (
          <div className="flex min-h-0 flex-1 flex-col px-2">
            <SortedTable
              name="vehicles"
              rows={rows}
              columns={columns}
              idOf={(row) => row.unit}
              sort={address.get('sort') ?? 'unit'}
              onSort={(sort) => set({ sort: sort === 'unit' ? '' : sort })}
              selected={unit}
              onSelect={(row) => set({ unit: row.unit })}
            />
          </div>
        )}
      </section>
      {chosen && (
        <VehiclePanel
          key={chosen.unit}
          vehicle={chosen}
          me={me}
          onRenamed={(now) => set({ unit: now })}
          onClose={() => set({ unit: '' })}
        />
      )}
      {adding && <AddVehicle me={me} onAdded={(added) => set({ unit: added })} onClose={() => setAdding(false)} />}
    </div>
  );
}

interface Asked {
  find: string;
  depot: string;
  model: string;
  shown: (typeof SHOWN)[number];
}

function fits(row: FleetVehicle, { find, depot, model, shown }: Asked): boolean {
  if (!shown.is(row) || (depot && row.depot !== depot) || (model && row.model !== model)) return false;
  const words = `${row.unit} ${row.model} ${row.duty ?? ''}`.toLowerCase();
  return find
    .toLowerCase()
    .split(/\s+/)
    .every((part) => words.includes(part));
}

interface BarProps {
  asked: Asked;
  all: readonly FleetVehicle[];
  count: number;
  set: (values: Record<string, string>) => void;
  onAdd: (() => void) | undefined;
}

/** What of the fleet is shown, and how much of it that is. */
function Bar({ asked, all, count, set, onAdd }: BarProps) {
  const names = (of: (row: FleetVehicle) => string) => [...new Set(all.map(of))].sort();
  return (
    <div className="flex flex-wrap items-center gap-3 px-4 py-2">
      <div className="w-44">
        <Field
          label="Find a unit, model or duty"
          hideLabel
          placeholder="Unit, model, duty"
          value={asked.find}
          onChange={(event) => set({ find: event.target.value })}
        />
      </div>
      <Filter
        label="Depot"
        all="All depots"
        value={asked.depot}
        of={names(({ depot }) => depot)}
        onChoose={(depot) => set({ depot })}
      />
      <Filter
        label="Model"
        all="All models"
        value={asked.model}
        of={names(({ model }) => model)}
        onChoose={(model) => set({ model })}
      />
      <Choose label="Shown" hideLabel value={asked.shown.value} onChange={(event) => set({ show: event.target.value })}>
        {SHOWN.map(({ value, name }) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </Choose>
      <span role="status" className="figures text-soft">
        {count} of {all.length}
      </span>
      {onAdd && (
        <Button className="ml-auto" onClick={onAdd}>
          Add a vehicle …
        </Button>
      )}
    </div>
  );
}

interface FilterProps {
  label: string;
  all: string;
  value: string;
  of: readonly string[];
  onChoose: (value: string) => void;
}

function Filter({ label, all, value, of, onChoose }: FilterProps) {
  return (
    <Choose label={label} hideLabel value={value} onChange={(event) => onChoose(event.target.value)}>
      <option value="">{all}</option>
      {of.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </Choose>
  );
}
