import type { AxleDetail, PadDetail } from '@mile-mark/contract/forecasts';
import { type CarriedReading, DEFAULT_DUTY_SETTINGS, rotorTemperature, workPerMile } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import {
  axleOf,
  dutyOf,
  limitOf,
  LimitRuleEntity,
  limitRuleOf,
  readSettings,
  type Settings,
} from '../../register/index.ts';
import type { VehicleRecord } from '../record.ts';
import { loadVehicleRecords } from './records.ts';
import { markOf, MarkRow, MARKS } from './marks.ts';

interface PadSql extends Omit<PadDetail, 'pooled'> {
  pooled?: NonNullable<PadDetail['pooled']>;
  carried: CarriedReading[];
}

interface AxlesAndReadings {
  details: AxleDetail[];
  /** Each reading of the present pads on its way to today, by its id. */
  carried: Map<string, CarriedReading>;
}

/** A vehicle's axles as its forecast has them. */
const AxleRow = MarkRow.extend({
  detail: z.custom<{
    pads: PadSql[];
    fitted?: { date: string; miles: number };
    decision: AxleDetail['decision'];
  }>((value) => typeof value === 'object' && value !== null && 'pads' in value),
});

export const axlesOf = (vehicleId: string) => ({ row: AxleRow, sql: `${MARKS} where v.id = ?`, params: [vehicleId] });

/** A vehicle's axles as they stand, with its record; of the fleet's learning only what the forecasts kept. */
export async function axlesStanding(
  em: EntityManager,
  vehicleId: string,
): Promise<{ record: VehicleRecord; details: AxleDetail[]; settings: Settings }> {
  const own = () => em.fork({ keepTransactionContext: true });
  const [[record], limits, settings, marks] = await Promise.all([
    loadVehicleRecords(own(), [vehicleId]),
    own().find(LimitRuleEntity, {}),
    readSettings(own()),
    rowsOf(own(), AxleRow, axlesOf(vehicleId).sql, axlesOf(vehicleId).params),
  ]);
  if (!record) throw new ApiError('not_found', 'There is no such vehicle on record.');
  const { details } = axleDetails(record, marks, { marginShare: settings.marginShare, rules: limits.map(limitRuleOf) });
  return { record, details, settings };
}

/** @param under `today`: the duty of that day is whose work is told; the last one stated, where it is left out */
export function axleDetails(
  record: VehicleRecord,
  marks: readonly z.output<typeof AxleRow>[],
  under: { marginShare: number; rules: Parameters<typeof limitOf>[2]; today?: string },
): AxlesAndReadings {
  const { marginShare, rules, today } = under;
  const begun = record.dutyPeriods.filter(({ period }) => today === undefined || period.fromDate <= today);
  const present = begun.at(-1) ?? record.dutyPeriods[0];
  const settings = DEFAULT_DUTY_SETTINGS[record.model.class as 'pickup' | 'van' | 'heavy'];
  const carried = new Map<string, CarriedReading>();
  const details = record.axles.map((axle) => {
    const found = marks.find((one) => one.axle === axle.axle);
    const { limitMm, ruling, candidates } = limitOf(record.model, axle, rules, marginShare);
    const work = present ? workPerMile(record.model, dutyOf(present.duty), settings).totalJ * axle.brakeShare : null;
    const pads = found?.detail.pads ?? [];
    for (const pad of pads) for (const one of pad.carried) carried.set(one.id, one);
    return {
      ...axleOf(axle),
      limit: { limitMm, ruling, candidates },
      mark: found ? markOf(found) : null,
      pads: pads.map(({ pooled, carried: _carried, ...pad }) => ({
        ...pad,
        pooled: pooled
          ? { valueMm: pooled.valueMm, sdMm: pooled.sdMm, readings: pooled.readings, technicians: pooled.technicians }
          : null,
      })),
      fitted: found?.detail.fitted
        ? { date: found.detail.fitted.date, miles: Math.round(found.detail.fitted.miles) }
        : null,
      workPerMileKj: work === null ? null : work / 1000,
      // A forecast kept before widths were told has none.
      decision: found?.detail.decision
        ? {
            ...found.detail.decision,
            width: found.detail.decision.width ?? null,
            widened: found.detail.decision.widened ?? null,
          }
        : null,
      temperature: present ? rotorTemperature(record.model, dutyOf(present.duty), settings, axle.brakeShare) : null,
    };
  });
  return { details, carried };
}
