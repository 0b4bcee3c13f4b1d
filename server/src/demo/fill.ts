import {
  DEFAULT_DUTY_SETTINGS,
  type Duty,
  milesToMetres,
  type Random,
  seededRandom,
  serviceLimit,
  severity,
  SHIPPED_LIMITS,
  simulateVehicle,
  thicknessIn,
  type VirtualHistory,
  type VirtualSeizure,
} from '@mile-mark/core';
import { hashPassword } from '../platform/auth/password.ts';
import type { EntityManager } from '../platform/db/orm.ts';
import {
  DEMO_FROM,
  DEMO_PASSWORD,
  DEMO_TODAY,
  type DemoAppraiser,
  DEPOTS,
  DUTIES,
  appraisersOf,
  STAFF,
  TECHNICIANS,
} from './cast.ts';
import { type DemoFitting, type DemoModel, MODELS } from './castModels.ts';
import { insertCameBack, insertDefects } from './fillDefects.ts';
import { insertJobs } from './fillJobs.ts';
import { insertParts } from './fillParts.ts';
import { insertShops } from './fillShops.ts';
import { insertPeople, insertRegister } from './fillRegister.ts';
import { insertLibrary } from './library.ts';
import { gaugeId, idOf, insert, personId } from './rows.ts';

const SEED = 4600;

/** Fills an empty database with the invented dairy co-operative, its papers made by driving a virtual fleet. */
export async function fillDemo(em: EntityManager, vehicles: number): Promise<void> {
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  await em.transactional(async (inner) => {
    await insertPeople(inner, passwordHash);
    await insertRegister(inner);
    await insertLibrary(inner);
    const { fitted, standing } = await insertVehicles(inner, vehicles);
    await insertJobs(inner, fitted, standing);
    await insertParts(inner);
    await insertShops(inner);
    await insertDefects(inner, standing);
    await insertCameBack(inner, fitted);
    await inner.execute(`insert into setting (key, value) values ('costs', ?::jsonb)`, [JSON.stringify(COSTS)]);
    await inner.execute(`insert into setting (key, value) values ('rotorPrices', ?::jsonb)`, [
      JSON.stringify(ROTOR_PRICES),
    ]);
  });
}

interface Papers {
  vehicle: object[];
  duty_period: object[];
  odometer: object[];
  inspection: object[];
  reading: object[];
  service: object[];
  /** What was fitted, for its jobs. */
  fitted: DemoFitting[];
  /** Every axle as it stands at the end. */
  standing: DemoFitting[];
}

async function insertVehicles(em: EntityManager, count: number): Promise<Pick<Papers, 'fitted' | 'standing'>> {
  const random = seededRandom(SEED);
  const papers: Papers = {
    vehicle: [],
    duty_period: [],
    odometer: [],
    inspection: [],
    reading: [],
    service: [],
    fitted: [],
    standing: [],
  };
  const total = MODELS.reduce((sum, { share }) => sum + share, 0);
  const width = count > 100 ? 4 : 2;
  let made = 0;
  MODELS.forEach((model, index) => {
    const own = index === MODELS.length - 1 ? count - made : Math.round((count * model.share) / total);
    for (let i = 1; i <= own; i += 1)
      addVehicle(papers, model, `${model.prefix}${String(i).padStart(width, '0')}`, i, random);
    made += own;
  });
  await insert(em, 'vehicle', 'id uuid, unit text, model_id uuid, depot_id uuid', papers.vehicle);
  await insert(
    em,
    'duty_period',
    'id uuid, vehicle_id uuid, duty_id uuid, from_date date, to_date date',
    papers.duty_period,
  );
  await insert(
    em,
    'odometer',
    'id uuid, vehicle_id uuid, read_on date, odometer_m int, source text, entered_by uuid',
    papers.odometer,
  );
  const inspection =
    'id uuid, vehicle_id uuid, technician_id uuid, gauge_id uuid, measured_on date, odometer_m int, odometer_typed text, entered_by uuid, entered_at timestamptz';
  await insert(em, 'inspection', inspection, papers.inspection);
  const reading =
    'id uuid, inspection_id uuid, vehicle_id uuid, technician_id uuid, measured_on date, odometer_m int, axle int, side text, pad text, thickness_um int, typed text, unit text, entered_by uuid, entered_at timestamptz';
  await insert(em, 'reading', reading, papers.reading);
  await insert(
    em,
    'service',
    'id uuid, vehicle_id uuid, axle int, fitted_on date, odometer_m int, fitted text, recorded_by uuid',
    papers.service,
  );
  return papers;
}

