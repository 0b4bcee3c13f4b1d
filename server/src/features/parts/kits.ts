import {
  BY_CHANCE,
  buildOf,
  chanceOfUse,
  dayNumber,
  type AxleAhead,
  type Chance,
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
  type Taken,
  type CardAxle,
  type JobAction,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { policyOfModel } from '../jobs/index.ts';

const Scope = z.array(
  z.object({ action: z.string(), sides: z.union([z.literal('both'), z.array(z.enum(['left', 'right']))]) }),
);
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
  axles: z.array(z.object({ axle: z.number(), scope: Scope, brake: z.enum(['hydraulic', 'air']), detail: z.string() })),
  picked: z.record(z.string(), z.number()),
});

const JOBS = `
  select j.id, v.unit, v.id as vehicle_id, v.model_id, m.name as model, m.class, j.depot_id, d.name as depot, j.state, j.day::text, j.policy,
    (select min(f.mark->>'markDate') from forecast f join job_axle a on a.job_id = j.id and a.axle = f.axle where f.vehicle_id = v.id) as mark,
    (select coalesce(jsonb_agg(jsonb_build_object('axle', a.axle, 'scope', a.scope, 'brake', x.brake, 'detail', x.brake_detail) order by a.axle), '[]')
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
  const jobs: OpenJob[] = [];
  for (const row of rows) {
    const policy = (row.policy as ShopPolicy | null) ?? (await policyFor({ name: row.model, class: row.class }));
    const axles = row.axles.map(({ axle, scope, brake, detail }) =>
      cardAxle(axle, brake, detail, scope as CardAxle['scope']),
    );
    const lines = kitOf(axles, policy);
    const places = new Map(
      axles.map(({ axle }) => [axle, { model: row.model_id, axle, rotorMm: undefined } satisfies Place]),
    );
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
      picked: new Map(Object.entries(row.picked)),
    });
  }
  return jobs;
}

const cardAxle = (axle: number, brake: 'hydraulic' | 'air', detail: string, scope: CardAxle['scope']): CardAxle => ({
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
  mark: z.string(),
  dates: z.record(z.string(), z.string()),
});
const AXLES = `
  select v.id as vehicle_id, v.depot_id, v.model_id, m.name as model, m.class, f.axle, x.brake, x.brake_detail as detail,
    f.mark->>'markDate' as mark, f.detail->'decision'->'dates' as dates
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id
    join model_axle x on x.model_id = v.model_id and x.axle = f.axle
  where f.mark is not null and f.detail->'decision'->'dates' is not null order by v.id, f.axle`;

const TakenSql = z.object({
  model_id: z.string(),
  axle: z.number(),
  action: z.string(),
  jobs: z.number(),
  took: z.number(),
});
/** How many closed jobs did new pads at an axle, and how many of them did what else. */
const TAKEN = `
  with done as (select v.model_id, a.axle, a.scope from job j join vehicle v on v.id = j.vehicle_id join job_axle a on a.job_id = j.id
      where j.state = 'closed' and a.scope @> '[{"action": "pads"}]'),
    counted as (select model_id, axle, count(*)::int as jobs from done group by model_id, axle)
  select c.model_id, c.axle, n.action, c.jobs,
    (select count(*)::int from done d where d.model_id = c.model_id and d.axle = c.axle
      and d.scope @> jsonb_build_array(jsonb_build_object('action', n.action))) as took
  from counted c cross join unnest(?::text[]) as n(action)`;

/** What the fleet's axles will take, and how likely each kind is: what the demand is made of. */
export interface FleetAhead {
  axles: AxleAhead[];
  kits: Map<string, KitAhead>;
  /** Wheel ends by depot, for the check of an order's axle. */
  places: Map<string, Place[]>;
}

export async function fleetAhead(
  em: EntityManager,
  parts: readonly Part[],
  jobs: readonly OpenJob[],
  today: string,
): Promise<FleetAhead> {
  const rows = await rowsOf(em, AxleSql, AXLES);
  const actions = [...new Set(Object.values(BY_CHANCE).map(({ action }) => action))];
  const taken = await rowsOf(em, TakenSql, TAKEN, [`{${actions.map((one) => `"${one}"`).join(',')}}`]);
  const chanceAt = chancesOf(taken);
  const policyFor = policiesOf(em);
  const jobAt = new Map(jobs.flatMap((job) => [...job.places.keys()].map((axle) => [`${job.vehicleId}/${axle}`, job])));
  const ahead: FleetAhead = { axles: [], kits: new Map(), places: new Map() };
  const now = dayNumber(today);
  for (const row of rows) {
    const key = `${row.model_id}/${row.axle}`;
    const place: Place = { model: row.model_id, axle: row.axle, rotorMm: undefined };
    if (!ahead.kits.has(key)) {
      const scope = EVERYTHING.map((action) => ({ action, sides: 'both' as const }));
      const lines = kitOf(
        [cardAxle(row.axle, row.brake, row.detail, scope)],
        await policyFor({ name: row.model, class: row.class }),
      );
      ahead.kits.set(key, {
        needs: kitFrom(lines, new Map([[row.axle, place]]), parts).needs,
        chances: chanceAt(row.model_id, row.axle),
      });
    }
    const own = ahead.places.get(row.depot_id) ?? [];
    if (!own.some(({ model, axle }) => model === place.model && axle === place.axle)) own.push(place);
    ahead.places.set(row.depot_id, own);
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
const takenFor = ({ kit, picked }: OpenJob, axle: number): KitPart[] =>
  kit.needs
    .filter((need) => need.axle === axle || need.axle === undefined)
    .filter(({ options }) => options.some(({ part }) => (picked.get(part) ?? 0) > 0))
    .map(({ kind }) => kind);

const passageOf = (dates: Readonly<Record<string, string>>, now: number): DayQuantile[] =>
  Object.entries(dates).map(([p, date]) => ({ p: Number(p.slice(1)) / 100, day: dayNumber(date) - now }));

function chancesOf(rows: readonly z.output<typeof TakenSql>[]): (model: string, axle: number) => KitAhead['chances'] {
  const sum = (all: readonly z.output<typeof TakenSql>[]): Taken => ({
    jobs: all.reduce((total, { jobs }) => total + jobs, 0),
    took: all.reduce((total, { took }) => total + took, 0),
  });
  return (model, axle) =>
    Object.fromEntries(
      Object.entries(BY_CHANCE).map(([kind, { action, usual }]): [KitPart, Chance] => {
        const of = rows.filter((row) => row.action === action);
        const own = of.filter((row) => row.model_id === model && row.axle === axle);
        return [kind as KitPart, chanceOfUse(usual, sum(own), sum(of))];
      }),
    );
}
