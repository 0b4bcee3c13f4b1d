import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Person } from '@mile-mark/contract/people';
import type { ImportPreview } from '@mile-mark/contract/imports';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';

/** Two entries of one person become one, with all that the record says of either. */

let stories: FleetStories;
let coordinator: FleetStories['coordinator'];
let gaugeId: string;

beforeAll(async () => {
  stories = await fleetStories();
  ({ coordinator } = stories);
  gaugeId = (await coordinator.get('/api/gauges').expect(200)).body.items[0].id;
});
afterAll(async () => stories.test.close());

const people = async (): Promise<Person[]> => (await coordinator.get('/api/people').expect(200)).body.items;
const sql = <T>(text: string, values: unknown[] = []) => stories.test.orm.em.fork().execute<T[]>(text, values);
const add = async (name: string, account: object = {}): Promise<string> => {
  const id = randomUUID();
  await coordinator
    .post('/api/people')
    .send({ id, name, role: 'technician', ...account })
    .expect(201);
  return id;
};
const merge = (id: string, into: string, who = coordinator) => who.post(`/api/people/${id}/merge`).send({ into });
const look = (unit: string, technicianId: string, date: string, odometer: string) =>
  coordinator.post('/api/readings').send({
    inspection: { id: randomUUID(), unit, gaugeId, date, odometer, technicianId },
    readings: (['inner', 'outer'] as const).map((pad) => ({
      ...{ id: randomUUID(), axle: 1, side: 'left', pad, thickness: '7.2' },
    })),
  });
const sheet = (unit: string, name: string, date: string, odometer: number) =>
  `date,unit,odometer mi,wheel,inner mm,outer mm,technician\n${date},${unit},${odometer},LF,7.0,7.0,${name}\n`;

describe('two entries of one person', () => {
  it('become one: what either measured is one person’s, what was remembered follows, and the trail says it', async () => {
    const [unit, twice, once] = [await stories.newVehicle(), await add('R Castellano'), await add('R. Castellano')];
    await look(unit, twice, '2026-10-01', '28,000 mi').expect(201);
    await look(unit, once, '2026-11-01', '30,000 mi').expect(201);
    const understanding = { gaugeId, personNames: { 'R Castellano': twice } };
    const text = sheet(unit, 'R Castellano', '2026-11-10', 30_400);
    const file = { fileName: 's.csv', text, understanding };
    await coordinator
      .post('/api/imports')
      .send({ id: randomUUID(), ...file })
      .expect(200);

    const { body } = await merge(twice, once).expect(200);
    expect(body.id).toBe(once);
    expect(body.moved).toBeGreaterThanOrEqual(6);
    expect((await people()).map(({ id }) => id)).not.toContain(twice);
    for (const table of ['inspection', 'reading'])
      expect(
        await sql(
          `select distinct technician_id as id from ${table} where vehicle_id = (select id from vehicle where unit = ?)`,
          [unit],
        ),
      ).toEqual([{ id: once }]);
    // Nothing of the record names the other entry any more, but who it turned out to be.
    const [{ found } = { found: '' }] = await sql<{ found: string }>(
      `select coalesce(string_agg(t.relname || coalesce(xpath('count(//row)', x.doc)::text, ''), ','), '') as found
       from pg_class t, lateral (select query_to_xml(format('select 1 as hit from %I z where z::text like %L', t.relname, '%' || ? || '%'), true, false, '') as doc) x
       where t.relkind = 'r' and t.relnamespace = 'public'::regnamespace and x.doc::text like '%<hit>%'
         and t.relname not in ('person', 'audit', 'idempotent_reply', 'outbox')`,
      [twice],
    );
    expect(found).toBe('');
    const [told] = await stories.trail('made two people one');
    expect(told?.detail).toMatchObject({ was: twice, name: 'R Castellano', is: 'R. Castellano' });

    // The next sheet that writes the name as before means who it turned out to be, and is not asked about.
    const next = { fileName: 'n.csv', text: sheet(unit, 'R Castellano', '2026-11-14', 30_600), dryRun: true };
    const seen = (await coordinator.post('/api/imports').send(next).expect(200)).body as ImportPreview;
    expect(seen.understanding.personNames).toEqual({ 'R Castellano': once });
    // A tablet that was away names the entry that is gone.
    await look(unit, twice, '2026-11-18', '30,900 mi').expect(201);
    expect(await sql('select 1 from inspection where technician_id = ?', [twice])).toEqual([]);
  });

  it('one made another twice over follows to the last; sent again it moves nothing', async () => {
    const [first, second, third] = [await add('A'), await add('B'), await add('C')];
    await merge(first, second).expect(200);
    await merge(second, third).expect(200);
    expect(await sql('select merged_into as id from person where id = ?', [first])).toEqual([{ id: third }]);
    expect((await merge(second, third).expect(200)).body.moved).toBe(0);
    expect((await merge(second, await add('D'))).status).toBe(409);
  });

  it('are refused where one signs in, is nobody, or is itself; and only the coordinator says it', async () => {
    const signsIn = await add('Signs in', { email: 'signs@dairy.example', password: 'long enough to be one' });
    const other = await add('Other');
    expect((await merge(signsIn, other)).status).toBe(409);
    for (const into of [other, randomUUID(), stories.test.idOf('parts keeper')])
      expect((await merge(other, into)).body.errors[0].field).toBe('into');
    expect((await merge(randomUUID(), other)).status).toBe(404);
    expect((await merge(other, signsIn, await stories.test.as('technician'))).status).toBe(403);
    await merge(other, signsIn).expect(200);
  });

  it('and the record stays append-only: no other change of a reading is let through meanwhile', async () => {
    const unit = await stories.newVehicle();
    const who = await add('Keeps');
    await look(unit, who, '2026-10-01', '28,000 mi').expect(201);
    const change = (set: string) =>
      stories.test.orm.em.fork().transactional(async (em) => {
        await em.execute(`select set_config('mile_mark.merge', ?, true)`, [
          `${who}>${stories.test.idOf('technician')}`,
        ]);
        await em.execute(`update reading set ${set} where technician_id = ?`, [who]);
      });
    await expect(change('thickness_um = thickness_um + 1')).rejects.toThrow(/append-only/);
    await expect(change(`typed = typed || '0'`)).rejects.toThrow(/append-only/);
    await expect(
      stories.test.orm.em.fork().execute('update reading set typed = typed where technician_id = ?', [who]),
    ).rejects.toThrow(/append-only/);
  });
});
