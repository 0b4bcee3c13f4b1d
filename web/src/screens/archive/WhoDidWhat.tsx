import { Fragment } from 'react';
import { Link } from 'react-router';
import type { Deed } from '@mile-mark/contract/archive';
import { useTrail } from '../../api/archive.ts';
import { usePeople } from '../../api/people.ts';
import { useFleet } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';
import { Choose } from '../../ui/Choose.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { Field } from '../../ui/Field.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { State } from '../../ui/State.tsx';
import { Tick } from '../../ui/Tick.tsx';
import { formatDate, formatTime } from '../../ui/format.ts';
import { saidIn } from './detail.ts';
import { useAddressValues } from '../../ui/useAddressValues.ts';

/** The audit trail: who did what to what, and when; of one vehicle, by one person. */
export function WhoDidWhat() {
  const [address, set] = useAddressValues();
  const unit = address.get('unit') ?? '';
  const by = address.get('by') ?? '';
  const fleet = useFleet();
  // What is typed is asked once it is a vehicle: half a unit number is none.
  const known = fleet.data?.find((row) => row.unit === unit.trim().toUpperCase())?.unit;
  const unknown = unit.trim() !== '' && known === undefined;
  const signIns = address.get('signIns') === 'yes' ? 'yes' : undefined;
  const people = usePeople();
  const trail = useTrail({ ...(known ? { unit: known } : {}), ...(by ? { by } : {}), ...(signIns ? { signIns } : {}) });
  const deeds = trail.data?.pages.flatMap(({ items }) => items) ?? [];
  return (
    <section aria-label="Who did what" className="flex h-full flex-col overflow-y-auto px-4 pb-4">
      <div className="flex flex-wrap items-center gap-3 py-2">
        <div className="w-32">
          <Field
            label="Of a vehicle"
            hideLabel
            placeholder="Unit"
            list="units-on-record"
            value={unit}
            onChange={(event) => set({ unit: event.target.value })}
          />
        </div>
        <datalist id="units-on-record">
          {fleet.data?.map((row) => (
            <option key={row.unit} value={row.unit} />
          ))}
        </datalist>
        <Choose label="By" hideLabel value={by} onChange={(event) => set({ by: event.target.value })}>
          <option value="">By anybody</option>
          {people.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Choose>
        <Tick checked={signIns !== undefined} onChange={(on) => set({ signIns: on ? 'yes' : '' })}>
          Sign-ins too
        </Tick>
      </div>
      {unknown ? (
        <State
          title={`No vehicle ${unit.trim().toUpperCase()}`}
          what="A unit number of the fleet’s list shows what was done to it."
        />
      ) : trail.isPending ? (
        <State title="Loading" what="Fetching what was done." quiet />
      ) : trail.isError ? (
        <State title="It couldn’t load" what={trail.error.message}>
          <Button onClick={() => void trail.refetch()}>Try again</Button>
        </State>
      ) : deeds.length === 0 ? (
        <State title="Nothing" what="Nothing on record fits what is asked above." />
      ) : (
        <>
          <DataTable name="who-did-what" className="w-full bg-sheet text-left">
            <Heads names={['When', 'Who', 'What', 'Of', 'In particular']} />
            <tbody>
              {deeds.map((deed) => (
                <DeedRow key={deed.id} deed={deed} />
              ))}
            </tbody>
          </DataTable>
          {trail.hasNextPage && (
            <Button className="self-start" disabled={trail.isFetching} onClick={() => void trail.fetchNextPage()}>
              Older
            </Button>
          )}
        </>
      )}
    </section>
  );
}

function DeedRow({ deed: { at, by, action, subject, unit, detail } }: { deed: Deed }) {
  return (
    <tr className="border-b border-hair align-top">
      <td className="figures px-2 py-1.5 whitespace-nowrap">
        {formatDate(at)} {formatTime(at)}
      </td>
      <td className="px-2 py-1.5 whitespace-nowrap">{by}</td>
      <td className="px-2 py-1.5">{action}</td>
      <td className="px-2 py-1.5 whitespace-nowrap">
        {unit ? (
          <Link
            className="figures underline decoration-line underline-offset-2"
            to={`/vehicles/${encodeURIComponent(unit)}`}
          >
            {unit}
          </Link>
        ) : (
          subject
        )}
      </td>
      <td className="px-2 py-1.5 text-soft">
        {saidIn(detail).map(({ name, text }, index) => (
          <Fragment key={name}>
            {index > 0 && ' · '}
            {name} <span className="text-ink">{text}</span>
          </Fragment>
        ))}
      </td>
    </tr>
  );
}
