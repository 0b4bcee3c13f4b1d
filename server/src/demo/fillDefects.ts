import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { DEMO_TODAY, STAFF, type DemoFitting } from './cast.ts';
import { idOf, insert, personId } from './rows.ts';

const COORDINATOR = personId(STAFF[0].name);

/** Complaints that nobody has closed: an old squeal, a pedal that pulses, and grinding, which forbids driving. */
const COMPLAINTS_MADE = [
  {
    unit: 'P03',
    kind: 'squeal',
    severity: 'watch',
    daysAgo: 12,
    saidBy: 'A driver',
    axle: 1,
    note: 'cold mornings, goes after the third stop',
  },
  {
    unit: 'V09',
    kind: 'pedal pulses',
    severity: 'watch',
    daysAgo: 3,
    saidBy: 'A driver',
    axle: null,
    note: 'from 40 mph down',
  },
  {
    unit: 'P15',
    kind: 'grinding',
    severity: 'do not drive',
    daysAgo: 0,
    saidBy: 'Dag Pellworth',
    axle: 1,
    note: 'metal on metal, left front',
  },
] as const;

/** Puts the demo's complaints on record. */
export async function insertDefects(em: EntityManager, standing: readonly DemoFitting[]): Promise<void> {
  const rows = COMPLAINTS_MADE.flatMap(({ unit, kind, severity, daysAgo, saidBy, axle, note }) => {
    const vehicle = standing.find((one) => one.unit === unit);
    if (!vehicle) return [];
    return [
      {
        id: idOf('defect', unit, kind),
        vehicle_id: idOf('vehicle', unit),
        kind: 'complaint',
        axle,
        item: kind,
        severity,
        note,
        said_by: saidBy,
        found_on: dateOfDay(dayNumber(DEMO_TODAY) - daysAgo),
        odometer_m: vehicle.odometerM - daysAgo * 80_000,
        person_id: COORDINATOR,
      },
    ];
  });
  await insert(
    em,
    'defect',
    'id uuid, vehicle_id uuid, kind text, axle int, item text, severity text, note text, said_by text, found_on date, odometer_m int, person_id uuid',
    rows,
  );
}
