import { mayDo } from '@mile-mark/contract';
import { MilesPerDay, VehicleDetail } from '@mile-mark/contract/forecasts';
import { DEFAULT_DUTY_SETTINGS, judgedTogether, runWithChanges, type WearProcess, workPerMile } from '@mile-mark/core';
import { z } from 'zod';
import type { Actor } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { setsOf } from '../../../platform/db/sets.ts';
import { ApiError } from '../../../platform/errors.ts';
import { dutyDto, dutyOf, normaliseUnit, policyOf, vehicleOfFleet } from '../../register/index.ts';
import { dutySpansOf, dutyWithLevel } from '../duty.ts';
import { type InputContext, vehicleInputOf } from '../input.ts';
import type { VehicleRecord } from '../record.ts';
import { axleDetails, axlesOf } from './axles.ts';
import { changesOf, changesTold } from './changes.ts';
import { loadForecastContext } from './context.ts';
import { loadVehicleRecords } from './records.ts';
import { JudgedReading, seenOf, seenTold } from './seen.ts';

/** One vehicle with everything its page shows. */
export async function vehicleDetail(em: EntityManager, typedUnit: string, today: string): Promise<VehicleDetail> {
  const row = await vehicleOfFleet(em, typedUnit, today);
  if (!row) throw new ApiError('not_found', `There is no vehicle ${normaliseUnit(typedUnit)} on record.`);
  const [record] = await loadVehicleRecords(em, [row.id]);
  if (!record) throw new ApiError('not_found');
  const context = await loadForecastContext(em);
  const { kept, failures, marks, changes, ...seen } = await setsOf(em, {
    kept: { row: Kept, sql: KEPT, params: [row.id] },
    failures: { row: Failure, sql: FAILURES, params: [row.id] },
    marks: axlesOf(row.id),
    changes: changesOf(row.id),
    ...seenOf(row.id),
  });
  const [overall] = kept;
  const { lastLook: _look, mark: _mark, ...own } = row;
  // While a forecast of what changed since is still being made, what is thought of its readings is told here.
  const judged = overall?.judged ?? (failures.length > 0 ? [] : judgedNow(record, context, today));
  const { rules, settings } = context;
  const { details, carried } = axleDetails(record, marks, { marginShare: settings.marginShare, rules, today });
  return {
    ...own,
    today,
    riskTarget: policyOf(context.settings, record.model.class).riskTarget,
    currency: context.settings.costs?.currency ?? null,
    refresh: {
      pending: row.left || (overall && !overall.pending) || failures.some(({ current }) => current) ? 0 : 1,
      computedAt: overall?.computed_at ?? null,
      failed: failures.map(({ message }) => ({ unit: row.unit, message })),
    },
    milesPerDay: overall?.detail.milesPerDay ?? null,
    odometerNowMi: overall ? Math.round(overall.detail.odometerNowMi) : null,
    gvwrKg: record.model.gvwrKg,
    tareKg: record.model.tareKg,
    axleDetails: details,
    dutyPeriods: dutyPeriodsOf(record),
    measuredDuty: measuredOf(record),
    ...dutyAheadOf(dutyWithLevel(record, context, today), context.wearProcessOf(record.model.class), today),
    referenceDuty: record.reference?.name ?? null,
    changes: changesTold(changes),
    suspected: overall?.detail.suspected ?? null,
    explained: overall?.detail.explained ?? null,
    ...seenTold(seen, judged, carried),
  };
}

function judgedNow(record: VehicleRecord, context: InputContext, today: string): JudgedReading[] {
  const input = vehicleInputOf(record, context, today);
  return judgedTogether(runWithChanges(input).history.judgements, input);
}

