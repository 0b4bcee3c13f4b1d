/**
 * Times a long sheet of readings, as it is looked at, looked at again after an answer, and taken in, with the longest
 * time for which others were not answered. Prints a JSON line each; called by `npm run bench` with DATABASE_URL of an
 * empty database.
 */
import { randomUUID } from 'node:crypto';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { setTimeout } from 'node:timers/promises';
import { dateOfDay, dayNumber, seededRandom } from '@mile-mark/core';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { answerDraft, createDesk, dropFile, previewDraft, takeInDraft } from '../features/imports/index.ts';
import type { ImportDraftRow } from '../features/imports/entities.ts';
import { computePool } from '../compute.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { createBus } from '../platform/events/bus.ts';
import { connect } from '../schema.ts';

const ROWS = 50_000;
const VEHICLES = 2100;
const LOOKS = 6;
const FROM = '2024-06-03';
const MB = 1024 * 1024;
const print = (what: string, value: number, unit: string) =>
  process.stdout.write(
    `${JSON.stringify({ name: `a sheet of ${ROWS} rows: ${what}`, value: Math.round(value * 100) / 100, unit })}\n`,
  );

async function time<T>(what: string, work: () => Promise<T>): Promise<T> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const begun = performance.now();
  const result = await work();
  print(what, (performance.now() - begun) / 1000, 's');
  print(`${what}, longest block`, delay.max / 1e6, 'ms');
  print(`${what}, memory after`, process.memoryUsage().rss / MB, 'MB');
  return result;
}

const unitOf = (index: number) => `N${String(index + 1).padStart(4, '0')}`;

/** Looks at every wheel of every vehicle a few months apart; pads wear evenly, with what a gauge scatters. */
function sheetOfReadings(): string {
  const random = seededRandom(2026);
  const lines = ['Date,Unit,Odometer mi,Wheel,Inner mm,Outer mm,Remarks'];
  for (let look = 0; look < LOOKS; look += 1)
    for (let vehicle = 0; vehicle < VEHICLES; vehicle += 1) {
      const day = 20 + look * 110 + (vehicle % 40);
      for (const [place, wheel] of ['LF', 'RF', 'LR', 'RR'].entries()) {
        const worn = (place < 2 ? 0.0042 : 0.003) * day * (0.8 + (vehicle % 9) / 20);
        const mm = () => (9.6 - worn + (random() - 0.5) / 5).toFixed(1);
        lines.push(
          `${dateOfDay(dayNumber(FROM) + day)},${unitOf(vehicle)},${10_000 + day * 60},${wheel},${mm()},${mm()},`,
        );
      }
    }
  return `${lines.slice(0, ROWS + 1).join('\n')}\n`;
}

const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), 60);
interface Named {
  id: string;
  name: string;
}
const em = orm.em.fork();
const [coordinator] = await em.execute<Named[]>(`select id, name from person where role = 'coordinator' limit 1`);
const [technician] = await em.execute<Named[]>(`select id, name from person where role = 'technician' limit 1`);
const [gauge] = await em.execute<Named[]>('select id, name from gauge limit 1');
const [vehicle] = await em.execute<{ model: string; depot: string; duty: string }[]>(
  `select m.name as model, d.name as depot, u.name as duty from vehicle v join model m on m.id = v.model_id
     join depot d on d.id = v.depot_id join duty_period p on p.vehicle_id = v.id join duty u on u.id = p.duty_id
   where v.unit = 'P01' limit 1`,
);
if (!coordinator || !technician || !gauge || !vehicle) throw new Error('the demo is not as it was');
const caller = () => ({
  em: orm.em.fork(),
  actor: { ...coordinator, role: 'coordinator' as const },
  today: DEMO_TODAY,
  events: createBus(() => orm.em.fork(), []),
});
const list = Array.from(
  { length: VEHICLES },
  (_, index) => `${unitOf(index)},${vehicle.model},${vehicle.depot},${vehicle.duty},${FROM},10000`,
);
const pool = computePool();
const desk = createDesk(pool);
const drop = async (fileName: string, text: string, stated: ImportDraftRow['stated'] = {}) => {
  const [id, content] = [randomUUID(), Buffer.from(text)];
  await desk.drop(id, content);
  await dropFile.run(caller(), { id, fileName, kind: 'readings', content });
  await answerDraft.run(caller(), { id, revision: 1, understanding: stated });
  return id;
};
const takeIn = (id: string) => takeInDraft.run(caller(), { id: randomUUID(), draftId: id, revision: 2, desk });
const look = (id: string) => previewDraft(orm.em.fork(), desk, id, DEMO_TODAY);
/** Looks as the screen does: at once, then again until the last doubt is found. */
const judged = async (id: string) => {
  for (;;) {
    const seen = await look(id);
    if (!seen.judging) return seen;
    await setTimeout(200);
  }
};
const vehicles = await drop('vehicles.csv', `unit,model,depot,duty,duty_from,odometer_mi\n${list.join('\n')}\n`);
await time(`${VEHICLES} vehicles of a list taken in first`, () => takeIn(vehicles));
// As the database does by itself within a minute of so many new rows.
await em.execute('analyze');
const text = sheetOfReadings();
const stated = { technicianId: technician.id, gaugeId: gauge.id, dateOrder: 'YMD' as const };
const id = await time('dropped', () => drop('readings.csv', text, stated));
const before = performance.now();
await time('first look, its rows as understood', () => look(id));
const seen = await time('its last doubt found, after that', () => judged(id));
print('looked at, with its last doubt', (performance.now() - before) / 1000, 's');
await answerDraft.run(caller(), { id, revision: 2, choices: { '2': 'leave' } });
await time('looked at after a choice', () => look(id));
await answerDraft.run(caller(), { id, revision: 3, choices: { '2': 'take' }, understanding: { pad: 'inner' } });
await time('looked at after an answer', () => look(id));
await time('its last doubt found again, after that', () => judged(id));
const taken = await time('taken in', () =>
  takeInDraft.run(caller(), { id: randomUUID(), draftId: id, revision: 4, desk }),
);
print('readings taken', taken.records, 'readings');
if (taken.records !== seen.records) throw new Error('what was taken is not what was shown');
await pool.close();
await orm.close(true);
