import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { LendAsk, Lending, PlanVehicle } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';
import { MOVE_NEAR } from './defaults.ts';
import {
  comingFrom,
  depotGround,
  NotPlannable,
  type DepotGround,
  type KeptLoan,
  type PlanAsk,
  type PlanBasis,
} from './problem.ts';
import { vehicleOf } from './vehicles.ts';

const Loan = z.object({
  vehicle: z.string(),
  class: z.string(),
  from: z.string(),
  to: z.string(),
  cost: z.number(),
  hours: z.number(),
  only: z.array(z.string()).nullable(),
}) satisfies z.ZodType<KeptLoan>;
const Kept = z.object({ loans: z.array(Loan).nullable() });

/** Who is lent in a plan; undefined while that is not decided. */
export async function keptLoans(em: EntityManager, planId: string): Promise<KeptLoan[] | undefined> {
  return (await firstRow(em, Kept, 'select loans from plan where id = ?', [planId]))?.loans ?? undefined;
}

const MINOR = 100;

/** The way between two depots, as the shop states it. */
function wayBetween(
  { terms, shops }: PlanBasis,
  from: string,
  to: string,
): { cost: number; hours: number } | undefined {
  const nameOf = (id: string) => shops.find((one) => one.id === id)?.depot ?? '';
  const way = terms.travel.find(({ between }) => between.includes(nameOf(from)) && between.includes(nameOf(to)));
  return way && { cost: way.costMinor / MINOR, hours: way.hours };
}

const FixedSql = z.object({
  rank: z.number(),
  vehicle: z.string(),
  class: z.string(),
  from: z.string(),
  to: z.string(),
  loan: Loan.nullable(),
});
/**
 * Vehicles that are done elsewhere whatever a plan would decide: in work there or booked there by a person, asked for there
 * now, locked there in the newest plan, or lent in the published plan to or from a depot that is not planned now.
 */
const FIXED = `
  with newest as (
    select distinct on (d.depot_id) d.depot_id, s.id from plan s join plan_depot d on d.plan_id = s.id
    where s.state in ('proposed', 'published') and d.problem is not null order by d.depot_id, s.serial desc),
  found as (
    select 1 as rank, j.vehicle_id, j.depot_id as other, null::jsonb as loan from job j
    where j.state = 'in work' or (j.state = 'booked' and not exists (select 1 from plan_visit p join plan s on s.id = p.plan_id
      where p.job_id = j.id and s.state = 'published' and not p.locked and p.day = j.day))
    union all
    select 2, (w->>'vehicle')::uuid, (w->>'depot')::uuid, null from jsonb_array_elements(?::jsonb) w
    union all
    select 3, p.vehicle_id, p.depot_id, null from plan_visit p join newest n on n.id = p.plan_id and n.depot_id = p.depot_id
    where p.locked and p.day >= ?::date
    union all
    select 4, (l->>'vehicle')::uuid, (l->>'to')::uuid, l from plan s, jsonb_array_elements(s.loans) l
    where s.state = 'published' and (not l->>'from' = any(?::text[]) or not l->>'to' = any(?::text[]))
      and exists (select 1 from plan_visit p where p.plan_id = s.id and p.vehicle_id = (l->>'vehicle')::uuid
        and p.depot_id = (l->>'to')::uuid and p.day >= ?::date))
  select distinct on (v.id) f.rank, v.id as vehicle, m.class, v.depot_id as "from", f.other as "to", f.loan from found f
    join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id
  order by v.id, f.rank`;

/** @param depots all that are planned */
async function fixedLoans(
  em: EntityManager,
  basis: PlanBasis,
  depots: readonly string[],
  ask: Pick<PlanAsk, 'from' | 'today' | 'doneAt'>,
): Promise<KeptLoan[]> {
  const planned = `{${depots.join()}}`;
  const rows = await rowsOf(em, FixedSql, FIXED, [JSON.stringify(ask.doneAt), ask.today, planned, planned, ask.from]);
  return rows.flatMap(({ loan, rank: _rank, ...row }) => {
    // What is in work, booked or asked for at its own depot is no loan, and can be none.
    if (row.from === row.to) return [];
    return loan ?? { ...row, ...(wayBetween(basis, row.from, row.to) ?? { cost: 0, hours: 0 }), only: null };
  });
}

/** What there is to decide: every depot's problem, and every vehicle that could go to another. */
export interface LendQuestion extends LendAsk {
  fixed: KeptLoan[];
}

/**
 * The depots of a plan that have a way to another, with who could be lent between them; nobody where no way is stated. What
 * may not be driven, is locked, in work, or due beyond the plan stays.
 */
