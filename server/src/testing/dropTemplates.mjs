import pg from 'pg';

/** Drops what the databases of this run were copied from. */
export default async function dropTemplates() {
  const connectionString = process.env.TEST_DATABASE_URL;
  if (!connectionString) return;
  const client = new pg.Client({ connectionString });
  await client.connect();
  const { rows } = await client.query('select datname from pg_database where starts_with(datname, $1)', [
    `template_${process.env.TEST_RUN}_`,
  ]);
  for (const { datname } of rows) await client.query(`drop database ${datname} with (force)`);
  await client.end();
}
