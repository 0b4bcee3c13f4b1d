import { create } from 'zustand';

/** How many months the road shows. */
export const REACHES = [3, 6, 12, 24] as const;
export type Reach = (typeof REACHES)[number];
export type DueWindow = 'any' | 'passed' | '4 weeks' | '3 months';

interface AheadView {
  depot: string;
  vehicleClass: string;
  due: DueWindow;
  find: string;
  reach: Reach;
  selected: { unit: string; axle: number } | undefined;
  set: (change: Partial<Omit<AheadView, 'set'>>) => void;
}

/** What the coordinator looks at on Ahead; kept while other screens are open. */
export const useAheadView = create<AheadView>((set) => ({
  depot: '',
  vehicleClass: '',
  due: 'any',
  find: '',
  reach: 12,
  selected: undefined,
  set: (change) => set(change),
}));
