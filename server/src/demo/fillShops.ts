import type { PlanTermsStated, ShopWeekStated } from '@mile-mark/contract/plan';
import { z } from 'zod';
import type { EntityManager } from '../platform/db/orm.ts';
import { DEFAULT_TERMS } from '../features/plan/index.ts';
import { rowsOf } from '../platform/db/rows.ts';
import { DEMO_TODAY, STAFF } from './cast.ts';
import { idOf, insert, personId } from './rows.ts';

const COORDINATOR = personId(STAFF[0].name);
const OPEN = { from: '07:00', to: '16:00' };
const WORKDAYS = 5;
/** Hours on some days of a week, Monday 0. */
const on = (...days: number[]) => Array.from({ length: 7 }, (_, day) => (days.includes(day) ? 8 : 0));
const open = Array.from({ length: 7 }, (_, day) => (day < WORKDAYS ? OPEN : null));

/** Brakes are done on some days of the week; Tobi Varga and Dag Pellworth may work on air brakes. */
const SHOPS: Record<string, Pick<ShopWeekStated, 'bays' | 'people'>> = {
  'Creamery yard': {
    bays: [
      { name: 'Bay 1', kind: 'heavy' },
      { name: 'Bay 2', kind: 'light' },
    ],
    people: [
      { personId: personId('Tobi Varga'), certified: true, hours: on(1, 3) },
      { personId: personId('Anneke Holloway'), certified: false, hours: on(1, 4) },
    ],
  },
  Northfold: {
    bays: [
      { name: 'Bay 1', kind: 'heavy' },
      { name: 'Bay 2', kind: 'light' },
    ],
    people: [
      { personId: personId('Dag Pellworth'), certified: true, hours: on(2) },
      { personId: personId('Sunniva Brack'), certified: false, hours: on(0, 2) },
    ],
  },
  'Saltmarsh depot': {
    bays: [
      { name: 'Bay 1', kind: 'heavy' },
      { name: 'Bay 2', kind: 'light' },
    ],
    people: [
      { personId: personId('Tobi Varga'), certified: true, hours: on(2) },
      { personId: personId('Oskar Fenwright'), certified: false, hours: on(2, 4) },
    ],
  },
};

/** Ways between the depots, there and back, by their ids. */
const TRAVEL: PlanTermsStated['travel'] = [
  { between: ['Creamery yard', 'Northfold'], hours: 1.2, costMinor: 4800 },
  { between: ['Creamery yard', 'Saltmarsh depot'], hours: 1.8, costMinor: 7200 },
  { between: ['Northfold', 'Saltmarsh depot'], hours: 2.4, costMinor: 9600 },
].map((way) => ({ ...way, between: way.between.map((depot) => idOf('depot', depot)) }));

/** How the demo's shops work, and who is away: a technician's leave, a tanker at the harvest, an inspection that is booked. */
export async function insertShops(em: EntityManager): Promise<void> {
  const [{ n } = { n: 0 }] = await rowsOf(em, z.object({ n: z.number() }), 'select count(*)::int as n from depot_shop');
  if (n > 0) return;
  const overtimeHours = 2;
  const offRoad: ShopWeekStated['offRoad'] = [{ class: 'heavy', most: 2 }];
  await insert(
    em,
    'depot_shop',
    'depot_id uuid, week jsonb, revision int, person_id uuid, changed_on date',
    Object.entries(SHOPS).map(([depot, shop]) => ({
      depot_id: idOf('depot', depot),
      week: { open, ...shop, overtimeHours, offRoad },
      revision: 1,
      person_id: COORDINATOR,
      changed_on: DEMO_TODAY,
    })),
  );
  await insert(em, 'plan_terms', 'id bool, terms jsonb, revision int, person_id uuid, changed_on date', [
    {
      id: true,
      terms: { ...DEFAULT_TERMS, travel: TRAVEL },
      revision: 1,
      person_id: COORDINATOR,
      changed_on: DEMO_TODAY,
    },
  ]);
  const units = await rowsOf(
    em,
    z.object({ id: z.string(), unit: z.string() }),
    `select id, unit from vehicle where unit in ('T04', 'V05') order by unit`,
  );
  const away = (
    kind: 'person' | 'vehicle' | 'depot',
    of: string,
    [from_date, to_date]: [string, string],
    reason: string,
    comes_in = false,
  ) => ({
    id: idOf('absence', kind, of, from_date),
    kind,
    absent_person_id: kind === 'person' ? of : null,
    vehicle_id: kind === 'vehicle' ? of : null,
    depot_id: kind === 'depot' ? of : null,
    from_date,
    to_date,
    reason,
    comes_in,
    entered_by: COORDINATOR,
    entered_on: DEMO_TODAY,
  });
  const idOfUnit = (unit: string) => units.find((one) => one.unit === unit)?.id;
  const [tanker, van] = [idOfUnit('T04'), idOfUnit('V05')];
  await insert(
    em,
    'absence',
    'id uuid, kind text, absent_person_id uuid, vehicle_id uuid, depot_id uuid, from_date date, to_date date, reason text, comes_in bool, entered_by uuid, entered_on date',
    [
      away('person', personId('Tobi Varga'), ['2026-12-21', '2027-01-03'], 'leave'),
      ...Object.keys(SHOPS).map((depot) =>
        away('depot', idOf('depot', depot), ['2026-12-25', '2026-12-26'], 'Christmas'),
      ),
      ...(tanker ? [away('vehicle', tanker, ['2026-11-23', '2026-12-04'], 'lent to the harvest')] : []),
      ...(van ? [away('vehicle', van, ['2026-12-14', '2026-12-18'], 'tyres', true)] : []),
    ],
  );
}
