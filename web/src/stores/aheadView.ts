import { create } from 'zustand';
import { readAddress, writeAddress } from '../ui/useAddressed.ts';

/** How many months the road shows. */
export const REACHES = [3, 6, 12, 24] as const;
export type Reach = (typeof REACHES)[number];
/** Marks within so long; the address says which. */
export const DUE_WINDOWS = ['any', 'passed', 'this week', '4 weeks', '3 months'] as const;
export type DueWindow = (typeof DUE_WINDOWS)[number];

interface AheadView {
  depot: string;
  vehicleClass: string;
  due: DueWindow;
  find: string;
  /** First day of the week that is shown alone, ISO; none where it is ''. */
  week: string;
  reach: Reach;
  selected: { unit: string; axle: number } | undefined;
  set: (change: Partial<Omit<AheadView, 'set'>>) => void;
}

export const NO_FILTER = { depot: '', vehicleClass: '', due: 'any', find: '', week: '' } as const;

/** As long after the last change the address follows, ms: keys held down write it once. */
const WRITE_MS = 250;
let writing: number | undefined;

/** What the coordinator looks at on Ahead; kept while other screens are open, and in the address of this one. */
export const useAheadView = create<AheadView>((set, get) => ({
  ...NO_FILTER,
  reach: 12,
  selected: undefined,
  set: (change) => {
    set(change);
    window.clearTimeout(writing);
    writing = window.setTimeout(() => {
      if (window.location.pathname === '/') writeAddress(addressOf(get()));
    }, WRITE_MS);
  },
}));

function addressOf({ depot, vehicleClass, due, find, week, reach, selected }: AheadView) {
  return {
    depot,
    class: vehicleClass,
    due: due === 'any' ? '' : due,
    find,
    week,
    months: reach === 12 ? '' : String(reach),
    at: selected ? `${selected.unit}/${selected.axle}` : '',
  };
}

/** Takes what the address says; where it says nothing of a filter, what was looked at last goes on, and is written there. */
export function readAheadView(): void {
  const { set } = useAheadView.getState();
  const at = /^(.+)\/(\d)$/.exec(readAddress('at') ?? '');
  const due = DUE_WINDOWS.find((one) => one === readAddress('due'));
  const reach = REACHES.find((one) => String(one) === readAddress('months'));
  const said = ['depot', 'class', 'due', 'find', 'week', 'months', 'at'].some((key) => readAddress(key) !== undefined);
  if (!said) return set({});
  set({
    depot: readAddress('depot') ?? '',
    vehicleClass: readAddress('class') ?? '',
    due: due ?? 'any',
    find: readAddress('find') ?? '',
    week: readAddress('week') ?? '',
    reach: reach ?? 12,
    selected: at ? { unit: at[1] as string, axle: Number(at[2]) } : undefined,
  });
}
