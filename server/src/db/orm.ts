import { defineConfig, MikroORM, type EntityManager } from '@mikro-orm/postgresql';
import { Migrator } from '@mikro-orm/migrations';
import { ENTITIES } from './entities.ts';
import { Migration20261125000000_create_spine } from './migrations/Migration20261125000000_create_spine.ts';
import { Migration20261125120000_hands_and_capture } from './migrations/Migration20261125120000_hands_and_capture.ts';
import { Migration20261125180000_validation } from './migrations/Migration20261125180000_validation.ts';
import { Migration20261125220000_duty_and_changes } from './migrations/Migration20261125220000_duty_and_changes.ts';
import { Migration20261126090000_specifications } from './migrations/Migration20261126090000_specifications.ts';
import { Migration20261126150000_released_limits } from './migrations/Migration20261126150000_released_limits.ts';

export type { EntityManager };
export type Orm = MikroORM;

/** Connects to the database; every migration is listed here by hand, in order. */
export function connect(databaseUrl: string): Promise<Orm> {
  return MikroORM.init(
    defineConfig({
      clientUrl: databaseUrl,
      entities: ENTITIES,
      extensions: [Migrator],
      discovery: { warnWhenNoEntities: false },
      migrations: {
        tableName: 'migration',
        transactional: true,
        allOrNothing: true,
        snapshot: false,
        silent: true,
        migrationsList: [
          { name: 'Migration20261125000000_create_spine', class: Migration20261125000000_create_spine },
          { name: 'Migration20261125120000_hands_and_capture', class: Migration20261125120000_hands_and_capture },
          { name: 'Migration20261125180000_validation', class: Migration20261125180000_validation },
          { name: 'Migration20261125220000_duty_and_changes', class: Migration20261125220000_duty_and_changes },
          { name: 'Migration20261126090000_specifications', class: Migration20261126090000_specifications },
          { name: 'Migration20261126150000_released_limits', class: Migration20261126150000_released_limits },
        ],
      },
      forceUtcTimezone: true,
      pool: { min: 1, max: 8 },
    }),
  );
}

/** Brings the database to the newest migration. Two processes doing it at once wait for each other. */
export async function migrate(orm: Orm): Promise<void> {
  await orm.em.fork().transactional(async (em) => {
    await em.execute('select pg_advisory_xact_lock(460046)');
    await orm.getMigrator().up();
  });
}
