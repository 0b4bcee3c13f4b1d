import {
  DEFAULT_DUTY_PROCESS,
  DEFAULT_PACE_PROCESS,
  type DutyProcess,
  learnStatedProcess,
  type MeasuredBlock,
  measuredBlocks,
  metresToMiles,
  paceBlocks,
  risingOdometers,
  statedDuties,
} from '@mile-mark/core';
import { dutySpansOf } from '../duty.ts';
import { DutyProcessEntity, type DutyProcessRow } from '../entities.ts';
import type { VehicleRecord } from '../record.ts';
import { eachOf } from './failures.ts';
import type { Fleet } from './learnAppraisers.ts';

/** Less than this is no change: of a scatter or a hazard as a share of it, of a level in the logarithm. */
const SETTLED = 0.02;

/** What was known, where what is learnt now is as good as the same: a block more leaves every forecast as it is. */
function settled(known: DutyProcess | undefined, learnt: DutyProcess): DutyProcess {
  if (!known) return learnt;
  const share = (key: 'blockSd' | 'hazard' | 'routeSd') =>
    Math.abs(learnt[key] - known[key]) <= SETTLED * known[key] ? known[key] : learnt[key];
  const level = Math.abs(learnt.routeMean - known.routeMean) <= SETTLED ? known.routeMean : learnt.routeMean;
  return { blockSd: share('blockSd'), hazard: share('hazard'), routeMean: level, routeSd: share('routeSd') };
}

/** Miles a day of a vehicle, by every odometer on its record until a day. */
function paceOf({ readings, services, odometers }: VehicleRecord, today: string): MeasuredBlock[] {
  const points = [
    ...readings.map(({ measured_on: date, odometer_m }) => ({ date, miles: metresToMiles(odometer_m) })),
    ...services.map(({ fitted_on: date, odometer_m }) => ({ date, miles: metresToMiles(odometer_m) })),
    ...odometers.map(({ read_on: date, odometer_m }) => ({ date, miles: metresToMiles(odometer_m) })),
  ].filter(({ date }) => date <= today);
  return paceBlocks(risingOdometers(points.sort((a, b) => a.date.localeCompare(b.date) || a.miles - b.miles)));
}

/**
 * Learns how duty and miles a day behave in each class: from the blocks that were measured, the duties that were stated,
 * and the odometers. Where nothing tells of one of them, what is assumed stays.
 */
export async function learnDuty({ em, computer, records, today }: Fleet): Promise<void> {
  const known = await eachOf(records, (record) => {
    const spans = dutySpansOf(record);
    return {
      class: record.model.class,
      blocks: measuredBlocks(spans, today),
      duties: statedDuties(spans, today),
      pace: paceOf(record, today),
    };
  });
  const classes = [...new Set(known.map((one) => one.class))].sort();
  const before = await em.fork({ keepTransactionContext: true }).find(DutyProcessEntity, {});
  const told = classes.flatMap((name) => {
    const own = known.filter((one) => one.class === name);
    const of = (which: 'blocks' | 'duties' | 'pace') => own.map((one) => one[which]).filter(({ length }) => length > 0);
    const [blocks, duties, pace] = [of('blocks'), of('duties'), of('pace')];
    const learn = (what: DutyProcessRow['what'], vehicles: MeasuredBlock[][], learnt: () => Promise<DutyProcess>) =>
      vehicles.length > 0 ? [{ class: name, what, vehicles: vehicles.length, learnt }] : [];
    return [
      ...learn('measured duty', blocks, () => computer.dutyProcess(blocks, DEFAULT_DUTY_PROCESS)),
      ...learn('stated duty', duties, () => Promise.resolve(learnStatedProcess(duties))),
      ...learn('miles a day', pace, () => computer.dutyProcess(pace, DEFAULT_PACE_PROCESS)),
    ];
  });
  const rows = await Promise.all(
    told.map(async ({ class: name, what, vehicles, learnt }) => {
      const old = before.find((row) => row.class === name && row.what === what);
      const { blockSd, hazard, routeMean, routeSd } = settled(old, await learnt());
      return { class: name, what, blockSd, hazard, routeMean, routeSd, vehicles, computedAt: new Date() };
    }),
  );
  if (rows.length > 0) await em.upsertMany(DutyProcessEntity, rows);
}
