import type { PlanHolds } from '@mile-mark/contract/plan';
import { planMadeInWords } from '@mile-mark/contract/words';
import { dayNumber } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { enterPlan } from '../enter.ts';
import { MailEntity, PlanEntity } from '../entities.ts';
import { planHolds } from '../queries/holds.ts';
import { planTerms } from '../queries/shop.ts';

const WEEK = 7;
/** What a plan that is made by itself need not prove, and the time for each of its depots, s. */
const [GAP, SECONDS] = [0.005, 10];

const PublishedSql = z.object({ id: z.string(), from: z.string(), weeks: z.number(), by: z.string() });
const PUBLISHED = `
  select id, from_date::text as "from", weeks, published_by as by from plan where state = 'published' and published_by is not null
  order by serial desc limit 1`;

/** Plans since the published one: a person's or touched by one, and the last that was made by itself. */
const SinceSql = z.object({
  id: z.string(),
  state: z.string(),
  made: z.boolean(),
  touched: z.boolean(),
  because: z.array(z.object({ depot: z.string(), unit: z.string().nullable(), what: z.string() })).nullable(),
});
const SINCE = `
  select p.id, p.state, p.because is not null as made, exists (select 1 from plan_change c where c.plan_id = p.id) as touched, p.because
  from plan p where p.serial > (select serial from plan where id = ?) order by p.serial desc`;

/** What is told apart: the same said of another day or by another figure is the same. */
const keyOf = (items: readonly Pick<PlanHolds['items'][number], 'depot' | 'unit' | 'what'>[]): string =>
  [...new Set(items.map(({ depot, unit, what }) => `${depot}/${unit ?? ''}/${what.replaceAll(/[\d.,]+/g, '#')}`))]
    .sort()
    .join('\n');

/**
 * Makes a proposal where the published plan no longer holds, as the shop has asked for: nothing is booked or moved before
 * a person publishes it. One stands at a time; what a person proposed, or changed by hand, is left alone, and the same
 * proposal is not made twice, dropped or not.
 *
 * @returns whether one was made
 */
export async function watchPlan(em: EntityManager, today: string): Promise<boolean> {
  const { proposesAnew } = await planTerms(em);
  const published = proposesAnew ? await firstRow(em, PublishedSql, PUBLISHED) : undefined;
  if (!published) return false;
  const since = await rowsOf(em, SinceSql, SINCE, [published.id]);
  const busy = ({ state, made, touched }: (typeof since)[number]) =>
    state === 'solving' || (state === 'proposed' && (!made || touched));
  if (since.some(busy)) return false;
  const { items } = await planHolds(em, published.id, today);
  const own = since.find(({ state, made }) => made && state === 'proposed');
  const last = since.find(({ made }) => made);
  if (items.length > 0 && last?.because && keyOf(last.because) === keyOf(items)) return false;
  const from = published.from < today ? today : published.from;
  const weeks = Math.ceil((dayNumber(published.from) + WEEK * published.weeks - dayNumber(from)) / WEEK);
  return em.transactional(async (inner) => {
    // Of two processes that look at the same moment, one makes it.
    await inner.execute(`select pg_advisory_xact_lock(hashtextextended('plan watched', 3))`);
    if ((await rowsOf(inner, SinceSql, SINCE, [published.id])).length !== since.length) return false;
    // It was for what has changed since.
    if (own) await inner.nativeUpdate(PlanEntity, { id: own.id, state: 'proposed' }, { state: 'dropped' });
    if (items.length === 0) {
      // All holds again: should the same come once more, it is new.
      if (last) await inner.nativeUpdate(PlanEntity, { id: last.id }, { because: [] });
      return false;
    }
    const depots = await rowsOf(
      inner,
      z.object({ id: z.string() }),
      'select depot_id as id from plan_depot where plan_id = ?',
      [published.id],
    );
    await enterPlan(inner, {
      id: randomUUID(),
      fromDate: from,
      weeks,
      gap: GAP,
      seconds: SECONDS,
      urgent: [],
      doneAtDepot: [],
      because: items,
      askedBy: published.by,
      askedOn: today,
      depots: depots.map(({ id }) => id),
    });
    return true;
  });
}

const MadeSql = z.object({
  id: z.string(),
  by: z.string(),
  because: z.array(z.object({ depot: z.string(), what: z.string() })),
});

/** Tells who published the plan before that one was made by itself, and why. */
export async function tellMade(em: EntityManager, planId: string): Promise<void> {
  const made = await firstRow(
    em,
    MadeSql,
    'select id, asked_by as by, because from plan where id = ? and because is not null',
    [planId],
  );
  if (!made) return;
  const { subject, body } = planMadeInWords(made.because);
  await em.insert(MailEntity, { id: randomUUID(), personId: made.by, subject, body, sentAt: null, failure: null });
}
