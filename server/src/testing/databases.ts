import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { computePool } from '../compute.ts';
import { fillDemo } from '../demo/fill.ts';
import { createComputer, refreshFleet, refreshVehicles } from '../features/forecasts/index.ts';
import { planParts } from '../features/parts/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate, type Orm } from '../platform/db/orm.ts';
import { connect } from '../schema.ts';

/** The day on which tests of the whole application are. */
export const TODAY = '2026-11-20';

/** Computes in the caller's thread. */
export const localComputer = () => createComputer(computePool(0));

/** What a database of a test begins with: what is shipped, or the demo's fleet up to some stage. */
export interface Beginning {
  /** So many vehicles of the demo. */
  vehicles: number;
  /** Forecasts: none; under the assumed priors; after the fleet's learning. */
  marks?: 'none' | 'assumed' | 'learnt';
  /** Whether the parts are planned. */
  parts?: boolean;
}

/** A state of a database that others are copied from, made from an earlier one. */
interface Stage {
  name: string;
  from?: Stage;
  make: (orm: Orm) => Promise<unknown>;
}

const SHIPPED: Stage = {
  name: 'shipped',
  make: async (orm) => {
    await migrate(orm);
    await ensureShippedLimits(orm.em.fork());
    await ensureShippedJoints(orm.em.fork());
  },
};

const MARKS = {
  assumed: async ({ em }: Orm) => {
    const rows = await em.fork().execute<{ id: string }[]>('select id from vehicle');
    const ids = rows.map(({ id }) => id);
    await refreshVehicles(em.fork(), localComputer(), ids, TODAY);
  },
  learnt: ({ em }: Orm) => refreshFleet(em.fork(), localComputer(), TODAY),
};

function stageOf({ vehicles, marks = 'none', parts = false }: Beginning): Stage {
  const filled: Stage = { name: `demo_${vehicles}`, from: SHIPPED, make: ({ em }) => fillDemo(em.fork(), vehicles) };
  const marked: Stage =
    marks === 'none' ? filled : { name: `${filled.name}_${marks}`, from: filled, make: MARKS[marks] };
  if (!parts) return marked;
  return { name: `${marked.name}_parts`, from: marked, make: ({ em }) => planParts(em.fork(), computePool(0), TODAY) };
}

/** A database of its own on the test cluster; `drop` ends whoever still uses it. */
export async function createTestDatabase(beginning?: Beginning): Promise<{ url: string; drop: () => Promise<void> }> {
  const template = await templateOf(beginning ? stageOf(beginning) : SHIPPED);
  const name = `test_${randomBytes(6).toString('hex')}`;
  await onCluster((client) => client.query(`create database ${name} template ${template}`));
  return {
    url: urlOf(name),
    drop: async () => void (await onCluster((client) => client.query(`drop database ${name} with (force)`))),
  };
}

/**
 * The template of a stage. The first test that asks makes it, whichever process it is in, and others wait meanwhile; it has
 * its name only once it is whole, and is of this run of the tests alone.
 */
async function templateOf(stage: Stage): Promise<string> {
  const below = stage.from ? await templateOf(stage.from) : undefined;
  const name = `template_${process.env.TEST_RUN ?? process.pid}_${stage.name}`;
  await onCluster(async (client) => {
    await client.query('select pg_advisory_lock(hashtext($1))', [name]);
    const { rowCount } = await client.query('select from pg_database where datname = $1', [name]);
    if (rowCount) return;
    const making = `${name}_making`;
    await client.query(`drop database if exists ${making} with (force)`);
    await client.query(`create database ${making}${below ? ` template ${below}` : ''}`);
    const orm = await connect(urlOf(making));
    try {
      await stage.make(orm);
    } finally {
      await orm.close(true);
    }
    await client.query(`alter database ${making} rename to ${name}`);
  });
  return name;
}

function urlOf(database: string): string {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set: run these tests through npm test.');
  return admin.replace(/\/[^/]*$/, `/${database}`);
}

async function onCluster<T>(ask: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: urlOf('postgres') });
  await client.connect();
  try {
    return await ask(client);
  } finally {
    await client.end();
  }
}
