/**
 * Times looking a bench sheet up among 500 models × 3 axles × 10 joints, and holding all of them against the benches.
 * Prints a JSON line each; called by `npm run bench` with DATABASE_URL of an empty database.
 */
import { JointValues } from '@mile-mark/contract/specifications';
import { seededRandom } from '@mile-mark/core';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import {
  benchOfDepot,
  benchOfVehicle,
  coverage,
  ensureShippedJoints,
  exportJson,
  importLibrary,
} from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { createBus } from '../platform/events/bus.ts';
import { connect } from '../schema.ts';

const [MODELS, AXLES, JOINTS] = [500, 3, 10];
const name = `specifications, ${MODELS} models × ${AXLES} axles × ${JOINTS} joints`;
const print = (what: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name: `${name}: ${what}`, value: Math.round(value * 100) / 100, unit })}\n`);
const quantile = (times: number[], at: number) =>
  times.sort((a, b) => a - b)[Math.floor(at * (times.length - 1))] ?? NaN;

const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), 3);
const em = orm.em.fork();
const detail = JointValues.parse({
  about: 'joint',
  fastener: { thread: 'M14x1.5', headKind: 'hex', headSize: '21 mm', count: 2 },
  torque: { unit: 'N·m', least: 162, nominal: 170, most: 178 },
  preparation: 'medium thread locker',
  oneTimeUse: false,
});
// One invented model copied 500 times, each with a vehicle at one depot, and every joint entered by one and released by another.
await em.execute(`insert into model (id, name, class, tare_kg, gvwr_kg)
  select gen_random_uuid(), 'Bench model ' || i, 'heavy', 11000, 26000 from generate_series(1, ${MODELS}) i`);
await em.execute(`insert into model_axle (id, model_id, axle, brake, brake_detail, pad_new_um, backing_plate_um, pad_maker_min_um, brake_share)
  select gen_random_uuid(), m.id, a, 'air', 'air disc', 21000, 9000, 2000, 0.33 from model m, generate_series(1, ${AXLES}) a
  where m.name like 'Bench model%'`);
await em.execute(`insert into vehicle (id, unit, model_id, depot_id)
  select gen_random_uuid(), 'B' || row_number() over (), m.id, (select id from depot order by name limit 1) from model m
  where m.name like 'Bench model%'`);
await em.execute(`insert into specification (id, model_id, axle, joint_kind_id, position)
  select gen_random_uuid(), a.model_id, a.axle, k.id, 'place ' || p from model_axle a join model m on m.id = a.model_id,
    (select id from joint_kind where brake is null or brake = 'air' order by place limit 5) k, generate_series(1, ${JOINTS / 5}) p
  where m.name like 'Bench model%'`);
await em.execute(
  `insert into specification_revision (id, specification_id, number, detail, document, page, revision, dated, entered_by, entered_on)
   select gen_random_uuid(), s.id, 1, ?::jsonb, 'Bench book', '1', 'A', '2025-01-01', p.id, '2025-01-01'
   from specification s, (select id from person where role = 'coordinator' limit 1) p where s.released_revision_id is null and s.open_revision_id is null`,
  [JSON.stringify(detail)],
);
await em.execute(`with a as (
    insert into specification_attempt (id, revision_id, person_id, typed, differing, answer)
    select gen_random_uuid(), r.id, p.id, '{}', '[]', '{}' from specification_revision r,
      (select id from person where role = 'technician' limit 1) p where r.document = 'Bench book' returning id, revision_id, person_id)
  insert into specification_release (revision_id, attempt_id, entered_by, released_by, released_on, detail)
  select r.id, a.id, r.entered_by, a.person_id, '2025-01-02', r.detail from a join specification_revision r on r.id = a.revision_id`);
await em.execute(`update specification s set released_revision_id = r.id from specification_revision r
  where r.specification_id = s.id and r.document = 'Bench book'`);
await em.execute('analyze');

const random = seededRandom(5);
const times: number[] = [];
for (let i = 0; i < 200; i += 1) {
  const unit = `B${1 + Math.floor(random() * MODELS)}`;
  const begun = performance.now();
  const sheet = await benchOfVehicle(orm.em.fork(), unit);
  times.push(performance.now() - begun);
  if (sheet.model.axles.length !== AXLES || sheet.model.axles.some(({ joints }) => joints.length !== JOINTS))
    throw new Error(`the sheet of ${unit} is not whole`);
}
print('a vehicle’s sheets looked up, median of 200', quantile(times, 0.5), 'ms');
print('a vehicle’s sheets looked up, 95th percentile', quantile(times, 0.95), 'ms');
const [depot] = await em.execute<{ id: string }[]>('select id from depot order by name limit 1');
let begun = performance.now();
const bundle = await benchOfDepot(orm.em.fork(), depot?.id ?? '');
print('a depot’s bundle with all models', (performance.now() - begun) / 1000, 's');
print('the same, its size as JSON', JSON.stringify(bundle).length / 1e6, 'MB');
begun = performance.now();
await coverage(orm.em.fork(), DEMO_TODAY);
print('every joint held against every bench', (performance.now() - begun) / 1000, 's');

// The whole library written out and read again by another shop, which has none of it yet.
begun = performance.now();
const file = JSON.stringify(await exportJson(orm.em.fork()));
print('written out as JSON', (performance.now() - begun) / 1000, 's');
await em.execute(`update specification set position = 'other ' || position`);
const [person] = await em.execute<{ id: string; name: string }[]>(
  `select id, name from person where role = 'coordinator' limit 1`,
);
const actor = { id: person?.id ?? '', name: person?.name ?? '', role: 'coordinator' as const };
for (const dryRun of [true, false]) {
  begun = performance.now();
  const { rows, taken } = await importLibrary.run(
    { em: orm.em.fork(), actor, today: DEMO_TODAY, events: createBus(() => orm.em.fork(), []) },
    { fileName: 'bench.json', format: 'json', text: file, dryRun, confirmed: [] },
  );
  print(
    dryRun ? 'looked at, every line' : `taken in, ${taken} of ${rows.length}`,
    (performance.now() - begun) / 1000,
    's',
  );
}
await orm.close(true);
