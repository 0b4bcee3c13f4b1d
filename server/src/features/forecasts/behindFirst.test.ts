import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { createDemoDatabase, localComputer, TODAY } from '../../testing/app.ts';
import type { Computer } from './computer.ts';
import { refreshFleet } from './index.ts';

/** Marks behind their records come before what the fleet teaches: learning takes longer than a person waits. */

const VEHICLES = 10;
/** Three refreshes, on a machine that may be busy, ms. */
const MINUTES = 240_000;
type Fleet = Awaited<ReturnType<typeof createDemoDatabase>>;
let fleet: Fleet;
/** The same fleet, never interrupted. */
let twin: Fleet;
beforeAll(async () => {
  [fleet, twin] = await Promise.all([createDemoDatabase(VEHICLES), createDemoDatabase(VEHICLES)]);
}, MINUTES);
afterAll(async () => {
  await fleet.close();
  await twin.close();
});

const sql = async <T>({ orm }: Fleet, text: string, values: unknown[] = []): Promise<T[]> =>
  orm.em.fork().execute<T[]>(text, values);

/** A computer on which a process dies as soon as the fleet is asked what it teaches. */
const dying = (): Computer => ({ ...localComputer(), lessons: () => Promise.reject(new Error('killed')) });
const killed = () => expect(refreshFleet(fleet.orm.em.fork(), dying(), TODAY)).rejects.toThrow('killed');

const BEHIND = `
  select v.unit from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
  where v.left_on is null and (f.input_rev is null or f.input_rev < v.input_rev)`;
const MARKS = `
  select v.unit, f.axle, f.input_hash, f.mark from forecast f join vehicle v on v.id = f.vehicle_id order by 1, 2`;
const CHANGES = 'select kind, axle, side, since::text, gone_on::text as gone from wear_change order by 1, 2, 3, 4';

it(
  'of a fleet of which nothing was learnt: marks stand, no change of wear is told, and learning ends as without them',
  async () => {
    // Were changes kept on the way, one that readings do not show would be gone.
    await sql(
      fleet,
      `insert into wear_change (vehicle_id, kind, axle, since, probability, detail, first_told, last_told)
     select id, 'axle', 1, '2026-10-01', 0.95, '{"factor":{"p05":1,"p50":2,"p95":3},"looks":2,"wear":[]}', '2026-11-01', '2026-11-01'
     from vehicle order by unit limit 1`,
    );
    await killed();
    expect(await sql(fleet, BEHIND)).toEqual([]);
    const early = await sql<{ unit: string; mark: { markDate: string } }>(fleet, MARKS);
    expect(new Set(early.map(({ unit }) => unit)).size).toBe(VEHICLES);
    for (const { mark } of early) expect(mark.markDate).toMatch(/^20\d\d-\d\d-\d\d$/);
    expect(await sql(fleet, CHANGES)).toMatchObject([{ kind: 'axle', gone: null }]);
    await sql(fleet, 'delete from wear_change');
    expect(await sql(fleet, 'select 1 from validation')).toEqual([]);

    await refreshFleet(fleet.orm.em.fork(), localComputer(), TODAY);
    await refreshFleet(twin.orm.em.fork(), localComputer(), TODAY);
    const marks = await sql(fleet, MARKS);
    expect(marks).toEqual(await sql(twin, MARKS));
    expect(marks).not.toEqual(early);
    expect(await sql(fleet, CHANGES)).toEqual(await sql(twin, CHANGES));
  },
  MINUTES,
);

it(
  'of a fleet that has learnt: what is behind is made anew with what is known, and nothing else',
  async () => {
    const at = (unit: string) =>
      sql<{ at: string }>(
        fleet,
        'select f.computed_at::text as at from forecast f join vehicle v on v.id = f.vehicle_id where v.unit = ? order by axle',
        [unit],
      );
    const [one = '', other = ''] = (await sql<{ unit: string }>(fleet, 'select unit from vehicle order by unit')).map(
      ({ unit }) => unit,
    );
    const [before, others] = [await at(one), await at(other)];
    const marks = await sql(fleet, MARKS);
    await sql(
      fleet,
      `update forecast set input_hash = 'of another input' where vehicle_id = (select id from vehicle where unit = ?)`,
      [one],
    );
    await sql(fleet, 'update vehicle set input_rev = input_rev + 1 where unit = ?', [one]);
    await sql(fleet, 'delete from kept_answer');
    await killed();
    expect(await sql(fleet, BEHIND)).toEqual([]);
    expect(await at(one)).not.toEqual(before);
    expect(await at(other)).toEqual(others);
    // Nothing of it was new, and it was made with all that was known.
    expect(await sql(fleet, MARKS)).toEqual(marks);
  },
  MINUTES,
);
