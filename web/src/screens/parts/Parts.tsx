import { useSearchParams } from 'react-router';
import { useDepots } from '../../api/register.ts';
import { useMe } from '../../api/people.ts';
import { chooseDepot, depotOfDevice } from '../../stores/depot.ts';
import { Choose } from '../../ui/Choose.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { Catalogue } from './Catalogue.tsx';
import { Kits } from './Kits.tsx';
import { NeedView } from './NeedView.tsx';
import { Orders } from './Orders.tsx';
import { PartRecords } from './PartRecords.tsx';
import { PartsToday } from './PartsToday.tsx';
import { Shelves } from './Shelves.tsx';

const VIEWS = [
  { value: 'today', label: 'Today' },
  { value: 'shelves', label: 'Shelves' },
  { value: 'orders', label: 'Orders' },
  { value: 'need', label: 'What is needed' },
  { value: 'kits', label: 'Kits' },
  { value: 'catalogue', label: 'Catalogue' },
  { value: 'record', label: 'What lasted' },
] as const;
type View = (typeof VIEWS)[number]['value'];

/** Parts: the day's work, shelves, orders, what will be needed, kits, the catalogue, and what each number did on the road. */
export function Parts() {
  const me = useMe();
  const depots = useDepots();
  const [params, setParams] = useSearchParams();
  const view: View = VIEWS.find(({ value }) => value === params.get('view'))?.value ?? 'today';
  const depot = params.get('depot') ?? depotOfDevice();
  const set = (values: Record<string, string>) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      for (const [key, value] of Object.entries(values)) next.set(key, value);
      return next;
    });
  const names = (depots.data ?? []).map(({ name }) => name);
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2 print:hidden">
        <h1 className="text-xl font-semibold">Parts</h1>
        <SegmentedControl
          label="View"
          hideLabel
          value={view}
          options={[...VIEWS]}
          onChange={(next) => set({ view: next })}
        />
        <div className="ml-auto">
          <Choose
            label="Depot"
            hideLabel
            value={depot}
            onChange={({ target }) => {
              chooseDepot(target.value);
              set({ depot: target.value });
            }}
          >
            <option value="">All depots</option>
            {names.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
        </div>
      </header>
      {view === 'today' && (
        <PartsToday
          depot={depot}
          me={me}
          onOrders={(order) => set({ view: 'orders', ...(order === undefined ? {} : { order }) })}
        />
      )}
      {view === 'shelves' && <Shelves depot={depot} depots={names} me={me} />}
      {view === 'orders' && <Orders depot={depot} me={me} />}
      {view === 'need' && <NeedView depot={depot || (names[0] ?? '')} />}
      {view === 'kits' && <Kits me={me} />}
      {view === 'catalogue' && <Catalogue me={me} />}
      {view === 'record' && <PartRecords />}
    </div>
  );
}
