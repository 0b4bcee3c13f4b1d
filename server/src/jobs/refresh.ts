import { createHash } from 'node:crypto';
import type { AxleForecast, PadEstimate, RiskPolicy, VehicleForecast, VehicleInput } from '@mile-mark/core';
import type { AxleDetail, BayPad } from '@mile-mark/contract';
import { vehicleInputOf, type VehicleRecord } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { keepChanges } from '../services/changes.ts';
import { policyOf, SEED } from '../services/settings.ts';
import { loadForecastGround, loadVehicleRecords, type ForecastGround } from '../services/vehicleRecords.ts';
import { rememberGround } from './groundHistory.ts';
import type { Computer } from './compute.ts';
import { groupsOf } from './learnGroups.ts';
import { learnDrift, learnHands, type Fleet } from './learnHands.ts';
import { validate } from './validate.ts';

/** Changes whenever the same input would give another forecast. */
export const MODEL_VERSION = 'joint-filter-7';

/** Recomputes the forecasts of the named vehicles under the groups' stored priors. */
export async function refreshVehicles(
  em: EntityManager,
  computer: Computer,
  ids: string[],
  today: string,
): Promise<void> {
  const [records, ground] = await Promise.all([loadVehicleRecords(em, ids), loadForecastGround(em)]);
  await refreshRecords(em, computer, records, today, ground);
}

/** Learns the groups' levels and the hands from the whole fleet, then recomputes what that or anything else changed. */
export async function refreshFleet(em: EntityManager, computer: Computer, today: string): Promise<void> {
  const records = await loadVehicleRecords(em, 'all');
  const fleet = { em, computer, records, today };
  const [{ known } = { known: 0 }] = await em.execute<{ known: number }[]>('select count(*)::int as known from hand');
  await learnGroups(fleet);
  await learnHands(fleet);
  if (known === 0) {
    // The first time nothing was known of the hands: what they taught sharpens the groups, and both the hands.
    await learnGroups(fleet);
    await learnHands(fleet);
    await learnHands(fleet);
  }
  await learnDrift(fleet);
  await refreshRecords(em, computer, records, today, await loadForecastGround(em));
  await validate(fleet);
  await rememberGround(fleet);
}

async function learnGroups(fleet: Fleet): Promise<void> {
  const { em } = fleet;
  for (const { modelId, axle, prior, vehicles } of await groupsOf(fleet, await loadForecastGround(em)))
    await em.execute(SAVE_GROUP, [modelId, axle, prior.mean, prior.sdVehicle, prior.sdAxle, prior.sdPad, vehicles]);
}

const SAVE_GROUP = `
  insert into wear_group (model_id, axle, mean, sd_vehicle, sd_axle, sd_pad, vehicles) values (?, ?, ?, ?, ?, ?, ?)
  on conflict (model_id, axle) do update set mean = excluded.mean, sd_vehicle = excluded.sd_vehicle,
    sd_axle = excluded.sd_axle, sd_pad = excluded.sd_pad, vehicles = excluded.vehicles, computed_at = now()`;

async function refreshRecords(
  em: EntityManager,
  computer: Computer,
  records: VehicleRecord[],
  today: string,
  ground: ForecastGround,
): Promise<void> {
  const taskOf = ({ record }: { record: VehicleRecord }) => ({
    input: vehicleInputOf(record, ground, today),
    policy: policyOf(ground.settings, record.model.class),
  });
  const known = await em.execute<{ vehicle_id: string; input_hash: string }[]>(
    'select distinct on (vehicle_id) vehicle_id, input_hash from forecast where vehicle_id = any(?::uuid[])',
    [uuidArray(records.map(({ id }) => id))],
  );
  const hashById = new Map(known.map(({ vehicle_id, input_hash }) => [vehicle_id, input_hash]));
  const jobs = records.map((record) => ({ record, hash: hashOf(taskOf({ record })) }));
  const changed = jobs.filter(({ record, hash }) => hashById.get(record.id) !== hash);
  const unchanged = jobs.filter(({ record, hash }) => hashById.get(record.id) === hash);
  const forecasts = await computer.forecasts(changed, taskOf);
  await em.transactional(async (inner) => {
    for (let i = 0; i < changed.length; i += SAVE_CHUNK) {
      const part = changed
        .slice(i, i + SAVE_CHUNK)
        .map((job, k) => ({ ...job, forecast: forecasts[i + k] as VehicleForecast }));
      await saveForecasts(inner, part, today);
    }
    for (const { record } of unchanged) {
      await inner.execute('update vehicle_forecast set input_rev = greatest(input_rev, ?) where vehicle_id = ?', [
        record.inputRev,
        record.id,
      ]);
    }
    await inner.execute(`select nextval('forecast_serial')`);
  });
}

const SAVE_CHUNK = 100;

type Decision = NonNullable<AxleDetail['decision']>;

function hashOf({ input, policy }: { input: VehicleInput; policy: RiskPolicy }): string {
  return createHash('sha256')
    .update(JSON.stringify([MODEL_VERSION, input, policy]))
    .digest('hex');
}

interface Finished {
  record: VehicleRecord;
  hash: string;
  forecast: VehicleForecast;
}

