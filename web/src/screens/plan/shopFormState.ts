import type { Shop } from '@mile-mark/contract/plan';
import type { ApiProblem } from '../../api/client.ts';
import { figure } from '../../api/typed.ts';

type Depot = Shop['depots'][number];

/** A figure as typed; blank is none of it. */
export const figureOrNone = (typed: string) => (typed.trim() === '' ? 0 : figure(typed));
/** Classes of vehicles in words. */
export const CLASSES = { heavy: 'Heavy vehicles', van: 'Vans', pickup: 'Pickups' } as const;
export type Class = keyof typeof CLASSES;

export interface ShopFormState {
  open: { from: string; to: string }[];
  bays: Depot['bays'];
  people: { personId: string; certified: boolean; hours: string[] }[];
  overtime: string;
  caps: Record<Class, string>;
}

export const formOf = (week: Depot): ShopFormState => ({
  open: week.open.map((day) => day ?? { from: '', to: '' }),
  bays: week.bays,
  people: week.people.map((one) => ({ ...one, hours: one.hours.map((there) => (there > 0 ? String(there) : '')) })),
  overtime: String(week.overtimeHours),
  caps: Object.fromEntries(
    (Object.keys(CLASSES) as Class[]).map((name) => [
      name,
      String(week.offRoad.find((cap) => cap.class === name)?.most ?? ''),
    ]),
  ) as Record<Class, string>,
});

export interface ShopFormPart {
  form: ShopFormState;
  setForm: (form: ShopFormState) => void;
  problem: ApiProblem | undefined;
}

/** The value of one place of a list changed. */
export const at = <T>(list: readonly T[], index: number, value: T): T[] =>
  list.map((one, i) => (i === index ? value : one));
