/**
 * Fills the database of DATABASE_URL with a demo fleet of MILEMARK_VEHICLES vehicles, and says how many readings it has: a
 * process of its own, so that what a bench then measures is not the memory that the filling took.
 */
import { fillDemo } from '../demo/fill.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { connect } from '../schema.ts';

const vehicles = Number(process.env.MILEMARK_VEHICLES ?? '60');
const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), vehicles);
const [{ readings } = { readings: 0 }] = await orm.em
  .fork()
  .execute<{ readings: number }[]>('select count(*)::int as readings from reading');
process.stdout.write(
  `${JSON.stringify({ name: `demo of ${vehicles} vehicles: readings`, value: readings, unit: 'readings' })}\n`,
);
await orm.close(true);
