import {
  calibrate,
  type CalibrationLook,
  dateOfDay,
  dayNumber,
  evenly,
  FORESEEN_FROM_DAYS,
  type ForeseenLook,
  NEAR_MI,
} from '@mile-mark/core';
import { CalibrationEntity } from '../entities.ts';
import { inputAsItStood, type InputContext, readingInputOf, vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { VehicleRecord } from '../record.ts';
import { askedOrKept } from './keptAnswers.ts';
import type { Fleet } from './learnAppraisers.ts';

/** So many vehicles of a class show well enough how its forecasts came out; of more, as many evenly taken ones are asked. */
const MOST_VEHICLES = 80;

function sampled(records: Fleet['records']): Fleet['records'] {
  const classes = [...new Set(records.map(({ model }) => model.class))];
  return classes.flatMap((name) =>
    evenly(
      records.filter(({ model }) => model.class === name),
      MOST_VEHICLES,
    ),
  );
}

/** The first of the month so many days ago: for a month the same questions are asked, and answers are kept. */
const asOf = (today: string, days: number) => `${dateOfDay(dayNumber(today) - days).slice(0, 8)}01`;

/**
 * Makes forecasts again as of about half a year and a year ago, holds the looks that came since against them, and keeps by how
 * much intervals of each class have to be widened. What the fleet teaches of appraisers and models is today's.
 */
export async function calibrateFleet(fleet: Fleet): Promise<void> {
  const { em, records, today } = fleet;
  const context = await loadForecastContext(em);
  const sample = sampled(records);
  const looks = new Map<string, CalibrationLook[]>();
  for (const days of FORESEEN_FROM_DAYS) {
    const asked = sample.filter((record) => isForeseeable(record, asOf(today, days)));
    (await foreseenFrom(fleet, asked, { context, days })).forEach((own, k) => {
      const { id, model } = asked[k] as VehicleRecord;
      for (const { axle, milesAhead, z } of own) {
        const key = `${model.class}/${milesAhead <= NEAR_MI ? 'near' : 'far'}`;
        const group = looks.get(key) ?? [];
        group.push({ of: `${id}/${axle}`, z });
        looks.set(key, group);
      }
    });
  }
  const rows = [...looks].map(([key, own]) => {
    const [name = '', distance = ''] = key.split('/');
    const { factor, ...rest } = calibrate(own);
    // To a hundredth: less is no change, and leaves every forecast as it is.
    return { class: name, distance, ...rest, factor: Math.round(factor * 100) / 100, computedAt: new Date() };
  });
  await em.transactional(async (inner) => {
    await inner.nativeDelete(CalibrationEntity, {});
    if (rows.length > 0) await inner.insertMany(CalibrationEntity, rows);
  });
}

/** Whether something was on record by a day, and somebody looked after it. */
function isForeseeable({ readings, services }: VehicleRecord, day: string): boolean {
  const begun =
    readings.some(({ measured_on }) => measured_on <= day) || services.some(({ fitted_on }) => fitted_on <= day);
  return begun && readings.some(({ measured_on }) => measured_on > day);
}

/** Later looks at each vehicle held against what was foreseen of them so many days ago. */
async function foreseenFrom(
  { em, computer, today, tools }: Fleet,
  items: VehicleRecord[],
  { context, days }: { context: InputContext; days: number },
): Promise<ForeseenLook[][]> {
  const day = asOf(today, days);
  return askedOrKept(em, {
    kind: `foreseen ${days}`,
    items,
    recordOf: (record) => record,
    context,
    today,
    drifts: true,
    besides: day,
    ask: (asked) =>
      computer.foresee(
        asked,
        (record) => ({
          known: { ...inputAsItStood(record, day, context), widening: undefined },
          later: {
            readings: record.readings.map(readingInputOf),
            fittings: vehicleInputOf(record, context, today).fittings,
          },
        }),
        tools,
      ),
  });
}
