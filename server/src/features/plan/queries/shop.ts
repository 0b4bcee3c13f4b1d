import {
  PlanTermsChange,
  ShopChange,
  type Absence,
  type PlanTermsStated,
  type Shop,
  type ShopWeekStated,
} from '@mile-mark/contract/plan';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { readSettings } from '../../register/index.ts';
import { DEFAULT_TERMS, DEFAULT_WEEK } from '../defaults.ts';

const Week = ShopChange.omit({ revision: true });
/** Ways are kept by the depots' ids: names may change. Terms from before name neither ways nor whether plans are made anew. */
const Terms = PlanTermsChange.omit({ revision: true }).extend({
  travel: PlanTermsChange.shape.travel.default([]),
  proposesAnew: z.boolean().default(false),
});
const changed = { revision: z.number().nullable(), by: z.string().nullable(), on: z.string().nullable() };

const DepotSql = z.object({ id: z.string(), depot: z.string(), zone: z.string(), week: Week.nullable(), ...changed });
const DEPOTS = `
  select d.id, d.name as depot, d.time_zone as zone, s.week, s.revision, p.name as by, s.changed_on::text as on
  from depot d left join depot_shop s on s.depot_id = d.id left join person p on p.id = s.person_id
  where d.closed_on is null and (exists (select 1 from vehicle_in_fleet v where v.depot_id = d.id) or s.depot_id is not null)
  order by d.name`;

/** A depot with its shop. */
export interface DepotShop {
  id: string;
  depot: string;
  zone: string;
  week: ShopWeekStated;
  /** Nobody has told yet how it works. */
  assumed: boolean;
}

export async function depotShops(
  em: EntityManager,
): Promise<(DepotShop & Omit<Shop['terms'], keyof PlanTermsStated>)[]> {
  const rows = await rowsOf(em, DepotSql, DEPOTS);
  return rows.map(({ id, depot, zone, week, revision, by, on }) => ({
    id,
    depot,
    zone,
    week: week ?? DEFAULT_WEEK,
    assumed: week === null,
    revision: revision ?? 1,
    by,
    on,
  }));
}

const TermsSql = z.object({ terms: Terms, ...changed });

/** What plans weigh. */
export async function planTerms(em: EntityManager): Promise<Shop['terms']> {
  const [row] = await rowsOf(
    em,
    TermsSql,
    `select t.terms, t.revision, p.name as by, t.changed_on::text as on from plan_terms t left join person p on p.id = t.person_id`,
  );
  const terms = row?.terms ?? DEFAULT_TERMS;
  const names = await openDepots(em);
  const travel = terms.travel.flatMap(({ between, ...way }) => {
    const named = between.flatMap((id) => names.get(id) ?? []);
    return named.length === between.length ? [{ ...way, between: named }] : [];
  });
  return { ...terms, travel, revision: row?.revision ?? 1, by: row?.by ?? null, on: row?.on ?? null };
}

/** Depots that are open: names by id. */
export async function openDepots(em: EntityManager): Promise<Map<string, string>> {
  const rows = await rowsOf(
    em,
    z.object({ id: z.string(), name: z.string() }),
    'select id, name from depot where closed_on is null order by name',
  );
  return new Map(rows.map(({ id, name }) => [id, name]));
}

const AbsenceSql = z.object({
  id: z.string(),
  kind: z.enum(['person', 'vehicle', 'depot']),
  of: z.string(),
  subject: z.string(),
  from: z.string(),
  to: z.string(),
  reason: z.string(),
  comesIn: z.boolean(),
  by: z.string(),
});
export type AbsenceRow = z.output<typeof AbsenceSql>;

/** Who and what is away from a day on. */
export async function absencesFrom(em: EntityManager, day: string): Promise<AbsenceRow[]> {
  return rowsOf(
    em,
    AbsenceSql,
    `select a.id, a.kind, coalesce(p.name, v.unit, d.name) as of, coalesce(p.id, v.id, d.id) as subject, a.from_date::text as from,
       a.to_date::text as to, a.reason, a.comes_in as "comesIn", e.name as by
     from absence a left join person p on p.id = a.absent_person_id left join vehicle v on v.id = a.vehicle_id
       left join depot d on d.id = a.depot_id join person e on e.id = a.entered_by
     where a.withdrawn_on is null and a.to_date >= ?::date order by a.from_date, of, a.id`,
    [day],
  );
}

const FALLBACK_CURRENCY = 'USD';
export const currencyOf = async (em: EntityManager): Promise<string> =>
  (await readSettings(em)).costs?.currency ?? FALLBACK_CURRENCY;

export async function shopView(em: EntityManager, today: string): Promise<Shop> {
  const people = await rowsOf(
    em,
    z.object({ id: z.string(), name: z.string(), role: z.string() }),
    `select id, name, role from person where role in ('technician', 'coordinator') and left_on is null order by name`,
  );
  const absences = await absencesFrom(em, today);
  return {
    today,
    currency: await currencyOf(em),
    depots: (await depotShops(em)).map(({ id: _id, assumed: _assumed, week, zone, ...rest }) => ({
      ...week,
      timeZone: zone,
      ...rest,
    })),
    terms: await planTerms(em),
    people,
    absences: absences.map(({ subject: _subject, ...absence }): Absence => absence),
  };
}