export async function lendQuestion(
  em: EntityManager,
  basis: PlanBasis,
  depots: readonly string[],
  ask: PlanAsk,
): Promise<LendQuestion> {
  const fixed = await fixedLoans(em, basis, depots, ask);
  const ways = depots.flatMap((from) =>
    depots.flatMap((to) => {
      const way = from === to ? undefined : wayBetween(basis, from, to);
      return way ? [{ from, to, ...way }] : [];
    }),
  );
  const grounds = new Map<string, DepotGround>();
  for (const depot of new Set(ways.map(({ from }) => from))) {
    const ground = await depotGround(em, basis, depot, ask, fixed).catch((error: unknown) => {
      // Its own part of the plan says why.
      if (error instanceof NotPlannable) return undefined;
      throw error;
    });
    if (ground) grounds.set(depot, ground);
  }
  const scopes = new Map([...grounds.values()].flatMap((ground) => [...ground.scopes]));
  // Kits are looked for on the shelves of the other depot, as if all that could come did: who asks for one later may have to wait.
  const kitsOf = new Map(
    [...grounds.keys()].map((to) => {
      const from = ways
        .filter((way) => way.to === to)
        .flatMap((way) => [...(grounds.get(way.from)?.rows.keys() ?? [])]);
      return [to, basis.kitsAt(new Map(from.map((vehicle) => [vehicle, to])), scopes)];
    }),
  );
  const guests = ways.flatMap((way) => {
    const [home, host, kits] = [grounds.get(way.from), grounds.get(way.to), kitsOf.get(way.to)];
    return home && host && kits ? comingTo(home, { ...host, around: { ...host.around, kits } }, way) : [];
  });
  const homes = [...grounds.values()].map(({ problem }) => problem);
  return { fixed, homes, guests, least: basis.terms.moveMinor / MINOR, before: await publishedAt(em, basis, ask) };
}

/** Where the published plan has vehicles, and what it costs that one of them is done elsewhere: as if its visits moved. */
async function publishedAt(em: EntityManager, basis: PlanBasis, ask: PlanAsk): Promise<NonNullable<LendAsk['before']>> {
  const rows = await rowsOf(
    em,
    z.object({ vehicle: z.string(), depot: z.string(), far: z.number(), near: z.number() }),
    `select p.vehicle_id as vehicle, p.depot_id as depot, count(*) filter (where p.day > ?::date + ?::int)::int as far,
       count(*) filter (where p.day <= ?::date + ?::int)::int as near
     from plan_visit p join plan s on s.id = p.plan_id where s.state = 'published' and p.day >= ?::date
     group by p.vehicle_id, p.depot_id`,
    [ask.today, MOVE_NEAR.nearDays, ask.today, MOVE_NEAR.nearDays, ask.from],
  );
  const price = basis.terms.moveMinor / MINOR;
  return rows.map(({ far, near, ...one }) => ({ ...one, change: price * (far + MOVE_NEAR.nearTimes * near) }));
}

/** A depot's vehicles as another would do them, those that may go. */
function comingTo(
  home: DepotGround,
  host: DepotGround,
  way: { from: string; to: string; cost: number; hours: number },
): PlanVehicle[] {
  const end = Math.max(home.problem.days.at(-1) ?? 0, host.problem.days.at(-1) ?? 0);
  return home.problem.vehicles.flatMap((own) => {
    const rows = home.rows.get(own.id) ?? [];
    // What may not be driven goes nowhere.
    const standing = rows.some(({ unit }) => home.around.basis.standing.has(unit));
    const asked = home.around.ask.doneAt.some(({ vehicle }) => vehicle === own.id);
    if (asked || standing || own.lock || own.lent || own.axles.every(({ latest }) => latest > end)) return [];
    const { published, jobs, locks } = home.around;
    return vehicleOf(rows, way.to, { ...host.around, published, jobs, locks }).map((one) => ({
      ...comingFrom(one, way),
      lock: undefined,
    }));
  });
}

/** Loans as they are kept: with what the way costs, and days as dates. */
export function loansKept({ homes, guests, fixed }: LendQuestion, { loans }: Lending, today: string): KeptLoan[] {
  const classes = new Map(homes.flatMap(({ vehicles }) => vehicles.map((one) => [one.id, one.class] as const)));
  return [
    ...fixed,
    ...loans.map(({ vehicle, from, to, only }) => {
      const { lent } = guests.find((guest) => guest.id === vehicle && guest.depot === to) ?? {};
      return {
        vehicle,
        class: classes.get(vehicle) ?? '',
        from,
        to,
        cost: lent?.cost ?? 0,
        hours: lent?.hours ?? 0,
        only: only?.map((day) => dateOfDay(dayNumber(today) + day)) ?? null,
      };
    }),
  ];
}

/** Keeps who is lent in a plan, unless another process was first; what counts then is its. */
export async function keepLoans(em: EntityManager, planId: string, loans: readonly KeptLoan[]): Promise<KeptLoan[]> {
  const row = await firstRow(
    em,
    Kept,
    'update plan set loans = coalesce(loans, ?::jsonb) where id = ? returning loans',
    [JSON.stringify(loans), planId],
  );
  return row?.loans ?? [];
}
