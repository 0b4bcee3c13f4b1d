import { Bay, type BayAnswer, BayVehicle } from '@mile-mark/contract/inspections';
import { AxleValues } from '@mile-mark/contract/specifications';
import { type LimitRule, metresToMiles } from '@mile-mark/core';
import { createHash } from 'node:crypto';
import { z } from 'zod';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { changedSince } from '../../../platform/answers/answers.ts';
import { partsOf } from '../../../platform/answers/parts.ts';
import { shared } from '../../../platform/answers/shared.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { setsOf } from '../../../platform/db/sets.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { KnownAppraiser, listGauges } from '../../gauges/index.ts';
import {
  limitOf,
  LimitRuleEntity,
  limitRuleOf,
  limitsInForce,
  ModelAxleEntity,
  type ModelAxleRow,
  ModelEntity,
  type ModelRow,
  readSettings,
  onInstrumentNow,
} from '../../register/index.ts';

const BayMark = z.object({
  markDate: z.string(),
  worth: BayVehicle.shape.axles.element.shape.worth.unwrap(),
});
type BayMark = z.output<typeof BayMark>;

const VehicleSql = z.object({
  id: z.string(),
  unit: z.string(),
  model_id: z.string(),
  depot: z.string(),
  odometer_now: z.number().nullable(),
  miles_per_day: z.number().nullable(),
  last_date: z.string().nullable(),
  last_metres: z.number().nullable(),
  axles: z.array(
    z.object({
      axle: z.number(),
      pads: BayVehicle.shape.axles.element.shape.pads,
      mark: BayMark,
      fitted: z.object({ date: z.string() }).nullable(),
      asked: BayVehicle.shape.axles.element.shape.asked,
    }),
  ),
});
type VehicleSql = z.output<typeof VehicleSql>;

/** A look somebody asked for is answered by the next reading at its axle. */
const VEHICLES = `
  with asked as (
    select r.vehicle_id, r.axle, 'measure again' as what, p.name as by, a.at, a.note, r.side, r.pad
      from live_question_answer a join reading r on r.id = a.reading_id join person p on p.id = a.person_id
      where a.answer = 'measure_again'
    union all
    select c.vehicle_id, c.axle, 'look', p.name, a.at, a.note, c.side, c.more
      from wear_change_answer a join wear_change c on c.id = a.change_id join person p on p.id = a.person_id
      where a.answer = 'look' and c.gone_on is null
        and not exists (select 1 from wear_change_answer later where later.change_id = c.id and later.at > a.at))
  select v.id, v.unit, v.model_id, d.name as depot, (vf.detail->>'odometerNowMi')::float8 as odometer_now,
    (vf.detail->'milesPerDay'->>'mean')::float8 as miles_per_day, last.day::text as last_date, last.metres as last_metres,
    coalesce((select jsonb_agg(jsonb_build_object('axle', f.axle, 'pads', f.pads, 'fitted', f.detail->'fitted',
      'asked', (select jsonb_build_object('what', q.what, 'by', q.by, 'on', q.at::date::text, 'note', q.note, 'side', q.side, 'pad', q.pad)
        from asked q where q.vehicle_id = v.id and (q.axle is null or q.axle = f.axle) and not exists (select 1 from reading n
          where n.vehicle_id = v.id and n.axle = f.axle and n.entered_at > q.at and n.supersedes_id is null)
        order by q.at desc limit 1),
      'mark', jsonb_build_object('markDate', f.mark->'markDate', 'worth', f.mark->'worth')) order by f.axle)
      from forecast f where f.vehicle_id = v.id), '[]') as axles
  from vehicle v join depot d on d.id = v.depot_id left join vehicle_forecast vf on vf.vehicle_id = v.id
  left join lateral (
    select day, ${onInstrumentNow('v.id', 'known.day', 'known.metres')} as metres from (
      (select measured_on as day, odometer_m as metres from live_inspection i where i.vehicle_id = v.id
        order by measured_on desc, odometer_m desc limit 1)
      union all (select read_on, odometer_m from odometer o where o.vehicle_id = v.id order by read_on desc, odometer_m desc limit 1)
      union all (select fitted_on, odometer_m from service s where s.vehicle_id = v.id order by fitted_on desc, odometer_m desc limit 1)
    ) known order by day desc, metres desc limit 1) last on true
  where v.id = any(?::uuid[])`;

const Now = z.object({ at: z.string(), snapshot: z.string() });
/** The moment, and all that is visible at it; in which run of which database, since another counts anew. */
const NOW = `
  select to_char(clock_timestamp() at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as at,
    (select oid from pg_database where datname = current_database()) || '.' ||
    (extract(epoch from pg_postmaster_start_time()) * 1000000)::bigint || '.' || pg_current_snapshot() as snapshot`;
const InFleet = z.object({ id: z.string(), unit: z.string() });
const IN_FLEET = 'select id, unit from vehicle_in_fleet order by unit';
const APPRAISERS = 'select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from appraiser';
const OWN_APPRAISER = `${APPRAISERS} where technician_id = ?`;

const SHAPE = JSON.stringify(z.toJSONSchema(BayVehicle));
/** What vehicles are told as, and by which build: with another, all are told anew. */
const formOf = (build: string) =>
  `${createHash('sha256').update(build).update(SHAPE).digest('base64url').slice(0, 8)}~`;

/**
 * All that capture needs, to keep on a device: vehicles with what their pads are expected to measure, gauges, people.
 *
 * @param since the cursor of an answer the device has: of the vehicles only those that changed since are told
 * @param build a word for what was built: another may say other things of the same record
 */
