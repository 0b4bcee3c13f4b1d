import { Migrator } from '@mikro-orm/migrations';
import { defineConfig, MikroORM, type EntityManager, type Options } from '@mikro-orm/postgresql';
import { Driver } from './driver.ts';

export type { EntityManager };
export type Orm = MikroORM;
export type Migrations = NonNullable<NonNullable<Options['migrations']>['migrationsList']>;

/**
 * Connects to a PostgreSQL database.
 *
 * @param database its address, its entities, its migrations in the order in which they are to run, and how many
 *   connections it may hold at once
 */
export function openDatabase(database: {
  url: string;
  entities: NonNullable<Options['entities']>;
  migrations: Migrations;
  connections: number;
}): Promise<Orm> {
  return MikroORM.init(
    defineConfig({
      driver: Driver,
      clientUrl: database.url,
      entities: database.entities,
      extensions: [Migrator],
      discovery: { warnWhenNoEntities: false },
      migrations: {
        tableName: 'migration',
        transactional: true,
        allOrNothing: true,
        snapshot: false,
        silent: true,
        migrationsList: database.migrations,
      },
      forceUtcTimezone: true,
      pool: { min: 1, max: database.connections, afterCreate: planOnce },
    }),
  );
}

/**
 * What is asked under a name (`plannedRows`) is planned once a connection. Left to itself the database plans much of it
 * anew each time, where it thinks that it could do better for these parameters: planning then costs twice what the
 * statement does. What is asked by its text alone is planned as ever.
 */
function planOnce(connection: { query: (sql: string, done: (fault: unknown) => void) => void }, ready: Ready): void {
  connection.query('set plan_cache_mode = force_generic_plan', (fault) => ready(fault, connection));
}
type Ready = (fault: unknown, connection: unknown) => void;

/** Number of the lock under which migrations run; any number no other lock of the database has. */
const MIGRATION_LOCK = 460_046;

/** Brings the database to the newest migration. Two processes doing it at once wait for each other. */
export async function migrate(orm: Orm): Promise<void> {
  await orm.em.fork().transactional(async (em) => {
    await em.execute('select pg_advisory_xact_lock(?)', [MIGRATION_LOCK]);
    await orm.getMigrator().up();
  });
}
