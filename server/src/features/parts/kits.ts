import {
  buildOf,
  chancesWith,
  dayNumber,
  type AxleAhead,
  type DayQuantile,
  type KitAhead,
  type KitLine,
  type KitPart,
  kitFrom,
  kitOf,
  type Kit,
  type Part,
  type Place,
  type ShopPolicy,
  type CardAxle,
  type JobAction,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { BEGAN_US, kitChanges, kitVersion, policyOfModel } from '../jobs/index.ts';
import { usesOf } from './uses.ts';

const Scope = z.array(
  z.object({ action: z.string(), sides: z.union([z.literal('both'), z.array(z.enum(['left', 'right']))]) }),
);
/** Diameter of an axle’s discs as its model has them, µm. */
export const Disc = z.number().nullable();

/** Where parts go: an axle of a model, with the diameter of its discs where that is on record. */
export const placeOf = (model: string, axle: number, disc: z.output<typeof Disc>): Place => ({
  model,
  axle,
  rotorMm: disc === null ? undefined : disc / 1000,
});

const JobSql = z.object({
  id: z.string(),
  unit: z.string(),
  vehicle_id: z.string(),
  model_id: z.string(),
  model: z.string(),
  class: z.string(),
  depot_id: z.string(),
  depot: z.string(),
  state: z.string(),
  day: z.string().nullable(),
  mark: z.string().nullable(),
  policy: z.unknown(),
  began: z.number().nullable(),
  axles: z.array(
    z.object({ axle: z.number(), scope: Scope, brake: z.enum(['hydraulic', 'air']), detail: z.string(), disc: Disc }),
  ),
  picked: z.record(z.string(), z.number()),
});

const JOBS = `
  select j.id, v.unit, v.id as vehicle_id, v.model_id, m.name as model, m.class, j.depot_id, d.name as depot, j.state, j.day::text, j.policy, ${BEGAN_US} as began,
    (select min(f.mark->>'markDate') from forecast f join job_axle a on a.job_id = j.id and a.axle = f.axle where f.vehicle_id = v.id) as mark,
    (select coalesce(jsonb_agg(jsonb_build_object('axle', a.axle, 'scope', a.scope, 'brake', x.brake, 'detail', x.brake_detail, 'disc', x.rotor_diameter_um) order by a.axle), '[]')
      from job_axle a join model_axle x on x.model_id = v.model_id and x.axle = a.axle where a.job_id = j.id) as axles,
    (select coalesce(jsonb_object_agg(t.part_id, t.units), '{}') from (select s.part_id, -sum(s.units)::int as units from stock_movement s
      where s.job_id = j.id and s.kind in ('pick', 'return') group by s.part_id) t) as picked
  from job j join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id join depot d on d.id = j.depot_id
  where j.state in ('proposed', 'booked', 'in work') order by j.id`;

/** An open job with the kit that it takes. */
export interface OpenJob {
  id: string;
  unit: string;
  vehicleId: string;
  model: string;
  depotId: string;
  depot: string;
  state: string;
  day: string;
  booked: boolean;
  lines: KitLine[];
  places: Map<number, Place>;
  kit: Kit;
  /** Version of its model's kits. */
  version: number;
  picked: Map<string, number>;
}

/** The policies of models, each looked up once. */
function policiesOf(em: EntityManager): (model: { name: string; class: string }) => Promise<ShopPolicy> {
  const there = new Map<string, Promise<ShopPolicy>>();
  return (model) => {
    const own = there.get(model.name) ?? policyOfModel(em.fork({ keepTransactionContext: true }), model);
    there.set(model.name, own);
    return own;
  };
}

/** Open jobs with their kits out of the catalogue. */
export async function openJobs(em: EntityManager, parts: readonly Part[], today: string): Promise<OpenJob[]> {
  const rows = await rowsOf(em, JobSql, JOBS);
  const policyFor = policiesOf(em);
  const changes = await kitChanges(em);
  const jobs: OpenJob[] = [];
  for (const row of rows) {
    const policy = (row.policy as ShopPolicy | null) ?? (await policyFor({ name: row.model, class: row.class }));
    const axles = row.axles.map(({ axle, scope, brake, detail }) =>
      cardAxle(axle, brake, detail, scope as CardAxle['scope']),
    );
    const { version, changes: own } = kitVersion(changes, row.model_id, row.began);
    const lines = kitOf(axles, policy, own);
    const places = new Map(row.axles.map(({ axle, disc }) => [axle, placeOf(row.model_id, axle, disc)]));
    const wanted = row.day ?? row.mark ?? today;
    jobs.push({
      id: row.id,
      unit: row.unit,
      vehicleId: row.vehicle_id,
      model: row.model,
      depotId: row.depot_id,
      depot: row.depot,
      state: row.state,
      day: wanted < today ? today : wanted,
      booked: row.day !== null,
      lines,
      places,
      kit: kitFrom(lines, places, parts),
      version,
      picked: new Map(Object.entries(row.picked)),
    });
  }
  return jobs;
}

export const cardAxle = (
  axle: number,
  brake: 'hydraulic' | 'air',
  detail: string,
  scope: CardAxle['scope'],
): CardAxle => ({
  axle,
  brake,
  build: buildOf(brake, detail),
  scope,
  joints: [],
  unknownJoints: [],
});

/** All that a job may come to take at an axle, so that every kind has its quantity. */
const EVERYTHING: readonly JobAction[] = [
  'pads',
  'rotors new',
  'calipers',
  'hose',
  'pin boots',
  'bracket',
  'hardware',
  'sensor',
  'bleed',
];

const AxleSql = z.object({
  vehicle_id: z.string(),
  depot_id: z.string(),
  model_id: z.string(),
  model: z.string(),
  class: z.string(),
  axle: z.number(),
  brake: z.enum(['hydraulic', 'air']),
  detail: z.string(),
  disc: Disc,
  mark: z.string(),
  dates: z.record(z.string(), z.string()),
});
const AXLES = `
  select v.id as vehicle_id, v.depot_id, v.model_id, m.name as model, m.class, f.axle, x.brake, x.brake_detail as detail, x.rotor_diameter_um as disc,
    f.mark->>'markDate' as mark, f.detail->'decision'->'dates' as dates
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id
    join model_axle x on x.model_id = v.model_id and x.axle = f.axle
  where f.mark is not null and f.detail->'decision'->'dates' is not null order by v.id, f.axle`;

/** What the fleet's axles will take, and how likely each kind is: what the demand is made of. */
export interface FleetAhead {
  axles: AxleAhead[];
  kits: Map<string, KitAhead>;
}

export async function fleetAhead(
  em: EntityManager,
  parts: readonly Part[],
  jobs: readonly OpenJob[],
  today: string,
): Promise<FleetAhead> {
  const rows = await rowsOf(em, AxleSql, AXLES);
  const uses = await usesOf(em);
  const changes = await kitChanges(em);
  const policyFor = policiesOf(em);
  const jobAt = new Map(jobs.flatMap((job) => [...job.places.keys()].map((axle) => [`${job.vehicleId}/${axle}`, job])));
  const ahead: FleetAhead = { axles: [], kits: new Map() };
  const now = dayNumber(today);
  for (const row of rows) {
    const key = `${row.model_id}/${row.axle}`;
    const place = placeOf(row.model_id, row.axle, row.disc);
    if (!ahead.kits.has(key)) {
      const scope = EVERYTHING.map((action) => ({ action, sides: 'both' as const }));
      const own = kitVersion(changes, row.model_id).changes.filter(({ axle }) => axle === row.axle);
      const lines = kitOf(
        [cardAxle(row.axle, row.brake, row.detail, scope)],
        await policyFor({ name: row.model, class: row.class }),
        own,
      );
      ahead.kits.set(key, {
        needs: kitFrom(lines, new Map([[row.axle, place]]), parts).needs,
        chances: chancesWith(uses.at(row.model_id, row.axle), own),
      });
    }
    const job = jobAt.get(`${row.vehicle_id}/${row.axle}`);
    ahead.axles.push({
      depot: row.depot_id,
      kit: key,
      when: { day: dayNumber(job?.day ?? row.mark) - now, booked: job?.booked ?? false },
      passage: passageOf(row.dates, now),
      sure: job?.lines.filter(({ axle }) => axle === row.axle).map(({ part }) => part),
      taken: job && takenFor(job, row.axle),
    });
  }
  return ahead;
}

/** Kinds of an axle's kit that were picked; what is of the whole job counts at its first axle only, and is taken with it. */
export const takenFor = ({ kit, picked }: Pick<OpenJob, 'kit' | 'picked'>, axle: number): KitPart[] =>
  kit.needs
    .filter((need) => need.axle === axle || need.axle === undefined)
    .filter(({ options }) => options.some(({ part }) => (picked.get(part) ?? 0) > 0))
    .map(({ kind }) => kind);

const passageOf = (dates: Readonly<Record<string, string>>, now: number): DayQuantile[] =>
  Object.entries(dates).map(([p, date]) => ({ p: Number(p.slice(1)) / 100, day: dayNumber(date) - now }));

const PlaceSql = z.object({ depot_id: z.string(), model_id: z.string(), axle: z.number(), disc: Disc });

/** Wheel ends of a depot's vehicles, each kind once: what an order's parts may be for. */
export async function placesOf(em: EntityManager): Promise<Map<string, Place[]>> {
  const rows = await rowsOf(
    em,
    PlaceSql,
    'select distinct v.depot_id, v.model_id, x.axle, x.rotor_diameter_um as disc from vehicle_in_fleet v join model_axle x on x.model_id = v.model_id order by 1, 2, 3',
  );
  const places = new Map<string, Place[]>();
  for (const { depot_id, model_id, axle, disc } of rows)
    places.set(depot_id, [...(places.get(depot_id) ?? []), placeOf(model_id, axle, disc)]);
  return places;
}
