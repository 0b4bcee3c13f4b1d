/**
 * Times what parts ask for: demand of 5,000 parts in ten depots over 26 weeks in a thread, the plan of the demo, and what
 * its screens fetch; and tries a year of orders against the truth. Prints a JSON line each; called by `npm run bench` with
 * DATABASE_URL of an empty database.
 */
import { demandAhead, tryStock, type AxleAhead, type KitAhead } from '@mile-mark/core';
import { computePool } from '../compute.ts';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { createComputer, refreshFleet } from '../features/forecasts/index.ts';
import {
  axleKits,
  jobKits,
  listOrders,
  listParts,
  listStock,
  modelKits,
  partsDay,
  planParts,
} from '../features/parts/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { connect } from '../schema.ts';

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);
const median = (times: number[]) => times.sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? NaN;

/** 5,000 parts: 250 models' axles with twenty kinds each, ten depots that take all of them, 4,000 axles on the road. */
function largeFleet() {
  const kits = new Map<string, KitAhead>();
  const leadDays = new Map<string, number>();
  for (let kit = 0; kit < 250; kit += 1) {
    const needs = Array.from(
      { length: 20 },
      (_, k) => ({ part: `p${kit}-${k}`, kind: k < 10 ? 'brake pad' : 'caliper' }) as const,
    );
    for (const { part } of needs) leadDays.set(part, 3 + (kit % 12));
    kits.set(`k${kit}`, {
      chances: { caliper: { a: 2, b: 18 } },
      needs: needs.map(({ part, kind }) => ({
        kind,
        axle: 1,
        side: 'both',
        pieces: 1,
        options: [{ part, units: 1 }],
        order: { part, units: 1 },
      })),
    });
  }
  const axles: AxleAhead[] = Array.from({ length: 4000 }, (_, i) => {
    const day = (i * 37) % 500;
    return {
      depot: `d${i % 10}`,
      // Every depot has every kit.
      kit: `k${Math.floor(i / 10) % 250}`,
      when: { day, booked: false },
      passage: [0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95].map((p, k) => ({ p, day: day + 12 * k })),
    };
  });
  return { axles, kits, leadDays, positions: new Map<string, number>(), service: 0.95, weeks: 26 };
}

const large = largeFleet();
const begun = performance.now();
const found = demandAhead(large);
print(
  `demand of 5,000 parts in 10 depots, 26 weeks (${found.length} that any axle takes)`,
  performance.now() - begun,
  'ms',
);

for (const [world, options] of Object.entries({
  'near supplier': { axles: 120, lifeDays: 300, errorSd: 0.2, leadDays: 7 },
  'far supplier': { axles: 120, lifeDays: 300, errorSd: 0.35, leadDays: 14 },
})) {
  const runs = [11, 12, 13, 14].map((seed) => tryStock({ ...options, service: 0.95, days: 365, seed }));
  const mean = (of: (run: (typeof runs)[number]) => number) =>
    runs.reduce((sum, run) => sum + of(run), 0) / runs.length;
  print(
    `a year of orders, ${world}: lead times covered`,
    mean(({ covered }) => covered),
    'share',
  );
  print(
    `a year of orders, ${world}: foretold`,
    mean(({ foretold }) => foretold),
    'share',
  );
  print(
    `a year of orders, ${world}: mean stock`,
    mean(({ meanStock }) => meanStock),
    'units',
  );
  print(
    `a year of orders, ${world}: mean stock of a fixed least and most with equal service`,
    mean(({ fixed }) => fixed?.meanStock ?? NaN),
    'units',
  );
}

const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), 300);
const pool = computePool();
await refreshFleet(orm.em.fork(), createComputer(pool), DEMO_TODAY);
const fork = () => orm.em.fork();

async function time(what: string, work: () => Promise<unknown>): Promise<void> {
  const times: number[] = [];
  for (let i = 0; i < 15; i += 1) {
    const from = performance.now();
    await work();
    times.push(performance.now() - from);
  }
  print(`parts, 300 vehicles: ${what}`, median(times), 'ms');
}
await time('plan', () => planParts(fork(), pool, DEMO_TODAY));
await time('the day', () => partsDay(fork(), DEMO_TODAY, undefined));
await time('kits of open jobs', () => jobKits(fork(), DEMO_TODAY));
await time('shelves', () => listStock(fork(), undefined));
await time('orders', () => listOrders(fork(), { state: 'open' }, DEMO_TODAY));
await time('catalogue', () => listParts(fork()));
await time('kits of a model', () => modelKits(fork(), 'Veldring 26 tanker'));
await time('kits of a vehicle’s axles', () => axleKits(fork(), 'T0007', DEMO_TODAY));
await pool.close();
await orm.close(true);
