/** npm run bench: one JSON line a benchmark, `{"name","value","unit"}`; everything else goes to the error output. */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { checkNode, ensureLocal, ensureModules, ensurePackages, ROOT } from './lib/setup.mjs';

process.stdout.write = (
  (write) =>
  (text, ...rest) =>
    String(text).startsWith('{') ? write.call(process.stdout, text, ...rest) : process.stderr.write(text)
)(process.stdout.write);
checkNode();
ensureLocal();
ensurePackages(['postgresql', 'chromium']);
ensureModules();
const { ensureBuilt } = await import('./lib/build.mjs');
await ensureBuilt();
const { startCluster } = await import('./lib/postgres.mjs');
const cluster = await startCluster('bench-pg', { throwaway: true });

const print = (name, value, unit) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 10) / 10, unit })}\n`);

function serve(databaseUrl, vehicles) {
  const server = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PORT: '0',
      MILEMARK_DEMO: '1',
      MILEMARK_VEHICLES: String(vehicles),
      MILEMARK_WEB: path.join(ROOT, 'web/dist'),
      NODE_ENV: 'production',
    },
  });
  return new Promise((resolve) => {
    server.stdout.on('data', (chunk) => {
      const url = /Mile Mark is at (http\S+)/.exec(String(chunk))?.[1];
      // Waited for: a server must not outlive the database under it.
      const stop = () =>
        new Promise((ended) => {
          server.once('exit', ended);
          server.kill('SIGTERM');
        });
      if (url) resolve({ url, pid: server.pid, stop });
    });
  });
}

/** Rates at which the mix of a working day is asked for, a second, and for how long, s. */
const RATES = [
  [25, 20],
  [50, 20],
  [100, 20],
  [200, 60],
];

/** The mix of a working day at growing rates, from a process of its own; with the most memory the server took. */
async function loadMix({ url, pid }) {
  for (const [rate, seconds] of RATES) {
    const load = spawn(
      process.execPath,
      [path.join(ROOT, 'scripts/lib/load.mjs'), url, String(rate), String(seconds)],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    let said = '';
    let most = 0;
    load.stdout.on('data', (part) => (said += part));
    const watch = setInterval(() => (most = Math.max(most, memoryOf(pid))), 250);
    await new Promise((ended) => load.on('exit', ended));
    clearInterval(watch);
    const { p50, p95, p99, answered, failed } = JSON.parse(said);
    const name = `a working day's mix, 60 vehicles, ${rate} a second for ${seconds} s`;
    print(`${name}: median`, p50, 'ms');
    print(`${name}: 95th percentile`, p95, 'ms');
    print(`${name}: 99th percentile`, p99, 'ms');
    print(`${name}: answered`, answered, 'a second');
    print(`${name}: failed`, failed, 'requests');
    print(`${name}: most memory`, most, 'MB');
  }
}

/** A long sheet taken in while others work, until every forecast rests on it. */
function sheetLoad({ url }, databaseUrl, vehicles) {
  const { stdout } = spawnSync(
    process.execPath,
    [path.join(ROOT, 'scripts/lib/sheetLoad.mjs'), url, databaseUrl, '5000'],
    { stdio: ['ignore', 'pipe', 'inherit'], encoding: 'utf8' },
  );
  const told = JSON.parse(stdout);
  const name = `a sheet of ${told.rows} rows, ${vehicles} vehicles`;
  print(`${name}: looked at`, told.looked, 's');
  print(`${name}: its last doubt found`, told.judged, 's');
  print(`${name}: taken in`, told.taken, 's');
  print(`${name}: forecasts of all ${told.changed} vehicles made anew`, told.moved, 's');
  print(`${name}: light requests meanwhile, median`, told.p50, 'ms');
  print(`${name}: light requests meanwhile, 99th percentile`, told.p99, 'ms');
}

/** Memory of a process, MB. */
function memoryOf(pid) {
  const status = existsSync(`/proc/${pid}/status`) ? readFileSync(`/proc/${pid}/status`, 'utf8') : '';
  return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
}

const agent = new http.Agent({ keepAlive: true });

