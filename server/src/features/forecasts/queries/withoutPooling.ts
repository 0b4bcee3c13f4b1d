import type { WithoutPooling } from '@mile-mark/contract/forecasts';
import { forecastVehicle } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError } from '../../../platform/errors.ts';
import { normaliseUnit, policyOf } from '../../register/index.ts';
import { vehicleInputOf } from '../input.ts';
import type { VehicleRecord } from '../record.ts';
import { loadForecastContext } from './context.ts';
import { loadVehicleRecords } from './records.ts';

/** An appraiser whose every figure is taken as it stands. */
const AT_FACE_VALUE = { biasMm: 0, biasSdMm: 0.02, repeatabilityMm: 0.1 };

/**
 * The marks as they would stand without pooling: of each axle only the last look since its pads were fitted counts,
 * at face value, whoever took it with whatever gauge. For comparison; nothing is kept.
 */
export async function withoutPooling(em: EntityManager, typedUnit: string, today: string): Promise<WithoutPooling> {
  const unit = normaliseUnit(typedUnit);
  const [vehicle] = await rowsOf(em, z.object({ id: z.string() }), 'select id from vehicle where unit = ?', [unit]);
  const [record] = vehicle ? await loadVehicleRecords(em, [vehicle.id]) : [];
  if (!record) throw new ApiError('not_found', `There is no vehicle ${unit} on record.`);
  const context = await loadForecastContext(em);
  const input = vehicleInputOf({ ...record, readings: lastLooks(record) }, context, today);
  const appraisers = Object.fromEntries(Object.keys(input.appraisers).map((key) => [key, AT_FACE_VALUE]));
  const policy = { ...policyOf(context.settings, record.model.class), draws: 512 };
  const { axles } = forecastVehicle({ ...input, appraisers }, policy);
  const names = await rowsOf(
    em,
    z.object({ axle: z.number(), technician: z.string(), gauge: z.string(), date: z.string() }),
    `select distinct on (r.axle) r.axle, p.name as technician, g.name as gauge, r.measured_on::text as date
     from reading r join inspection i on i.id = r.inspection_id join person p on p.id = r.technician_id join gauge g on g.id = i.gauge_id
     where r.id = any(?::uuid[]) order by r.axle`,
    [uuidArray(input.readings.map(({ id }) => id))],
  );
  return {
    unit,
    axles: axles.map(({ axle, markDate, markMiles, dates }) => {
      const look = names.find((one) => one.axle === axle);
      return {
        axle,
        markDate,
        markOdometerMi: Math.round(markMiles),
        medianDate: dates.p50,
        technician: look?.technician ?? null,
        gauge: look?.gauge ?? null,
        date: look?.date ?? null,
      };
    }),
  };
}

/** Readings of the last inspection of each axle since its pads were fitted. */
function lastLooks({ readings, services, axles }: VehicleRecord): VehicleRecord['readings'] {
  return axles.flatMap(({ axle }) => {
    const fitted = services.filter((one) => one.axle === axle && one.fitted !== 'rotors').at(-1)?.fitted_on ?? '';
    const own = readings.filter((one) => one.axle === axle && one.measured_on > fitted);
    const last = own.at(-1);
    return own.filter((one) => one.measured_on === last?.measured_on && one.technician_id === last.technician_id);
  });
}