/** The same as a role may see it: how somebody reads is left out for all but the coordinator. */
export function asSeenBy({ role }: Pick<Actor, 'role'>, detail: VehicleDetail): VehicleDetail {
  if (mayDo(role, 'seeEverybody')) return detail;
  const readings = detail.readings.map(({ carried, ...reading }) => ({
    ...reading,
    // What is expected of a reading is what the pad is and how its reader reads.
    expectedMm: null,
    carried: carried && { ...carried, biasMm: null, wearMm: null, carriedMm: null },
  }));
  return { ...detail, readings };
}

const Judged = z.array(JudgedReading).nullable();
const VehicleForecastDetail = z.object({
  explained: VehicleDetail.shape.explained.optional(),
  suspected: VehicleDetail.shape.suspected.optional(),
  odometerNowMi: z.number(),
  milesPerDay: MilesPerDay,
});

/** A forecast as it was kept last; what it thought of readings, where that is of all there are. */
const Kept = z.object({ detail: VehicleForecastDetail, judged: Judged, pending: z.boolean(), computed_at: z.string() });
const KEPT = `
  select f.detail, case when greatest(f.input_rev, f.judged_rev) >= v.input_rev then f.judged end as judged,
    f.input_rev < v.input_rev as pending, f.computed_at::text from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where v.id = ?`;

/** Why its forecast could not be made, and whether that is of the record as it stands. */
const Failure = z.object({ message: z.string(), current: z.boolean() });
const FAILURES = `
  select x.message, x.input_rev = v.input_rev as current from forecast_failure x join vehicle v on v.id = x.vehicle_id
  where v.id = ? and v.left_on is null`;

function dutyPeriodsOf(record: VehicleRecord): VehicleDetail['dutyPeriods'] {
  const spans = dutySpansOf(record);
  const settings = DEFAULT_DUTY_SETTINGS[record.model.class as 'pickup' | 'van' | 'heavy'];
  return record.dutyPeriods.map(({ period, duty }) => {
    const work = workPerMile(record.model, dutyOf(duty), settings);
    return {
      id: period.id,
      duty: dutyDto(duty),
      from: period.fromDate,
      to: period.toDate ?? null,
      severity: spans.find(({ from, measured }) => from === period.fromDate && !measured)?.severity ?? 1,
      massKg: work.massKg,
      stopsKjPerMile: work.stopsJ / 1000,
      slowdownsKjPerMile: work.slowdownsJ / 1000,
      descentsKjPerMile: work.descentsJ / 1000,
      towingKjPerMile: work.towingJ / 1000,
    };
  });
}

/** What the feed of driven days has measured, as severities by dates. */
function measuredOf(record: VehicleRecord): VehicleDetail['measuredDuty'] {
  return dutySpansOf(record).flatMap(({ from, to, severity, measured }) =>
    measured && to ? [{ from, to, severity }] : [],
  );
}

const Z90 = 1.645;
const DAYS_A_YEAR = 365.25;

/** The level of the present route and what may become of it, or of the duty that is stated: nothing, where another is dated ahead. */
function dutyAheadOf(
  { spans, ahead, measured }: ReturnType<typeof dutyWithLevel>,
  { blockShare }: WearProcess,
  today: string,
): Pick<VehicleDetail, 'dutyAhead' | 'statedChangesAYear'> {
  const isDated = spans.some(({ from }) => from > today);
  const changesAYear = ahead && !isDated ? ahead.hazardPerDay * DAYS_A_YEAR : null;
  if (!measured) return { dutyAhead: null, statedChangesAYear: changesAYear };
  // The level's span follows the last measured one; a duty may be dated after it.
  const last = spans.findLastIndex((span) => span.measured);
  const level = spans[last + 1]?.severity;
  if (!ahead || level === undefined) return { dutyAhead: null, statedChangesAYear: null };
  const dutyAhead = {
    severity: level,
    from: level * Math.exp(-Z90 * ahead.levelSd),
    to: level * Math.exp(Z90 * ahead.levelSd),
    blocks: spans.filter((span) => span.measured).length,
    scatter: ahead.perPeriod,
    believed: blockShare,
    changesAYear,
  };
  return { dutyAhead, statedChangesAYear: null };
}
