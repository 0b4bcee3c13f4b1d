import { allocate, dayNumber, kitFrom, type KitNeed, type KitState } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { kitChanges, kitVersion, policyOfModel } from '../../jobs/index.ts';
import { offerInTime } from '../catalogue.ts';
import { placeOf } from '../kits.ts';
import { axlesAhead, sureKit, type AxleAhead } from './axlesAhead.ts';
import { kitJob, standingOf, type Standing } from './standing.ts';

/** Received parts are looked at and put away within this, days. */
const PUT_AWAY_DAYS = 1;

/**
 * Days from today on which the kit of each axle with a mark is there, by `vehicle/axle`: 0 where it lies there after the
 * jobs and marks before it, the promised day where it is on order, the lead time where it would have to be ordered, and
 * Infinity where nobody on record sells what fits. Without a catalogue every kit is taken to be there.
 *
 * @param at the depot at which a vehicle is done, where that is not its own: shelves and orders are a depot's
 */
export type KitDays = (at?: ReadonlyMap<string, string>) => ReadonlyMap<string, number>;

/** What lies there, is on order and is asked for, read once. */
export async function kitDays(em: EntityManager, today: string): Promise<KitDays> {
  const standing = await standingOf(em, today);
  const rows = await axlesAhead(em);
  if (standing.catalogue.parts.length === 0) return () => new Map();
  const needsOf = await needsByPlace(em, standing, rows);
  const wanting = rows.filter(({ job_id }) => job_id === null);
  return (at = new Map()) => {
    const placeOfRow = (row: AxleAhead) => at.get(row.vehicle_id) ?? row.depot_id;
    // A job that is booked goes along with its vehicle.
    const jobsAt = new Map(
      rows.flatMap((row) => (row.job_id === null ? [] : [[row.job_id, placeOfRow(row)] as const])),
    );
    const own = wanting.map((row) => ({
      job: `${row.vehicle_id}/${row.axle}`,
      depot: placeOfRow(row),
      day: row.mark < today ? today : row.mark,
      booked: false,
      needs: needsOf(row),
    }));
    const jobs = standing.jobs.map(kitJob).map((job) => ({ ...job, depot: jobsAt.get(job.job) ?? job.depot }));
    const states = new Map(allocate([...jobs, ...own], standing.stock, standing.incoming).map((one) => [one.job, one]));
    return new Map(
      rows.map((row) => {
        const key = `${row.vehicle_id}/${row.axle}`;
        const state = states.get(row.job_id ?? key);
        return [key, state ? dayThere(state, standing, today) : 0];
      }),
    );
  };
}

async function needsByPlace(em: EntityManager, { catalogue }: Standing, rows: readonly AxleAhead[]) {
  const changes = await kitChanges(em);
  const needs = new Map<string, KitNeed[]>();
  for (const row of rows) {
    const key = `${row.model_id}/${row.axle}`;
    if (needs.has(key)) continue;
    const policy = await policyOfModel(em, { name: row.model, class: row.class });
    const lines = sureKit(row, policy, kitVersion(changes, row.model_id).changes);
    const place = placeOf(row.model_id, row.axle, row.disc);
    needs.set(key, kitFrom(lines, new Map([[row.axle, place]]), catalogue.parts).needs);
  }
  return ({ model_id, axle }: { model_id: string; axle: number }) => needs.get(`${model_id}/${axle}`) ?? [];
}

/** Days from today until all that a kit needs lies there; Infinity where something is not to be had. */
export function dayThere(
  { needs }: Pick<KitState, 'needs'>,
  { catalogue }: Pick<Standing, 'catalogue'>,
  today: string,
): number {
  const now = dayNumber(today);
  return Math.max(
    0,
    ...needs.map((need) => {
      if (need.now.state === 'there') return 0;
      if (need.now.state === 'comes') return dayNumber(need.now.day) - now + PUT_AWAY_DAYS;
      const lead = need.order ? offerInTime(catalogue, need.order.part, 0)?.lead_days : undefined;
      return lead === undefined ? Infinity : lead + PUT_AWAY_DAYS;
    }),
  );
}
