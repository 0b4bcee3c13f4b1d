/**
 * How steady marks are: the demo's last weeks are lived through night by night, each night with what was measured and
 * fitted that day, and the mark of every axle whose own vehicle has nothing new is held against the night before.
 * Prints a JSON line each; called by `npm run bench` with DATABASE_URL of an empty database.
 */
import { dateOfDay, dayNumber } from '@mile-mark/core';
import { z } from 'zod';
import { computePool } from '../compute.ts';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { createComputer, refreshFleet } from '../features/forecasts/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { rowsOf } from '../platform/db/rows.ts';
import { connect } from '../schema.ts';

const NIGHTS = 28;
const VEHICLES = 60;
/** What is entered on a day, by the column that dates it. */
const DATED = { inspection: 'measured_on', reading: 'measured_on', odometer: 'read_on', service: 'fitted_on' } as const;

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);

const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), VEHICLES);
const start = dateOfDay(dayNumber(DEMO_TODAY) - NIGHTS);

/** Rows are taken out and put back as they were: what guards the record is off in this throwaway database only. */
async function unguarded(work: (execute: (sql: string, values?: unknown[]) => Promise<unknown>) => Promise<void>) {
  await orm.em.fork().transactional(async (em) => {
    await em.execute('set local session_replication_role = replica');
    await work((sql, values = []) => em.execute(sql, values));
  });
}
await unguarded(async (execute) => {
  for (const [table, column] of Object.entries(DATED)) {
    await execute(`create table held_${table} as select * from ${table} where ${column} > ?::date`, [start]);
    await execute(`delete from ${table} where ${column} > ?::date`, [start]);
  }
});

const MarkSql = z.object({ vehicle_id: z.string(), axle: z.number(), day: z.string() });
const marksNow = async () =>
  new Map(
    (
      await rowsOf(
        orm.em.fork(),
        MarkSql,
        `select vehicle_id, axle, mark->>'markDate' as day from forecast where mark is not null`,
      )
    ).map(({ vehicle_id, axle, day }) => [`${vehicle_id}/${axle}`, dayNumber(day)]),
  );

const pool = computePool();
const computer = createComputer(pool);
await refreshFleet(orm.em.fork(), computer, start);
let before = await marksNow();
const moves: number[] = [];
const story = new Map<string, number[]>();
for (let night = 1; night <= NIGHTS; night += 1) {
  const today = dateOfDay(dayNumber(start) + night);
  await unguarded(async (execute) => {
    for (const [table, column] of Object.entries(DATED))
      await execute(`insert into ${table} select * from held_${table} where ${column} = ?::date`, [today]);
  });
  const own = await rowsOf(
    orm.em.fork(),
    z.object({ vehicle_id: z.string() }),
    Object.entries(DATED)
      .map(([table, column]) => `select vehicle_id from held_${table} where ${column} = '${today}'`)
      .join(' union '),
  );
  const fresh = new Set(own.map(({ vehicle_id }) => vehicle_id));
  await refreshFleet(orm.em.fork(), computer, today);
  const now = await marksNow();
  for (const [key, day] of now) {
    const last = before.get(key);
    if (last === undefined || fresh.has(key.split('/')[0] ?? '')) continue;
    moves.push(Math.abs(day - last));
    story.set(key, [...(story.get(key) ?? []), day - last]);
  }
  before = now;
}
/** There and back again by more than a week, within the weeks that were lived through. */
const flips = [...story.values()].filter((steps) => {
  const far = steps.filter((step) => Math.abs(step) > 7);
  return far.some((step, i) => i > 0 && Math.sign(step) !== Math.sign(far[i - 1] ?? 0));
}).length;
const over = (days: number) => moves.filter((move) => move > days).length;
print('steadiness: axle-nights without own evidence', moves.length, 'axle-nights');
print('steadiness: marks that moved by more than a day on others’ evidence', over(1) / moves.length, 'share');
print('steadiness: by more than a week', over(7), `of ${moves.length} axle-nights`);
print('steadiness: furthest move', Math.max(0, ...moves), 'days');
print('steadiness: axles whose mark went there and back by more than a week', flips, `of ${story.size} axles`);
await pool.close();
await orm.close(true);
