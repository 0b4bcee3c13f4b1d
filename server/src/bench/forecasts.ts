/**
 * Times the recomputing of all forecasts of a demo fleet, from the database and back, on worker threads.
 * Prints a JSON line each: name, value, unit. Called by `npm run bench` with DATABASE_URL of an empty database.
 */
import { spawnSync } from 'node:child_process';
import { DEMO_TODAY } from '../demo/cast.ts';
import { computePool } from '../compute.ts';
import { createComputer, refreshFleet, refreshVehicles } from '../features/forecasts/index.ts';
import { connect } from '../schema.ts';

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);
const vehicles = Number(process.env.MILEMARK_VEHICLES ?? '60');
const filled = spawnSync(process.execPath, [new URL('fill.js', import.meta.url).pathname], {
  stdio: ['ignore', 'inherit', 'inherit'],
});
if (filled.status !== 0) throw new Error('the demo fleet could not be filled in; see above');
const orm = await connect(process.env.DATABASE_URL ?? '');

const pool = computePool();
const computer = createComputer(pool);
const started = performance.now();
await refreshFleet(orm.em.fork(), computer, DEMO_TODAY);
print(`all forecasts of ${vehicles} vehicles, learnt and computed`, (performance.now() - started) / 1000, 's');

// As a night does it: the appraisers are known from before, every forecast is made anew.
await orm.em.fork().execute('delete from forecast');
const again = performance.now();
await refreshFleet(orm.em.fork(), computer, DEMO_TODAY);
print(
  `all forecasts of ${vehicles} vehicles, made anew with the appraisers known`,
  (performance.now() - again) / 1000,
  's',
);

const [first] = await orm.em.fork().execute<{ id: string }[]>('select id from vehicle order by unit limit 1');
const times: number[] = [];
for (let i = 0; i < 20 && first; i += 1) {
  await orm.em.fork().execute('delete from forecast where vehicle_id = ?', [first.id]);
  const begun = performance.now();
  await refreshVehicles(orm.em.fork(), computer, [first.id], DEMO_TODAY);
  times.push(performance.now() - begun);
}
times.sort((a, b) => a - b);
print(
  `forecast of one vehicle among ${vehicles}, database and back, median`,
  times[Math.floor(times.length / 2)] ?? 0,
  'ms',
);
print(`memory of the process, ${vehicles} vehicles`, process.memoryUsage.rss() / 1048576, 'MB');
await pool.close();
await orm.close(true);
