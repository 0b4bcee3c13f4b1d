import { useSearchParams } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { usePlans } from '../../api/plan.ts';
import { useMe } from '../../api/people.ts';
import { useDepots } from '../../api/register.ts';
import { chooseDepot, depotOfDevice } from '../../stores/depot.ts';
import { Choose } from '../../ui/Choose.tsx';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { State } from '../../ui/State.tsx';
import { Button } from '../../ui/Button.tsx';
import { Calendars } from './Calendars.tsx';
import { Day } from './Day.tsx';
import { Looks } from './Looks.tsx';
import { Shop } from './Shop.tsx';
import { Weeks } from './Weeks.tsx';

const VIEWS = [
  { value: 'weeks', label: 'Weeks' },
  { value: 'day', label: 'Day' },
  { value: 'looks', label: 'Looks' },
  { value: 'shop', label: 'Shop' },
  { value: 'calendars', label: 'Calendars' },
] as const;
type View = (typeof VIEWS)[number]['value'];

/** Plan: the weeks with their visits, the day in the bays, looks that are due, how the shops work, calendars. */
export function Plan() {
  const me = useMe();
  const depots = useDepots();
  const plans = usePlans();
  const [params, setParams] = useSearchParams();
  const plansIt = mayDo(me.role, 'plan');
  const views = VIEWS.filter(({ value }) => plansIt || value !== 'calendars');
  const view: View = views.find(({ value }) => value === params.get('view'))?.value ?? 'weeks';
  const names = (depots.data ?? []).map(({ name }) => name);
  const asked = params.get('depot') ?? depotOfDevice();
  const depot = names.includes(asked) ? asked : (names[0] ?? '');
  const set = (values: Record<string, string>) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      for (const [key, value] of Object.entries(values))
        if (value === '') next.delete(key);
        else next.set(key, value);
      return next;
    });
  const shown = plans.data?.filter(
    ({ state }) => state === 'solving' || state === 'proposed' || state === 'published' || state === 'failed',
  );
  const plan =
    shown?.find(({ id }) => id === params.get('plan')) ??
    // Who does not plan goes by what counts; who does sees what is to be decided.
    (plansIt ? undefined : shown?.find(({ state }) => state === 'published')) ??
    shown?.find(({ state }) => state !== 'failed') ??
    shown?.[0];
  return (
    <div className="flex h-full flex-col overflow-y-auto p-4 lg:overflow-hidden">
      <header className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 print:hidden">
        <h1 className="text-xl font-semibold">Plan</h1>
        <SegmentedControl
          label="View"
          hideLabel
          value={view}
          options={views}
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
            {names.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
        </div>
      </header>
      {view === 'weeks' &&
        (plans.isPending ? (
          <State title="Loading" what="Fetching the plans." quiet />
        ) : plans.isLoadingError ? (
          <State title="The plans couldn’t load" what={plans.error.message}>
            <Button onClick={() => void plans.refetch()}>Try again</Button>
          </State>
        ) : (
          <Weeks me={me} depot={depot} plans={shown ?? []} planId={plan?.id} onPlan={(id) => set({ plan: id })} />
        ))}
      {view === 'day' && <Day me={me} depot={depot} date={params.get('date') ?? ''} onDate={(date) => set({ date })} />}
      {view === 'looks' && <Looks depot={depot} />}
      {view === 'shop' && <Shop me={me} depot={depot} />}
      {view === 'calendars' && <Calendars />}
    </div>
  );
}
