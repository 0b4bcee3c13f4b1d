import type { ForecastInput, WhyMark } from '@mile-mark/contract/forecasts';
import { forecastVehicle, type VehicleForecast, type VehicleInput } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { dutyDto, policyOf, type Settings, vehicleOfUnit } from '../../register/index.ts';
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

/** Everything one vehicle's forecast rests on, for trying what would be if: the same computation runs in the browser. */
export async function forecastInput(em: EntityManager, unit: string, today: string): Promise<ForecastInput> {
  const record = await recordOf(em, unit);
  const context = await loadForecastContext(em);
  const { model, axles, reference, dutyPeriods } = record;
  const present = dutyPeriods.filter(({ period }) => period.fromDate <= today).at(-1)?.duty;
  return {
    unit: record.unit,
    class: model.class as ForecastInput['class'],
    tareKg: model.tareKg,
    gvwrKg: model.gvwrKg,
    shares: axles.map(({ axle, brakeShare }) => ({ axle, brakeShare })),
    input: vehicleInputOf(record, context, today),
    policy: policyOf(context.settings, model.class),
    currency: context.settings.costs?.currency ?? null,
    reference: reference ? dutyDto(reference) : null,
    present: present ? dutyDto(present) : null,
  };
}

/** What moved a mark, in the order in which it is taken in. */
type Cause = WhyMark['axles'][number]['steps'][number]['cause'];

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
  const taught = inputAsItStood(record, asOf, context);
  const driven: VehicleInput = {
    ...taught,
    today,
    odometers: [
      ...now.odometers,
      ...[...now.readings, ...now.fittings].map(({ date, miles }) => ({ date, miles })),
    ].sort((a, b) => a.date.localeCompare(b.date) || a.miles - b.miles),
  };
  const dutied = { ...driven, duty: now.duty, ahead: now.ahead, statedMilesPerDay: now.statedMilesPerDay };
  const read = { ...dutied, readings: now.readings, appraisers: now.appraisers };
  const stages: { cause: Cause | null; input: VehicleInput; settings: Settings }[] = [
    { cause: null, input: then, settings: kept.settings },
    { cause: 'fleet', input: taught, settings: kept.settings },
    { cause: 'policy', input: taught, settings: context.settings },
    { cause: 'miles', input: driven, settings: context.settings },
    { cause: 'duty', input: dutied, settings: context.settings },
    { cause: 'readings', input: read, settings: context.settings },
    { cause: 'pads', input: now, settings: context.settings },
  ];
  const forecasts = stages.map(({ cause, input, settings }) => ({
    cause,
    forecast: forecastVehicle(input, policyOf(settings, record.model.class)),
  }));
  return {
    unit: record.unit,
    since: asOf,
    afterwards,
    axles: record.axles.map(({ axle }) => ({ axle, ...stepsOf(axle, forecasts) })),
  };
}

function stepsOf(
  axle: number,
  forecasts: readonly { cause: Cause | null; forecast: VehicleForecast }[],
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
