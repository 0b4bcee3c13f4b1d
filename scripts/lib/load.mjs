/**
 * Load on a server, from a process of its own: requests at a fixed rate whatever the answers take, each timed from the
 * moment it was due. Called by `npm run bench` as `load.mjs url rate seconds`; prints one JSON line.
 */
import { randomUUID } from 'node:crypto';
import http from 'node:http';
import { gunzipSync } from 'node:zlib';

const [url, rate, seconds] = process.argv.slice(2);
const agent = new http.Agent({ keepAlive: true, maxSockets: 400 });

/** A request and its answer's status, tag and body, or 0 where there was none within the time. */
function ask(method, path, { cookie, body, tag } = {}) {
  return new Promise((resolve) => {
    const sent = body === undefined ? undefined : JSON.stringify(body);
    const headers = {
      origin: url,
      'accept-encoding': 'gzip',
      ...(cookie ? { cookie } : {}),
      ...(tag ? { 'if-none-match': tag } : {}),
      ...(sent ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(sent) } : {}),
    };
    const request = http.request(`${url}${path}`, { method, agent, headers, timeout: 20_000 }, (answer) => {
      const parts = [];
      answer.on('data', (part) => parts.push(part));
      answer.on('end', () =>
        resolve({ status: answer.statusCode, headers: answer.headers, body: Buffer.concat(parts) }),
      );
      answer.on('error', () => resolve({ status: 0 }));
    });
    request.on('timeout', () => request.destroy());
    request.on('error', () => resolve({ status: 0 }));
    request.end(sent);
  });
}

async function signIn(role) {
  const answer = await ask('POST', '/api/session', {
    body: { email: `${role}@linden-vale.example`, password: 'milk-before-dawn' },
  });
  return answer.headers['set-cookie'][0].split(';')[0];
}

async function json(path, cookie) {
  const answer = await fetch(`${url}${path}`, { headers: { cookie } });
  return answer.json();
}

const cookies = { coordinator: await signIn('coordinator'), technician: await signIn('technician') };
// The day as the server has it: a demo lives on a day of its own, and a look of any later one is refused.
const { today } = await json('/api/session', cookies.coordinator);
const vehicles = (await json('/api/vehicles', cookies.coordinator)).items;
const gauges = (await json('/api/gauges', cookies.coordinator)).items;
const marks = (await json('/api/mile-marks', cookies.coordinator)).items;
const units = vehicles.map(({ unit }) => unit);
/** What was last told under a path, as a browser keeps it. */
const tags = new Map();

async function get(path, cookie) {
  const answer = await ask('GET', path, { cookie, tag: tags.get(path) });
  if (answer.headers?.etag) tags.set(path, answer.headers.etag);
  return answer.status;
}

/** What changed in the bay since, as a device asks that has the rest. */
let cursor;
async function bay() {
  const { status, body } = await ask('GET', `/api/bay${cursor ? `?since=${encodeURIComponent(cursor)}` : ''}`, {
    cookie: cookies.technician,
  });
  if (status === 200) cursor = JSON.parse(gunzipSync(body)).cursor;
  return status;
}

/** What was refused, as it was told. */
const told = new Set();

/** How many miles each vehicle went while it was looked at: the same look sent again would be refused, and cost little. */
const gone = new Map();

/** One look at an axle's pads, as a technician sends it, a mile after the one before. */
async function post(unit) {
  const miles = (gone.get(unit) ?? 0) + 1;
  gone.set(unit, miles);
  const mark = marks.find((one) => one.unit === unit) ?? marks[0];
  const pads = ['left', 'right'].flatMap((side) => ['inner', 'outer'].map((pad) => ({ side, pad })));
  const { status, body } = await ask('POST', '/api/readings', {
    cookie: cookies.technician,
    body: {
      inspection: {
        id: randomUUID(),
        unit: mark.unit,
        gaugeId: gauges[0].id,
        date: today,
        odometer: String(Math.round(mark.odometerNowMi ?? 60_000) + miles),
        odometerUnit: 'mi',
        acknowledged: true,
      },
      readings: pads.map(({ side, pad }, index) => ({
        id: randomUUID(),
        axle: mark.axle,
        side,
        pad,
        thickness: (6 + index / 10 + draw(SCATTER)).toFixed(2),
        thicknessUnit: 'mm',
        answer: 'measured_twice',
      })),
    },
  });
  if (status >= 400) told.add(String(body).slice(0, 300));
  return status;
}

const KINDS = [
  ...Array(7).fill('marks'),
  ...Array(7).fill('vehicle'),
  ...Array(2).fill('bay'),
  ...Array(2).fill('questions'),
  ...Array(2).fill('post'),
];
const done = [];
const send = {
  marks: () => get('/api/mile-marks', cookies.coordinator),
  vehicle: (unit) => get(`/api/vehicles/${unit}`, cookies.coordinator),
  bay,
  questions: () => get('/api/questions', cookies.coordinator),
  post,
};
/** Drawn by chance, and the same at every run. */
let drawn = 20_261_129 + Number(rate);
const draw = (list) => {
  drawn = (drawn * 48_271) % 2_147_483_647;
  return list[drawn % list.length];
};
const SCATTER = Array.from({ length: 97 }, (_, i) => i / 100);
const statuses = {};
const open = [];
const total = Number(rate) * Number(seconds);
const begun = performance.now();
for (let i = 0; i < total; i += 1) {
  const due = begun + (i * 1000) / Number(rate);
  const wait = due - performance.now();
  if (wait > 1) await new Promise((resolve) => setTimeout(resolve, wait));
  const kind = draw(KINDS);
  open.push(
    send[kind](draw(units)).then((status) => {
      done.push({ kind, status, ms: performance.now() - due });
      const key = `${kind} ${status}`;
      statuses[key] = (statuses[key] ?? 0) + 1;
    }),
  );
}
await Promise.all(open);
const share = (part, all) => all.map(({ ms }) => ms).sort((a, b) => a - b)[Math.floor(all.length * part)] ?? 0;
const of = (kind) => done.filter((one) => one.kind === kind);
// A conflict is an answer: two technicians sent the same. What is refused otherwise would make the load look light.
const failed = done.filter(({ status }) => status === 0 || (status >= 400 && status !== 409)).length;
const elapsed = (performance.now() - begun) / 1000;
process.stdout.write(
  `${JSON.stringify({
    p50: share(0.5, done),
    p95: share(0.95, done),
    p99: share(0.99, done),
    p95Of: Object.fromEntries(Object.keys(send).map((kind) => [kind, share(0.95, of(kind))])),
    answered: (done.length - failed) / elapsed,
    failed,
    statuses,
    told: [...told].slice(0, 3),
  })}\n`,
);
process.exit(0);
