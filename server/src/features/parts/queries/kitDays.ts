import { allocate, dayNumber, kitFrom, type KitNeed, type KitState } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { kitChanges, kitVersion, policyOfModel, type Scope } from '../../jobs/index.ts';
import { offerInTime } from '../catalogue.ts';
import { placeOf } from '../kits.ts';
import { axlesAhead, kitAhead, type AxleAhead } from './axlesAhead.ts';
import { kitJob, standingOf, type Standing } from './standing.ts';

/** Received parts are looked at and put away within this, days. */
const PUT_AWAY_DAYS = 1;

/**
 * Days from today on which the kit of each axle with a mark is there, by `vehicle/axle`: 0 where it lies there after the
 * jobs and marks before it, the promised day where it is on order, the lead time where it would have to be ordered, and
 * Infinity where nobody on record sells what fits. Without a catalogue every kit is taken to be there.
 *
 * @param at the depot at which a vehicle is done, where that is not its own: shelves and orders are a depot's
 * @param scopes what jobs would do, by `vehicle/axle`, where that is known: they have their kits then, new rotors and all
 */
export type KitDays = (
  at?: ReadonlyMap<string, string>,
  scopes?: ReadonlyMap<string, Scope>,
) => ReadonlyMap<string, number>;

/** What lies there, is on order and is asked for, read once. */
export async function kitDays(em: EntityManager, today: string): Promise<KitDays> {
  const standing = await standingOf(em, today);
  const rows = await axlesAhead(em);
  if (standing.catalogue.parts.length === 0) return () => new Map();
  const needsOf = await needsByScope(em, standing, rows);
  const wanting = rows.filter(({ job_id }) => job_id === null);
  return (at = new Map(), scopes = new Map()) => {
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
      needs: needsOf(row, scopes.get(`${row.vehicle_id}/${row.axle}`)),
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

/** What an axle's kit takes of the catalogue, by what is done there; each model's kind of axle is looked up once. */
async function needsByScope(em: EntityManager, { catalogue }: Standing, rows: readonly AxleAhead[]) {
  const changes = await kitChanges(em);
  const policies = new Map<string, Awaited<ReturnType<typeof policyOfModel>>>();
  for (const { model, class: name } of rows)
    if (!policies.has(model)) policies.set(model, await policyOfModel(em, { name: model, class: name }));
  const needs = new Map<string, KitNeed[]>();
  return (row: AxleAhead, scope?: Scope): KitNeed[] => {
    const key = `${row.model_id}/${row.axle} ${JSON.stringify(scope)}`;
    const policy = policies.get(row.model);
    if (!policy) throw new Error(`the policy of model ${row.model} is not looked up`);
    const known = needs.get(key);
    if (known) return known;
    const lines = kitAhead(row, policy, kitVersion(changes, row.model_id).changes, scope);
    const place = placeOf(row.model_id, row.axle, row.disc);
    const found = kitFrom(lines, new Map([[row.axle, place]]), catalogue.parts).needs;
    needs.set(key, found);
    return found;
  };
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
