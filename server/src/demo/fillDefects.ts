import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { DEMO_TODAY, STAFF } from './cast.ts';
import type { DemoFitting } from './castModels.ts';
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

/** What came back after some of the closed jobs, and how many days later; all of it settled since. */
const CAME_BACK = [
  { kind: 'noise after new pads', days: 21, how: 'pads bedded in again' },
  { kind: 'noise after new pads', days: 9, how: 'went by itself' },
  { kind: 'pedal pulses', days: 48, how: 'rotors machined' },
  { kind: 'drag', days: 5, how: 'guide pin greased' },
] as const;
/** One closed job of so many was followed by one. */
const EVERY = 7;

/** Puts the complaints that followed closed jobs on record, each with the word that closed it. */
export async function insertCameBack(em: EntityManager, fittings: readonly DemoFitting[]): Promise<void> {
  const rows = fittings.flatMap((one, index) => {
    const back = CAME_BACK[Math.floor(index / EVERY) % CAME_BACK.length];
    const foundOn = dateOfDay(dayNumber(one.date) + (back?.days ?? 0));
    if (!back || index % EVERY !== 0 || foundOn > DEMO_TODAY) return [];
    const id = idOf('defect', one.unit, one.date, back.kind);
    return [{ id, one, back, foundOn }];
  });
  await insert(
    em,
    'defect',
    'id uuid, vehicle_id uuid, kind text, axle int, item text, severity text, said_by text, found_on date, person_id uuid, at timestamptz',
    rows.map(({ id, one, back, foundOn }) => ({
      id,
      vehicle_id: idOf('vehicle', one.unit),
      kind: 'complaint',
      axle: one.axle,
      item: back.kind,
      severity: 'watch',
      said_by: 'A driver',
      found_on: foundOn,
      person_id: COORDINATOR,
      at: `${foundOn}T15:00:00Z`,
    })),
  );
  await insert(
    em,
    'defect_settlement',
    'id uuid, defect_id uuid, how text, reason text, person_id uuid, settled_on date, at timestamptz',
    rows.map(({ id, back, foundOn }) => ({
      id: idOf('settlement', id),
      defect_id: id,
      how: 'closed',
      reason: back.how,
      person_id: COORDINATOR,
      settled_on: foundOn,
      at: `${foundOn}T16:00:00Z`,
    })),
  );
}

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