/** Stories a coordinator recognises, besides what chance brings: a route that changed, and slides that seized. */
const ROUTE_CHANGED = new Set(['V04', 'V09', 'T07']);
/** A route that changed without anybody writing it down: from a day on, twice the stops and hills. */
export const UNSTATED: Record<string, { from: string; stops: number; descent: number }> = {
  V08: { from: '2026-04-20', stops: 2.2, descent: 3 },
};
/** What a service of an axle costs the co-operative, in cents. */
const COSTS = {
  currency: 'USD',
  light: { plannedMinor: 38_000, failureMinor: 56_000 },
  heavy: { plannedMinor: 95_000, failureMinor: 140_000 },
};
/** What both rotors of an axle cost the co-operative, labour included, in cents. */
const ROTOR_PRICES = {
  light: { scuffMinor: 2_500, machineMinor: 11_000, replaceMinor: 21_000 },
  heavy: { scuffMinor: 6_000, machineMinor: 28_000, replaceMinor: 64_000 },
  discountPerYear: 0.08,
};
const SEIZED: Record<string, VirtualSeizure> = {
  P06: { axle: 1, side: 'right', from: '2026-06-01' },
  V15: { axle: 1, side: 'left', from: '2026-06-01' },
};

/** The duty a vehicle really drives where it is said to drive this one. */
function drivenOn(unit: string, stated: Duty): Duty {
  const own = UNSTATED[unit];
  if (!own) return stated;
  const { stopsPerMile, descentMPerMile } = stated;
  return { ...stated, stopsPerMile: own.stops * stopsPerMile, descentMPerMile: own.descent * descentMPerMile };
}

/** The duties a vehicle really drove, by dates. */
function drivenBy(unit: string, stated: { from: string; duty: Duty }[]): { from: string; duty: Duty }[] {
  const own = UNSTATED[unit];
  const last = stated.at(-1)?.duty;
  return own && last ? [...stated, { from: own.from, duty: drivenOn(unit, last) }] : stated;
}