export async function bayOf(
  em: EntityManager,
  actor: Actor,
  today: string,
  { since, build }: { since: string | undefined; build: string },
): Promise<BayAnswer> {
  mustBeAllowed(actor, 'measure');
  const all = actor.role === 'coordinator';
  const { now, fleet, appraisers } = await setsOf(em, {
    now: { row: Now, sql: NOW, params: [] },
    fleet: { row: InFleet, sql: IN_FLEET, params: [] },
    appraisers: { row: KnownAppraiser, sql: all ? APPRAISERS : OWN_APPRAISER, params: all ? [] : [actor.id] },
  });
  const [{ at, snapshot } = { at: '', snapshot: '' }] = now;
  const form = formOf(build);
  const changed = await changedSince(em, since?.startsWith(form) ? since.slice(form.length) : undefined, snapshot);
  const common = await commonNow(em);
  const vehicles = await partsOf(
    em,
    'vehicles of the bay',
    fleet.map(({ id }) => id),
    // What they share is asked for after it is known how it stands: it is as new as that, or newer.
    async (stale) => vehiclesOf(em, stale, await commonNow(em)),
  );
  return {
    at,
    today,
    whole: changed === 'all',
    fleet: fleet.map(({ unit }) => ({ unit })),
    cursor: `${form}${snapshot}`,
    vehicles: [...vehicles].flatMap(([id, vehicle]) => (changed === 'all' || changed.has(id) ? [vehicle] : [])),
    gauges: common.gauges,
    people: common.people,
    appraisers: appraisers.map((row) => ({
      technicianId: row.technician_id,
      gaugeId: row.gauge_id,
      biasMm: row.bias_mm,
      biasSdMm: row.bias_sd_mm,
      repeatabilityMm: row.repeatability_mm,
    })),
  };
}

const commonNow = (em: EntityManager) => shared(em, 'what the bay shares', () => commonOf(em));

/** What all vehicles of the bay have in common. */
async function commonOf(em: EntityManager) {
  const own = em.fork({ keepTransactionContext: true });
  return {
    marginShare: (await readSettings(own)).marginShare,
    rules: (await own.find(LimitRuleEntity, {})).map(limitRuleOf),
    models: new Map((await own.find(ModelEntity, {})).map((model) => [model.id, model])),
    axles: await withSheets(own, await own.find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } })),
    gauges: await listGauges(own),
    people: await rowsOf(
      own,
      Bay.shape.people.element,
      `select id, name, role from person where role in ('technician', 'coordinator') order by name`,
    ),
  };
}

async function vehiclesOf(
  em: EntityManager,
  ids: string[],
  { models, axles, rules, marginShare }: Awaited<ReturnType<typeof commonOf>>,
): Promise<Map<string, BayVehicle>> {
  const rows = await rowsOf(em, VehicleSql, VEHICLES, [uuidArray(ids)]);
  const found = new Map<string, BayVehicle>();
  for (const row of rows) {
    const model = models.get(row.model_id);
    const own = axles.filter(({ modelId }) => modelId === row.model_id);
    if (model) found.set(row.id, vehicleOf(row, model, own, rules, marginShare));
  }
  return found;
}

type AxleOfBay = ModelAxleRow & { sheet: AxleValues | undefined };

/** Axles with what their released specification states of the rotor. */
async function withSheets(em: EntityManager, axles: readonly ModelAxleRow[]): Promise<AxleOfBay[]> {
  const rows = await rowsOf(
    em,
    z.object({ model_id: z.string(), axle: z.number(), detail: z.unknown() }),
    `select s.model_id, s.axle, rel.detail from specification s
     join specification_release rel on rel.revision_id = s.released_revision_id where s.joint_kind_id is null`,
  );
  const sheets = new Map(rows.map(({ model_id, axle, detail }) => [`${model_id} ${axle}`, AxleValues.parse(detail)]));
  return axles.map((axle) => ({ ...axle, sheet: sheets.get(`${axle.modelId} ${axle.axle}`) }));
}

function vehicleOf(
  row: VehicleSql,
  model: ModelRow,
  axles: readonly AxleOfBay[],
  rules: readonly LimitRule[],
  marginShare: number,
): BayVehicle {
  const mm = (um: number | null | undefined) => (um == null ? null : um / 1000);
  return {
    unit: row.unit,
    model: model.name,
    class: model.class as BayVehicle['class'],
    depot: row.depot,
    odometerNowMi: row.odometer_now === null ? null : Math.round(row.odometer_now),
    milesPerDay: row.miles_per_day,
    last:
      row.last_date === null || row.last_metres === null
        ? null
        : { date: row.last_date, miles: metresToMiles(row.last_metres) },
    axles: axles.map((axle) => {
      const known = row.axles.find((one) => one.axle === axle.axle);
      return {
        axle: axle.axle,
        newMm: axle.padNewUm / 1000,
        plateMm: axle.backingPlateUm / 1000,
        limitMm: limitOf(model, axle, rules, marginShare).limitMm,
        rotorNewMm: mm(axle.rotorNewUm),
        rotorDiscardMm: mm(limitsInForce(axle).rotorDiscardUm),
        runoutLimitMm: axle.sheet?.runoutMm ?? null,
        variationLimitMm: axle.sheet?.thicknessVariationMm ?? null,
        fittedOn: known?.fitted?.date ?? null,
        markDate: known?.mark.markDate ?? null,
        asked: known?.asked ?? null,
        worth: known?.mark.worth ?? null,
        pads: known?.pads ?? [],
      };
    }),
  };
}
