import { mayDo } from '@mile-mark/contract';
import type { DutyPreview, ForecastInput, MarkCause, WhyMark } from '@mile-mark/contract/forecasts';
import { forecastVehicle, type VehicleForecast, type VehicleInput } from '@mile-mark/core';
import type { Actor } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { DutyEntity, dutyDto, idByName, policyOf, type Settings, vehicleOfUnit } from '../../register/index.ts';
import { inputAsItStood, vehicleInputOf } from '../input.ts';
import type { VehicleRecord } from '../record.ts';
import { loadForecastContext } from './context.ts';
import { contextFromKept, contextOf } from './keptContext.ts';
import { loadVehicleRecords } from './records.ts';

async function recordOf(em: EntityManager, unit: string): Promise<VehicleRecord> {
  const { id } = await vehicleOfUnit(em, unit, 'unit');
  const [record] = await loadVehicleRecords(em, [id]);
  if (!record) throw new ApiError('not_found');
  return record;
}

/**
 * Everything one vehicle's forecast rests on, for trying what would be if: the same computation runs in the browser. Who
 * may not see how others read gets it without readings and appraisers.
 */
export async function forecastInput(
  em: EntityManager,
  actor: Actor,
  unit: string,
  today: string,
): Promise<ForecastInput> {
  const whole = mayDo(actor.role, 'seeEverybody');
  const record = await recordOf(em, unit);
  const context = await loadForecastContext(em);
  const { model, axles, reference, dutyPeriods } = record;
  const present = dutyPeriods.filter(({ period }) => period.fromDate <= today).at(-1)?.duty;
  const input = vehicleInputOf(record, context, today);
  return {
    unit: record.unit,
    class: model.class as ForecastInput['class'],
    tareKg: model.tareKg,
    gvwrKg: model.gvwrKg,
    retarder: model.retarder,
    shares: axles.map(({ axle, brakeShare }) => ({ axle, brakeShare })),
    whole,
    input: whole ? input : { ...input, readings: [], appraisers: {} },
    policy: policyOf(context.settings, model.class),
    currency: context.settings.costs?.currency ?? null,
    reference: reference ? dutyDto(reference) : null,
    present: present ? dutyDto(present) : null,
  };
}

/**
 * Where the marks would stand if another duty began on a day: the same computation on a record that has it, nothing saved.
 *
 * @throws ApiError where no duty of this name is on record
 */
export async function dutyPreview(
  em: EntityManager,
  unit: string,
  asked: { duty: string; from: string; milesPerDay?: number | undefined },
  today: string,
): Promise<DutyPreview> {
  const record = await recordOf(em, unit);
  const context = await loadForecastContext(em);
  const id = await idByName(em, 'duty', asked.duty);
  const duty = id && (await em.findOne(DutyEntity, { id }));
  if (!duty)
    throw invalidField('duty', `There is no duty “${asked.duty}” on record; one of the duty list is accepted.`);
  const { from, milesPerDay = null } = asked;
  const before = record.dutyPeriods.filter(({ period }) => period.fromDate < from);
  const after = record.dutyPeriods.filter(({ period }) => period.fromDate > from);
  const own = {
    id: '',
    vehicleId: record.id,
    dutyId: duty.id,
    fromDate: from,
    toDate: after[0]?.period.fromDate ?? null,
    milesPerDay,
  };
  const then = {
    ...record,
    dutyPeriods: [...before, { period: own, duty }, ...after],
    reference: record.reference ?? duty,
  };
  const marks = [record, then].map((one) =>
    forecastVehicle(vehicleInputOf(one, context, today), policyOf(context.settings, record.model.class)),
  );
  const [now, would] = marks as [VehicleForecast, VehicleForecast];
  const markOf = (forecast: VehicleForecast, axle: number) => {
    const found = forecast.axles.find((one) => one.axle === axle);
    return { date: found?.markDate ?? '', odometerMi: Math.round(found?.markMiles ?? 0) };
  };
  return {
    unit: record.unit,
    milesPerDay: { now: now.milesPerDay.mean, then: would.milesPerDay.mean },
    axles: record.axles.map(({ axle }) => ({ axle, now: markOf(now, axle), then: markOf(would, axle) })),
  };
}