function addVehicle(papers: Papers, model: DemoModel, unit: string, number: number, random: Random): void {
  const vehicleId = idOf('vehicle', unit);
  const depot = DEPOTS[number % DEPOTS.length] as string;
  const first = model.duties[number % 3 === 0 ? 1 : 0] as string;
  const second = model.duties.find((name) => name !== first) as string;
  const changes = ROUTE_CHANGED.has(unit)
    ? [
        { name: first, from: DEMO_FROM, to: '2026-04-13' },
        { name: second, from: '2026-04-13', to: null },
      ]
    : [{ name: first, from: DEMO_FROM, to: null }];
  const dutyOf = (name: string) => DUTIES.find((duty) => duty.name === name) as (typeof DUTIES)[number];
  const settings = DEFAULT_DUTY_SETTINGS[model.class];
  const reference = dutyOf(model.duties[0] as string);
  const appraisers = TECHNICIANS.filter(
    (_, index) => index % DEPOTS.length === number % DEPOTS.length || index === (number + 1) % TECHNICIANS.length,
  ).flatMap(appraisersOf);
  const history = simulateVehicle(
    {
      axles: model.axles.map((axle, index) => ({
        axle: index + 1,
        newMm: axle.padNew,
        plateMm: axle.plate,
        limitMm: serviceLimit(
          { brake: axle.brake, gvwrKg: model.gvwrKg, padNewMm: axle.padNew, padMakerMinMm: axle.makerMin },
          SHIPPED_LIMITS,
        ).limitMm,
        ratePer1000: axle.rate,
      })),
      appraisers,
      from: DEMO_FROM,
      to: DEMO_TODAY,
      startMiles: Math.round(20_000 + 50_000 * random()),
      milesPerDay: dutyOf(first).milesPerDay * (0.85 + 0.3 * random()),
      duty: drivenBy(
        unit,
        changes.map(({ name, from }) => ({ from, duty: dutyOf(name) })),
      ).map(({ from, duty }) => ({
        from,
        severity: severity(model, duty, reference, settings),
      })),
      inspectEvery: model.inspectEvery,
      changeAtOverLimitMm: 0.9,
      seizure: SEIZED[unit],
    },
    random,
  );
  papers.vehicle.push({ id: vehicleId, unit, model_id: idOf('model', model.name), depot_id: idOf('depot', depot) });
  for (const { name, from, to } of changes) {
    papers.duty_period.push({
      id: idOf('period', unit, from),
      vehicle_id: vehicleId,
      duty_id: idOf('duty', name),
      from_date: from,
      to_date: to,
    });
  }
  addPapers(papers, vehicleId, unit, history);
  const last = history.inspections.at(-1);
  const technicianOn = (date: string) => {
    const look = history.inspections.filter((one) => one.date <= date).at(-1) ?? last;
    return (look?.appraiser as DemoAppraiser | undefined)?.technician ?? TECHNICIANS[0]?.name ?? '';
  };
  const visit = (axle: number, date: string, miles: number): DemoFitting => ({
    unit,
    model,
    depot,
    axle,
    date,
    odometerM: Math.round(milesToMetres(Math.round(miles))),
    technician: technicianOn(date),
  });
  papers.fitted.push(...history.fittings.map(({ axle, date, miles }) => visit(axle, date, miles)));
  papers.standing.push(...model.axles.map((_, index) => visit(index + 1, DEMO_TODAY, history.endMiles)));
}

function addPapers(papers: Papers, vehicleId: string, unit: string, history: VirtualHistory): void {
  const coordinator = personId(STAFF[0].name);
  const metres = (miles: number) => Math.round(milesToMetres(Math.round(miles)));
  const startMiles = history.inspections[0] ? Math.max(0, history.inspections[0].miles - 2000) : history.endMiles;
  papers.odometer.push({
    id: idOf('odometer', unit),
    vehicle_id: vehicleId,
    read_on: DEMO_FROM,
    odometer_m: metres(Math.min(startMiles, history.endMiles)),
    source: 'vehicle list',
    entered_by: coordinator,
  });
  history.inspections.forEach(({ date, miles, appraiser, readings }, index) => {
    const own = appraiser as DemoAppraiser;
    const id = idOf('inspection', unit, index);
    const technician = personId(own.technician);
    // Typed in on the day it was measured, before the day ended.
    const enteredAt = `${date}T15:30:00Z`;
    papers.inspection.push({
      id,
      vehicle_id: vehicleId,
      technician_id: technician,
      gauge_id: gaugeId(own.gauge),
      measured_on: date,
      odometer_m: metres(miles),
      odometer_typed: `${Math.round(miles)} mi`,
      entered_by: technician,
      entered_at: enteredAt,
    });
    for (const { axle, side, pad, mm } of readings) {
      const typed = own.gauge.unit === 'mm' ? mm.toFixed(1) : `${Math.round(thicknessIn(mm, '1/32 in'))}/32`;
      papers.reading.push({
        id: idOf('reading', unit, index, axle, side, pad),
        inspection_id: id,
        vehicle_id: vehicleId,
        technician_id: technician,
        measured_on: date,
        odometer_m: metres(miles),
        axle,
        side,
        pad,
        thickness_um: Math.round(mm * 1000),
        typed,
        unit: own.gauge.unit,
        entered_by: technician,
        entered_at: enteredAt,
      });
    }
  });
  for (const { axle, date, miles } of history.fittings) {
    papers.service.push({
      id: idOf('service', unit, axle, date),
      vehicle_id: vehicleId,
      axle,
      fitted_on: date,
      odometer_m: metres(miles),
      fitted: 'pads',
      recorded_by: coordinator,
    });
  }
}
