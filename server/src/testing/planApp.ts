import { randomUUID } from 'node:crypto';
import type { Part } from '@mile-mark/contract/parts';
import type { Plan, PlanItem } from '@mile-mark/contract/plan';
import { computePool } from '../compute.ts';
import { solveDepot } from '../features/plan/jobs/solve.ts';
import { createTestApp, TODAY } from './app.ts';

/**
 * The application with the demo fleet and its shops; with what tests of plans do again and again.
 *
 * @param ways whether depots do each other's vehicles
 */
export async function createPlanApp({ ways = false } = {}) {
  const test = await createTestApp({ demo: { vehicles: 60, marks: 'learnt' } });
  const [coordinator, technician, viewer] = await Promise.all([
    test.as('coordinator'),
    test.as('technician'),
    test.as('viewer'),
  ]);
  if (!ways) await test.orm.em.fork().execute(`update plan_terms set terms = terms || '{"travel": []}'`);
  const fork = () => test.orm.em.fork();
  const pool = computePool(0);
  const sql = async <T>(text: string, values: unknown[] = []) => fork().execute<T[]>(text, values);
  const planOf = async (id: string) => (await coordinator.get(`/api/plans/${id}`).expect(200)).body as Plan;
  const solve = async (id: string) => {
    const depots = await sql<{ depot_id: string }>('select depot_id from plan_depot where plan_id = ?', [id]);
    for (const { depot_id } of depots)
      await solveDepot(fork, pool, { planId: id, depotId: depot_id }, TODAY, new AbortController().signal);
  };
  const ask = async (body: Record<string, unknown> = {}) => {
    const id = randomUUID();
    await coordinator
      .post('/api/plans')
      .send({ id, weeks: 26, seconds: 1.5, gap: 0.02, ...body })
      .expect(201);
    return id;
  };
  /** Asked for and solved. */
  const propose = async (body: Record<string, unknown> = {}): Promise<Plan> => {
    const id = await ask(body);
    await solve(id);
    return planOf(id);
  };
  const publish = (plan: Pick<Plan, 'id' | 'revision'>) =>
    coordinator.post(`/api/plans/${plan.id}/publish`).send({ id: randomUUID(), revision: plan.revision });
  const keyOf = ({ unit, axles }: Pick<PlanItem, 'unit' | 'axles'>) => `${unit}/${axles.join(' ')}`;
  /** Puts plenty of every part on the shelves of every depot: what is tested then is not whether kits are there. */
  const fillShelves = async () => {
    const keeper = await test.as('parts keeper');
    const { items: parts } = (await keeper.get('/api/parts').expect(200)).body as { items: Part[] };
    const depots = await sql<{ name: string }>('select name from depot');
    for (const { number: part, shelfDays, retired } of parts)
      for (const { name: depot } of retired ? [] : depots)
        await keeper
          .post('/api/stock/movements')
          .send({
            ...{ id: randomUUID(), kind: 'receive', part, depot, bin: 'F-01', units: 400 },
            ...(shelfDays ? { expiresOn: '2028-12-01', lot: 'F1' } : {}),
          })
          .expect(201);
  };
  return {
    ...{ test, coordinator, technician, viewer, fork, pool, sql, planOf, solve, ask, propose, publish, keyOf },
    fillShelves,
  };
}
export type PlanApp = Awaited<ReturnType<typeof createPlanApp>>;

/** A visit that may be moved. */
export const someItem = (plan: Plan, fits: (item: PlanItem) => boolean = () => true): PlanItem => {
  const item = plan.items.find((one) => !one.locked && !one.outside && fits(one));
  if (!item) throw new Error('the plan has no such visit');
  return item;
};
/** A working day of a visit's depot that is not its own, the nearest. */
export const otherDay = (plan: Plan, item: PlanItem): string => {
  const days = plan.depots.find(({ depot }) => depot === item.depot)?.days.map(({ date }) => date) ?? [];
  const at = days.indexOf(item.date);
  return days[at + 1] ?? days[at - 1] ?? '';
};