/**
 * What moved each mark since a month ago: the forecast of then, from the record as it stood and what the fleet had
 * taught by then, and one change after another until it is today's.
 */
export async function whyMark(em: EntityManager, unit: string, today: string): Promise<WhyMark> {
  const record = await recordOf(em, unit);
  const context = await loadForecastContext(em);
  const before = await contextOf(em, today);
  if (!before) return { unit: record.unit, since: null, afterwards: false, axles: [] };
  const { asOf, kept, afterwards } = before;
  const now = vehicleInputOf(record, context, today);
  const then = inputAsItStood(record, asOf, contextFromKept(kept));
  // What other vehicles' readings taught, under the limits of then; limits come after it.
  const { rules, settings } = kept;
  const taught = inputAsItStood(record, asOf, { ...context, rules, marginShare: settings.marginShare });
  const limited = inputAsItStood(record, asOf, context);
  const driven: VehicleInput = {
    ...limited,
    today,
    odometers: [
      ...now.odometers,
      ...[...now.readings, ...now.fittings].map(({ date, miles }) => ({ date, miles })),
    ].sort((a, b) => a.date.localeCompare(b.date) || a.miles - b.miles),
  };
  // A duty changes how far it drives and how hard it brakes: each by itself.
  const { statedMilesPerDay, statedMilesPerDayBefore } = now;
  const paced = { ...driven, statedMilesPerDay, statedMilesPerDayBefore, paceFrom: paceFromOf(now) };
  const dutied = { ...paced, paceFrom: undefined, duty: now.duty, ahead: now.ahead };
  const read = { ...dutied, readings: now.readings, appraisers: now.appraisers };
  const stages: { cause: MarkCause | null; input: VehicleInput; settings: Settings }[] = [
    { cause: null, input: then, settings },
    { cause: 'others', input: taught, settings },
    { cause: 'limits', input: limited, settings },
    { cause: 'policy', input: limited, settings: context.settings },
    { cause: 'driven', input: driven, settings: context.settings },
    { cause: 'pace', input: paced, settings: context.settings },
    { cause: 'severity', input: dutied, settings: context.settings },
    { cause: 'readings', input: read, settings: context.settings },
    { cause: 'pads', input: now, settings: context.settings },
  ];
  // A cause of which nothing changed moves nothing: it is not computed again.
  let last: { key: string; forecast: VehicleForecast } | undefined;
  const forecasts = stages.map(({ cause, input, settings: under }) => {
    const policy = policyOf(under, record.model.class);
    const key = JSON.stringify([input, policy]);
    last = last?.key === key ? last : { key, forecast: forecastVehicle(input, policy) };
    return { cause, forecast: last.forecast };
  });
  return {
    unit: record.unit,
    since: asOf,
    afterwards,
    axles: record.axles.map(({ axle }) => ({ axle, ...stepsOf(axle, forecasts) })),
  };
}

/** The day from which odometers tell how far it drives now; null where the record is of one duty. */
function paceFromOf({ duty, today }: VehicleInput): string | null {
  const begun = duty.filter(({ from, continues }) => from <= today && !continues);
  return begun.length > 1 ? (begun.at(-1)?.from ?? null) : null;
}

function stepsOf(
  axle: number,
  forecasts: readonly { cause: MarkCause | null; forecast: VehicleForecast }[],
): Pick<WhyMark['axles'][number], 'from' | 'steps'> {
  const marks = forecasts.map(({ cause, forecast }) => {
    const own = forecast.axles.find((one) => one.axle === axle);
    return { cause, mark: { date: own?.markDate ?? '', odometerMi: Math.round(own?.markMiles ?? 0) } };
  });
  const [first, ...rest] = marks;
  return {
    from: first?.mark ?? { date: '', odometerMi: 0 },
    steps: rest.flatMap(({ cause, mark }) => (cause ? [{ cause, to: mark }] : [])),
  };
}
