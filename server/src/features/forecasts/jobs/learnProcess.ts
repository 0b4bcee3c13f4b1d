import { learnWearProcess, teachersOfProcess, type WearProcess } from '@mile-mark/core';
import { createHash } from 'node:crypto';
import { WearProcessEntity } from '../entities.ts';
import { vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { VehicleRecord } from '../record.ts';
import type { Fleet } from './learnAppraisers.ts';

/** Less than this is no change of a figure, as a share of it; less where the fleet teaches something new anyway. */
const SETTLED = { resting: 0.03, moving: 0.005 };
/** Fewer vehicles than this teach a class nothing. */
const LEAST_VEHICLES = 4;

const FIGURES = ['perPeriod', 'perPad', 'sdPad', 'blockShare'] as const;

/**
 * Learns how wear scatters in each class, from the vehicles with most readings.
 *
 * @param moved whether anything else was another than before
 * @param again classes that were learnt in the turn before, from what was not at rest yet; those learnt now are put there
 * @returns whether any figure is another than before
 */
export async function learnProcess(
  { em, computer, records, today, tools }: Fleet,
  { moved, again }: { moved: boolean; again: Set<string> },
): Promise<boolean> {
  const context = await loadForecastContext(em);
  const classes = [...new Set(records.map(({ model }) => model.class))].sort();
  const least = moved ? SETTLED.moving : SETTLED.resting;
  let changed = false;
  const before = await em.fork({ keepTransactionContext: true }).find(WearProcessEntity, {});
  const rows: (WearProcess & { class: string; vehicles: number; learntFrom: string; computedAt: Date })[] = [];
  for (const name of classes) {
    const own = records
      .filter(({ model }) => model.class === name)
      .map((record) => ({ record, readings: record.readings.length }));
    const teachers = teachersOfProcess(own);
    const learntFrom = fingerprint(teachers.map(({ record }) => record));
    const same = before.find((row) => row.class === name)?.learntFrom === learntFrom;
    if (teachers.length < LEAST_VEHICLES || (same && !again.delete(name))) continue;
    if (!same) again.add(name);
    const evidence = await computer.process(teachers, ({ record }) => vehicleInputOf(record, context, today), tools);
    const learnt = learnWearProcess(evidence);
    const known = context.wearProcessOf(name);
    const kept: WearProcess = {
      perPeriod: settled(known.perPeriod, learnt.perPeriod, least),
      perPad: settled(known.perPad, learnt.perPad, least),
      sdPad: settled(known.sdPad, learnt.sdPad, least),
      blockShare: settled(known.blockShare, learnt.blockShare, least),
    };
    changed ||= FIGURES.some((figure) => kept[figure] !== known[figure]);
    rows.push({ class: name, ...kept, vehicles: teachers.length, learntFrom, computedAt: new Date() });
  }
  if (rows.length > 0) await em.upsertMany(WearProcessEntity, rows);
  return changed;
}

/** What was read of vehicles and fitted to them, as one short word. */
function fingerprint(records: readonly VehicleRecord[]): string {
  const told = records.map(({ id, readings, services }) => [
    id,
    readings.map((one) => [one.id, one.thickness_um, one.odometer_m, one.trust]),
    services.map((one) => [one.axle, one.fitted_on, one.odometer_m]),
  ]);
  return createHash('sha256').update(JSON.stringify(told)).digest('hex');
}

/** What was known, where what is learnt now is as good as the same. */
function settled(known: number, learnt: number, least: number): number {
  const rounded = Math.round(learnt * 1000) / 1000;
  return Math.abs(rounded - known) <= least * known ? known : rounded;
}
