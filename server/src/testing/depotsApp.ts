import { randomUUID } from 'node:crypto';
import type { Role } from '@mile-mark/contract';
import type { Person } from '@mile-mark/contract/people';
import { createPlanApp } from './planApp.ts';

/** The depot to which technician and parts keeper are limited. */
export const DEPOT = 'Creamery yard';

/** The application with the demo's fleet and a published plan, and a technician and a parts keeper of one depot. */
export async function createDepotsApp() {
  const app = await createPlanApp({ ways: true });
  await app.publish(await app.propose({ seconds: 4 })).expect(201);
  const [plan] = await app.sql<{ id: string }>(`select id from plan where state = 'published'`);
  const published = await app.planOf(plan?.id ?? '');
  const person = async (role: Role): Promise<Person> => {
    const { items } = (await app.coordinator.get('/api/people').expect(200)).body as { items: Person[] };
    const found = items.find(({ id }) => id === app.test.idOf(role));
    if (!found) throw new Error(`there is no ${role}`);
    return found;
  };
  const limit = async (role: Role, depots: string[]) => {
    const { id, name, email, depots: seen } = await person(role);
    return app.coordinator
      .put(`/api/people/${id}`)
      .send({ name, role, email, depots, seen: { name, role, email, depots: seen } });
  };
  for (const role of ['technician', 'parts keeper'] as const) {
    const { status, text } = await limit(role, [DEPOT]);
    if (status !== 200) throw new Error(text);
  }
  const [technician, keeper] = [await app.test.as('technician'), await app.test.as('parts keeper')];
  const all = await app.sql<{ id: string; unit: string; depot: string }>(
    'select v.id, v.unit, d.name as depot from vehicle v join depot d on d.id = v.depot_id order by v.unit',
  );
  const jobs = await app.sql<{ unit: string }>(
    `select v.unit from job j join vehicle v on v.id = j.vehicle_id join depot d on d.id = j.depot_id
     where d.name = ? and j.state in ('proposed', 'booked', 'in work')`,
    [DEPOT],
  );
  // What is done there is theirs as long as it is, wherever it is from.
  const guests = published.items.filter(({ depot }) => depot === DEPOT);
  const done = new Set([...guests, ...jobs].map(({ unit }) => unit));
  const others = all.filter(({ unit, depot }) => depot !== DEPOT && !done.has(unit));
  const [other] = others;
  const [home] = all.filter(({ depot }) => depot === DEPOT);
  if (!other || !home) throw new Error('the demo has one depot only');
  return {
    ...{ ...app, published, person, limit, technician, keeper, others, other, home },
    own: all.filter((one) => !others.includes(one)).map(({ unit }) => unit),
    agentOf: (role: Role) => (role === 'technician' ? technician : keeper),
    /** The id that a statement finds first; another where it finds none. */
    one: async (sql: string): Promise<string> => (await app.sql<{ id: string }>(sql))[0]?.id ?? randomUUID(),
  };
}
export type DepotsApp = Awaited<ReturnType<typeof createDepotsApp>>;
