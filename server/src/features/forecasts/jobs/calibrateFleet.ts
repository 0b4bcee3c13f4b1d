import { calibrate, type CalibrationLook, dateOfDay, dayNumber, FORESEEN_FROM_DAYS, NEAR_MI } from '@mile-mark/core';
import { CalibrationEntity } from '../entities.ts';
import { inputAsItStood, readingInputOf, vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { Fleet } from './learnAppraisers.ts';

/** So many vehicles of a class show well enough how its forecasts came out; of more, as many evenly taken ones are asked. */
const MOST_VEHICLES = 150;

function sampled(records: Fleet['records']): Fleet['records'] {
  return [...new Set(records.map(({ model }) => model.class))].flatMap((name) => {
    const own = records.filter(({ model }) => model.class === name);
    const step = Math.max(1, own.length / MOST_VEHICLES);
    return own.filter((_, k) => Math.floor(k / step) !== Math.floor((k - 1) / step));
  });
}

/**
 * Makes forecasts again as of half a year and a year ago, holds the looks that came since against them, and keeps by how
 * much intervals of each class have to be widened. What the fleet teaches of appraisers and models is today's.
 */
export async function calibrateFleet({ em, computer, records, today, tools }: Fleet): Promise<void> {
  const context = await loadForecastContext(em);
  const back = (days: number) => dateOfDay(dayNumber(today) - days);
  const asked = sampled(records);
  const items = FORESEEN_FROM_DAYS.flatMap((days) =>
    asked
      .filter(({ readings, services }) => {
        const begun = [
          ...readings.map(({ measured_on }) => measured_on),
          ...services.map(({ fitted_on }) => fitted_on),
        ];
        const looked = readings.some(({ measured_on }) => measured_on > back(days));
        return looked && begun.some((date) => date <= back(days));
      })
      .map((record) => ({ record, day: back(days) })),
  );
  const foreseen = await computer.foresee(
    items,
    ({ record, day }) => ({
      known: { ...inputAsItStood(record, day, context), widening: undefined },
      later: {
        readings: record.readings.map(readingInputOf),
        fittings: vehicleInputOf(record, context, today).fittings,
      },
    }),
    tools,
  );
  const looks = new Map<string, CalibrationLook[]>();
  foreseen.forEach((own, k) => {
    const { record } = items[k] as (typeof items)[number];
    for (const { axle, milesAhead, z } of own) {
      const key = `${record.model.class}/${milesAhead <= NEAR_MI ? 'near' : 'far'}`;
      const group = looks.get(key) ?? [];
      group.push({ of: `${record.id}/${axle}`, z });
      looks.set(key, group);
    }
  });
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
