/**
 * A long sheet of today's readings taken in while others work, as a coordinator drops it: how long until it is looked at,
 * until it is in, and until every forecast rests on it, with how long light requests took meanwhile. Called by
 * `npm run bench` as `sheetLoad.mjs url database rows`, once all forecasts are up to date; prints one JSON line.
 */
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { setTimeout } from 'node:timers/promises';
import { URLSearchParams } from 'node:url';
import { Worker } from 'node:worker_threads';
import pg from 'pg';

const [url, databaseUrl, rows] = process.argv.slice(2);
const database = new pg.Client({ connectionString: databaseUrl });
await database.connect();
const headers = { origin: url, 'content-type': 'application/json' };
const signedIn = await fetch(`${url}/api/session`, {
  method: 'POST',
  headers,
  body: JSON.stringify({ email: 'coordinator@linden-vale.example', password: 'milk-before-dawn' }),
});
headers.cookie = signedIn.headers.get('set-cookie').split(';')[0];
const { today } = await (await fetch(`${url}/api/session`, { headers })).json();

async function ask(method, path, body) {
  const answer = await fetch(`${url}${path}`, { method, headers, body: body && JSON.stringify(body) });
  const said = await answer.json();
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${JSON.stringify(said).slice(0, 300)}`);
  return said;
}

/** Vehicles whose forecasts do not rest on all that is known of them. */
async function behind() {
  const { rows: found } = await database.query(
    `select count(*)::int as count from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
     where v.left_on is null and (f.vehicle_id is null or f.input_rev < v.input_rev)`,
  );
  return found[0].count;
}

async function sinceUntilNone(begun) {
  while ((await behind()) > 0) await setTimeout(250);
  return (performance.now() - begun) / 1000;
}

/** Every wheel as it was found last, a little thinner, at the miles expected today: a row a wheel, as many as are asked for. */
async function sheet() {
  const { items: marks } = await ask('GET', '/api/mile-marks');
  const miles = new Map(marks.map(({ unit, odometerNowMi }) => [unit, odometerNowMi]));
  const { rows: wheels } = await database.query(
    `select unit, axle, side, max(mm) filter (where pad = 'inner') as inner, max(mm) filter (where pad = 'outer') as outer from (
       select distinct on (v.id, r.axle, r.side, r.pad) v.unit, r.axle, r.side, r.pad, r.thickness_um / 1000.0 as mm
       from reading r join vehicle v on v.id = r.vehicle_id
       where v.left_on is null and r.thickness_um > 4000
       order by v.id, r.axle, r.side, r.pad, r.measured_on desc, r.entered_at desc) as last
     group by 1, 2, 3 having count(*) = 2 order by 1, 2, 3 limit $1`,
    [rows],
  );
  const line = ({ unit, axle, side, inner, outer }) =>
    [today, unit, Math.ceil(miles.get(unit)), axle, side, ...[inner, outer].map((mm) => (mm - 0.1).toFixed(1))].join(
      ',',
    );
  return `date,unit,odometer_mi,axle,side,inner_mm,outer_mm\n${wheels.map(line).join('\n')}\n`;
}

const content = await sheet();
const gauges = (await ask('GET', '/api/gauges')).items;
const people = (await database.query(`select id from person where role = 'technician' limit 1`)).rows;
const watcher = new Worker(new URL('./light.mjs', import.meta.url), { workerData: { url, headers } });

const id = randomUUID();
const dropped = performance.now();
const { ok, status } = await fetch(`${url}/api/imports/drafts?${new URLSearchParams({ id, fileName: 'looks.csv' })}`, {
  method: 'POST',
  headers: { ...headers, 'content-type': 'application/octet-stream' },
  body: content,
});
if (!ok) throw new Error(`the sheet was not kept: ${status}`);
const understanding = { technicianId: people[0].id, gaugeId: gauges[0].id, dateOrder: 'YMD' };
const { revision } = await ask('POST', `/api/imports/drafts/${id}/answers`, { revision: 1, understanding });
await ask('GET', `/api/imports/drafts/${id}`);
const looked = performance.now();
while ((await ask('GET', `/api/imports/drafts/${id}`)).judging) await setTimeout(200);
const judged = performance.now();
const { records } = await ask('POST', `/api/imports/drafts/${id}/import`, { id: randomUUID(), revision });
const taken = performance.now();
const changed = await behind();
const moved = await sinceUntilNone(taken);
watcher.postMessage('enough');
const [times] = await once(watcher, 'message');
await database.end();
process.stdout.write(
  `${JSON.stringify({
    rows: content.split('\n').length - 2,
    records,
    changed,
    looked: (looked - dropped) / 1000,
    judged: (judged - dropped) / 1000,
    taken: (taken - judged) / 1000,
    moved,
    p50: times[Math.floor(times.length * 0.5)],
    p99: times[Math.floor(times.length * 0.99)],
  })}\n`,
);