/** One request, compressed as a browser asks for it, read to its end and not unpacked here. */
function drain(url, cookie) {
  return new Promise((resolve, reject) => {
    http
      .get(url, { agent, headers: { cookie, 'accept-encoding': 'gzip' } }, (answer) => {
        answer.on('data', () => {});
        answer.on('end', resolve);
      })
      .on('error', reject);
  });
}

/** 20 requests a second, evenly, for 30 s after 2 s of warming; each timed from the moment it was due. */
async function loadMarks(url, vehicles) {
  const session = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'coordinator@linden-vale.example', password: 'milk-before-dawn' }),
  });
  const cookie = session.headers.get('set-cookie').split(';')[0];
  const times = [];
  const open = [];
  for (let i = 0; i < 640; i += 1) {
    const due = performance.now();
    open.push(drain(`${url}/api/mile-marks`, cookie).then(() => i >= 40 && times.push(performance.now() - due)));
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  await Promise.all(open);
  const bay = [];
  for (let i = 0; i < 5; i += 1) {
    const begun = performance.now();
    await drain(`${url}/api/bay`, cookie);
    bay.push(performance.now() - begun);
  }
  bay.sort((a, b) => a - b);
  print(`GET /api/bay, ${vehicles} vehicles, median of 5`, bay[2], 'ms');
  times.sort((a, b) => a - b);
  print(`GET /api/mile-marks, ${vehicles} vehicles, 20 a second for 30 s: median`, times[300], 'ms');
  print(`GET /api/mile-marks, ${vehicles} vehicles, 20 a second for 30 s: 95th percentile`, times[570], 'ms');
}

try {
  spawnSync(process.execPath, [path.join(ROOT, 'server/dist/bench/appraisers.js')], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  spawnSync(process.execPath, [path.join(ROOT, 'server/dist/bench/wear.js')], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  spawnSync(process.execPath, [path.join(ROOT, 'server/dist/bench/families.js')], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  // Fleets of foreign make, where a folder of them is named or lies beside the checkout.
  const trials = process.env.TRIALS ?? path.join(ROOT, '../shared/trials');
  if (existsSync(trials)) {
    const fleets = readdirSync(trials).filter((name) => existsSync(path.join(trials, name, 'installs.csv')));
    for (const part of ['trials', 'planTruth'])
      spawnSync(
        process.execPath,
        [path.join(ROOT, `server/dist/bench/${part}.js`), ...fleets.map((name) => path.join(trials, name))],
        { stdio: ['ignore', 'inherit', 'inherit'] },
      );
  }
  for (const part of ['specifications', 'jobs', 'parts', 'plan', 'archive', 'imports', 'steadiness']) {
    const database = `bench_${part}_${Date.now()}`;
    cluster.ensureDatabase(database);
    spawnSync(process.execPath, [path.join(ROOT, `server/dist/bench/${part}.js`)], {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, DATABASE_URL: cluster.url(database) },
    });
  }
  for (const vehicles of [60, 400, 2000, ...(process.env.BENCH_LARGE === '1' ? [20_000] : [])]) {
    const database = `bench_${vehicles}_${Date.now()}`;
    cluster.ensureDatabase(database);
    const env = { ...process.env, DATABASE_URL: cluster.url(database), MILEMARK_VEHICLES: String(vehicles) };
    spawnSync(process.execPath, [path.join(ROOT, 'server/dist/bench/forecasts.js')], {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...env, NODE_OPTIONS: '--max-old-space-size=16000' },
    });
    const server = await serve(cluster.url(database), vehicles);
    await loadMarks(server.url, vehicles);
    if (vehicles === 60) await loadMix(server);
    if (vehicles === 2000) sheetLoad(server, cluster.url(database), vehicles);
    for (const part of ['ahead', 'clicks'])
      spawnSync(process.execPath, [path.join(ROOT, `e2e/bench/${part}.mjs`), server.url, String(vehicles)], {
        stdio: ['ignore', 'inherit', 'inherit'],
      });
    await server.stop();
  }
} finally {
  cluster.stop();
}
process.exit(0);