/** Saves a part of the results; a result that rests on an older state than the one stored is not written over it. */
async function saveForecasts(em: EntityManager, part: Finished[], today: string): Promise<void> {
  const vehicles = part.map(({ record, forecast }) => ({
    vehicle_id: record.id,
    input_rev: record.inputRev,
    detail: { ...forecast, axles: undefined, judgements: undefined, changes: undefined },
  }));
  await keepChanges(
    em,
    part.map(({ record, forecast }) => ({ vehicleId: record.id, changes: forecast.changes })),
    today,
  );
  const doubts = part.flatMap(({ record, forecast }) =>
    forecast.judgements.flatMap(({ id, suspicion }) =>
      suspicion ? [{ reading_id: id, vehicle_id: record.id, suspicion }] : [],
    ),
  );
  await em.execute('delete from reading_doubt where vehicle_id = any(?::uuid[])', [
    uuidArray(part.map(({ record }) => record.id)),
  ]);
  await em.execute(SAVE_DOUBTS, [JSON.stringify(doubts)]);
  await em.execute(SAVE_VEHICLES, [today, JSON.stringify(vehicles)]);
  const axles = part.flatMap(({ record, hash, forecast }) =>
    forecast.axles.map((axle) => ({
      vehicle_id: record.id,
      axle: axle.axle,
      input_rev: record.inputRev,
      input_hash: hash,
      mark: markOf(axle, forecast),
      pads: axle.pads.map(padInBrief),
      detail: {
        pads: axle.pads.map(({ pooled, ...pad }) => ({ ...pad, pooled: pooled && { ...pooled, weights: undefined } })),
        fitted: axle.fitted,
        decision: decisionOf(axle),
      },
    })),
  );
  await em.execute(SAVE_AXLES, [MODEL_VERSION, SEED, today, JSON.stringify(axles)]);
}

const SAVE_DOUBTS = `
  insert into reading_doubt (reading_id, vehicle_id, suspicion)
  select reading_id, vehicle_id, suspicion from jsonb_to_recordset(?::jsonb) as t(reading_id uuid, vehicle_id uuid, suspicion jsonb)
  on conflict (reading_id) do update set suspicion = excluded.suspicion`;
const SAVE_VEHICLES = `
  insert into vehicle_forecast (vehicle_id, input_rev, today, detail)
  select vehicle_id, input_rev, ?::date, detail from jsonb_to_recordset(?::jsonb) as t(vehicle_id uuid, input_rev int, detail jsonb)
  on conflict (vehicle_id) do update set input_rev = excluded.input_rev, today = excluded.today, detail = excluded.detail, computed_at = now()
  where vehicle_forecast.input_rev <= excluded.input_rev`;
const SAVE_AXLES = `
  insert into forecast (vehicle_id, axle, input_rev, input_hash, model_version, seed, today, mark, pads, detail)
  select vehicle_id, axle, input_rev, input_hash, ?, ?, ?::date, mark, pads, detail
  from jsonb_to_recordset(?::jsonb) as t(vehicle_id uuid, axle int, input_rev int, input_hash text, mark jsonb, pads jsonb, detail jsonb)
  on conflict (vehicle_id, axle) do update set input_rev = excluded.input_rev, input_hash = excluded.input_hash,
    model_version = excluded.model_version, seed = excluded.seed, today = excluded.today, mark = excluded.mark,
    pads = excluded.pads, detail = excluded.detail, computed_at = now()
  where forecast.input_rev <= excluded.input_rev`;

/** What a device in the bay needs to know of a pad. */
function padInBrief({ side, pad, meanMm, sdMm, ratePer1000Mi, pooled }: PadEstimate): BayPad {
  const round = (value: number) => Math.round(value * 1000) / 1000;
  return {
    side,
    pad,
    meanMm: round(meanMm),
    sdMm: round(sdMm),
    ratePer1000Mi: round(ratePer1000Mi),
    pooledMm: pooled ? round(pooled.valueMm) : null,
    readings: pooled?.readings ?? 0,
    people: pooled?.technicians ?? 0,
  };
}

/** What the mark was decided by, and what else is asked of the axle. */
function decisionOf(axle: AxleForecast): Decision {
  const { ruledBy, riskMarkMiles, costMarkMiles, costPerMile, rotor, miles, dates } = axle;
  return {
    ruledBy,
    riskMarkMi: Math.round(riskMarkMiles),
    costMarkMi: costMarkMiles === undefined ? null : Math.round(costMarkMiles),
    costPerMileMinor: costPerMile === undefined || !Number.isFinite(costPerMile) ? null : costPerMile,
    miles: Object.fromEntries(
      (Object.entries(miles) as [string, number][]).map(([share, value]) => [share, Math.round(value)]),
    ) as Decision['miles'],
    dates,
    rotor: rotor ?? null,
  };
}

/** The figures of a mark as the API tells them, rounded to what they mean. */
function markOf(axle: AxleForecast, { odometerNowMi, milesPerDay }: VehicleForecast): Record<string, unknown> {
  const mi = Math.round;
  const mm = (value: number) => Math.round(value * 100) / 100;
  return {
    thinnestMm: mm(axle.thinnestMm),
    serviceLimitMm: mm(axle.limitMm),
    odometerNowMi: mi(odometerNowMi),
    milesPerDay: Math.round(milesPerDay.mean * 10) / 10,
    markOdometerMi: mi(axle.markMiles),
    markDate: axle.markDate,
    ruledBy: axle.ruledBy,
    nextLook: axle.nextLook,
    medianOdometerMi: mi(axle.miles.p50),
    medianDate: axle.dates.p50,
    interval80: {
      fromMi: mi(axle.miles.p10),
      toMi: mi(axle.miles.p90),
      fromDate: axle.dates.p10,
      toDate: axle.dates.p90,
    },
    probabilityBelowNow: Math.round(axle.probabilityBelowNow * 1000) / 1000,
    worth: {
      laterMi: mi(axle.worth.laterMi),
      width80Mi: mi(axle.worth.width80Mi),
      width80AfterMi: mi(axle.worth.width80AfterMi),
    },
    evidence: {
      readings: axle.evidence.readings,
      technicians: axle.evidence.technicians,
      lastDate: axle.evidence.lastDate ?? null,
      earlierReadings: axle.evidence.earlierReadings,
    },
  };
}
