import { useState } from 'react';
import { toast } from 'sonner';
import { mayDo } from '@mile-mark/contract';
import type { Depot } from '@mile-mark/contract/register';
import { ApiProblem } from '../../../api/client.ts';
import { useMe } from '../../../api/people.ts';
import { doneWithUndo } from '../../../stores/undo.ts';
import { useAddDepot, useChangeDepot, useCloseDepot, useEveryDepot, useReopenDepot } from '../../../api/register.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { DataTable } from '../../../ui/DataTable.tsx';
import { Field } from '../../../ui/Field.tsx';
import { FormSheet } from '../../../ui/FormSheet.tsx';
import { Heads } from '../../../ui/Heads.tsx';
import { State } from '../../../ui/State.tsx';
import { formatDate } from '../../../ui/format.ts';
import { useNewId } from '../../../ui/useNewId.ts';

/** Where vehicles stand: depots opened, renamed, and closed with their vehicles moved. */
export function Depots() {
  const me = useMe();
  const depots = useEveryDepot();
  const [doing, setDoing] = useState<{ what: 'add' } | { what: 'edit' | 'close'; depot: Depot }>();
  if (depots.isPending) return <State title="Loading" what="Fetching the depots." quiet />;
  if (depots.isLoadingError) return <State title="The depots couldn’t load" what={depots.error.message} />;
  const mayKeep = mayDo(me.role, 'register');
  const close = () => setDoing(undefined);
  return (
    <section aria-label="Depots" className="h-full max-w-4xl overflow-y-auto p-4">
      {depots.data.length === 0 ? (
        <State title="No depot on record" what="Open one, or take in a list of vehicles: its depots come with it." />
      ) : (
        <DataTable name="depots" className="w-full bg-sheet">
          <Heads names={['Depot', 'Vehicles', 'Time zone', 'Stands', '']} />
          <tbody>
            {depots.data.map((depot) => (
              <tr key={depot.id} className="border-b border-hair">
                <td className={`px-2 py-1.5 font-medium ${depot.closedOn ? 'text-soft' : ''}`}>{depot.name}</td>
                <td className="figures px-2">{depot.vehicles}</td>
                <td className="px-2">{depot.timeZone}</td>
                <td className="px-2 text-soft">{depot.closedOn ? `closed ${formatDate(depot.closedOn)}` : 'open'}</td>
                <td className="px-2">
                  {mayKeep && (
                    <div className="flex justify-end gap-4 whitespace-nowrap">
                      {depot.closedOn ? (
                        <Reopen depot={depot} />
                      ) : (
                        <>
                          <Button
                            look="bare"
                            aria-label={`Edit ${depot.name}`}
                            onClick={() => setDoing({ what: 'edit', depot })}
                          >
                            Edit …
                          </Button>
                          <Button
                            look="bare"
                            aria-label={`Close ${depot.name}`}
                            onClick={() => setDoing({ what: 'close', depot })}
                          >
                            Close …
                          </Button>
                        </>
                      )}
                    </div>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </DataTable>
      )}
      {mayKeep && (
        <Button className="mt-3" onClick={() => setDoing({ what: 'add' })}>
          Open a depot …
        </Button>
      )}
      {doing?.what === 'add' && <DepotForm onClose={close} />}
      {doing?.what === 'edit' && <DepotForm depot={doing.depot} onClose={close} />}
      {doing?.what === 'close' && <CloseDepot depot={doing.depot} depots={depots.data} onClose={close} />}
    </section>
  );
}

const ZONES = Intl.supportedValuesOf('timeZone');

/** A depot opened, or one corrected. */
function DepotForm({ depot, onClose }: { depot?: Depot; onClose: () => void }) {
  const [id] = useNewId();
  const [form, setForm] = useState({
    name: depot?.name ?? '',
    timeZone: depot?.timeZone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
  });
  const add = useAddDepot();
  const change = useChangeDepot();
  const asked = depot ? change : add;
  const problem = asked.error instanceof ApiProblem ? asked.error : undefined;
  const save = async () => {
    if (depot) await change.mutateAsync({ of: depot.id, ...form, revision: depot.revision });
    else await add.mutateAsync({ id, ...form });
    toast(depot ? `${depot.name} is saved as ${form.name.trim()}.` : `${form.name.trim()} is open.`);
    onClose();
  };
  return (
    <FormSheet
      title={depot ? `Edit ${depot.name}` : 'Open a depot'}
      save={depot ? 'Save' : 'Open it'}
      error={asked.error}
      disabled={asked.isPending || form.name.trim() === '' || form.timeZone.trim() === ''}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      <Field
        label="Name"
        value={form.name}
        onChange={(event) => setForm({ ...form, name: event.target.value })}
        error={problem?.of('name')}
      />
      <Field
        label="Time zone"
        list="time-zones"
        value={form.timeZone}
        onChange={(event) => setForm({ ...form, timeZone: event.target.value })}
        error={problem?.of('timeZone')}
        hint="Its calendars keep this time, e.g. Europe/Oslo."
      />
      <datalist id="time-zones">
        {ZONES.map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
    </FormSheet>
  );
}

function CloseDepot({ depot, depots, onClose }: { depot: Depot; depots: readonly Depot[]; onClose: () => void }) {
  const others = depots.filter(({ id, closedOn }) => id !== depot.id && closedOn === null);
  const [chosen, setChosen] = useState(others[0]?.name ?? '');
  const close = useCloseDepot();
  const reopen = useReopenDepot();
  const problem = close.error instanceof ApiProblem ? close.error : undefined;
  const { vehicles } = depot;
  const save = async () => {
    const to = vehicles > 0 ? { vehiclesTo: chosen } : {};
    await close.mutateAsync({ of: depot.id, ...to, revision: depot.revision });
    doneWithUndo(
      `${depot.name} is closed${vehicles > 0 ? `; ${vehiclesInWords(vehicles)} to ${chosen}` : ''}.`,
      () => reopen.mutateAsync(depot.id),
      { label: 'Open it again', undone: `${depot.name} is open again; vehicles that left it stay where they are.` },
    );
    onClose();
  };
  return (
    <FormSheet
      title={`Close ${depot.name}`}
      save="Close it"
      error={close.error}
      disabled={close.isPending || (vehicles > 0 && chosen === '')}
      onSave={() => void save().catch(() => undefined)}
      onClose={onClose}
    >
      {vehicles > 0 ? (
        <Choose
          label={`${vehiclesInWords(vehicles)} to`}
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
          error={problem?.of('vehiclesTo')}
        >
          {others.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
      ) : (
        <p>No vehicle stands there.</p>
      )}
      {vehicles > 0 && others.length === 0 && <p>There is no other open depot; open one first.</p>}
      <p className="max-w-prose text-soft">
        Today, at once. Its records stay. Open jobs, parts on its shelves and people who work nowhere else come first:
        they are named here if there are any.
      </p>
    </FormSheet>
  );
}

const vehiclesInWords = (count: number) => `${count} ${count === 1 ? 'vehicle moves' : 'vehicles move'}`;

function Reopen({ depot }: { depot: Depot }) {
  const reopen = useReopenDepot();
  return (
    <Button
      look="bare"
      aria-label={`Open ${depot.name} again`}
      disabled={reopen.isPending}
      onClick={() => reopen.mutate(depot.id, { onError: (error) => toast(error.message) })}
    >
      Open again
    </Button>
  );
}
