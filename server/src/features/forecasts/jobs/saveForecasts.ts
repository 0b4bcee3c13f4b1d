import type { AxleDetail } from '@mile-mark/contract/forecasts';
import type { BayPad } from '@mile-mark/contract/inspections';
import type { AxleForecast, PadEstimate, VehicleForecast } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { holdVehicles, SEED } from '../../register/index.ts';
import { keepChanges } from '../commands/keepChanges.ts';
import { dutySpansOf, meanSeverity } from '../duty.ts';
import type { VehicleRecord } from '../record.ts';

/** Changes whenever the same input would give another forecast. */
export const MODEL_VERSION = 'joint-filter-13';

type Decision = NonNullable<AxleDetail['decision']>;

export interface Finished {
  record: VehicleRecord;
  hash: string;
  forecast: VehicleForecast;
}

/**
 * Saves a part of the results; a result that rests on an older state than the one stored is not written over it.
 *
 * @param unlearnt of a fleet of which nothing was learnt yet: changes of wear are not told
 */
export async function saveForecasts(
  em: EntityManager,
  part: readonly Finished[],
  today: string,
  unlearnt = false,
): Promise<void> {
  const vehicles = part.map(({ record, forecast }) => ({
    vehicle_id: record.id,
    input_rev: record.inputRev,
    detail: { ...forecast, axles: undefined, judgements: undefined, changes: undefined },
    judged: forecast.judgements.map(({ id, expectedMm, suspicion }) => ({ id, expectedMm, suspicion })),
  }));
  await holdVehicles(
    em,
    part.map(({ record }) => record.id),
  );
  if (!unlearnt)
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
        severitySinceFitted: axle.fitted && meanSeverity(dutySpansOf(record), axle.axle, axle.fitted.date, today),
        decision: decisionOf(axle),
      },
    })),
  );
  await em.execute(SAVE, [
    uuidArray(part.map(({ record }) => record.id)),
    JSON.stringify(doubts),
    today,
    JSON.stringify(vehicles),
    MODEL_VERSION,
    SEED,
    today,
    JSON.stringify(axles),
  ]);
}

/** All tables in one statement, each row of which it touches once: doubts that are gone, and those that stand. */
const SAVE = `
  with saved as (select uuid as vehicle_id from unnest(?::uuid[]) as uuid),
  could as (delete from forecast_failure x using saved where x.vehicle_id = saved.vehicle_id),
  doubts as (
    select reading_id, vehicle_id, suspicion
    from jsonb_to_recordset(?::jsonb) as t(reading_id uuid, vehicle_id uuid, suspicion jsonb)),
  gone as (
    delete from reading_doubt d using saved
    where d.vehicle_id = saved.vehicle_id and d.reading_id not in (select reading_id from doubts)),
  standing as (
    insert into reading_doubt (reading_id, vehicle_id, suspicion) select reading_id, vehicle_id, suspicion from doubts
    on conflict (reading_id) do update set suspicion = excluded.suspicion),
  vehicles as (
  insert into vehicle_forecast (vehicle_id, input_rev, today, detail, judged, judged_rev)
  select vehicle_id, input_rev, ?::date, detail, judged, input_rev
  from jsonb_to_recordset(?::jsonb) as t(vehicle_id uuid, input_rev int, detail jsonb, judged jsonb)
  on conflict (vehicle_id) do update set input_rev = excluded.input_rev, today = excluded.today, detail = excluded.detail,
    judged = excluded.judged, judged_rev = excluded.judged_rev, computed_at = now()
  where vehicle_forecast.input_rev <= excluded.input_rev)
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
  const { ruledBy, riskMarkMiles, costMarkMiles, costPerMile, rotor, miles, dates, width } = axle;
  return {
    width: width ?? null,
    widened: axle.widened ?? null,
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
    nextInspectionDue: axle.nextInspectionDue,
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
