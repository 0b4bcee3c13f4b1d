import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { DriverException } from '@mikro-orm/core';
import { createTestApp, fillSmallFleet, PASSWORD, TODAY, type TestApp } from '../testing/app.ts';
import { createLogger, failureOf } from './log.ts';

/** Logs say who asked for what and how it went; nothing that anybody entered, and nothing that opens anything. */

/** Planted wherever a person may type, and looked for in what was written down. */
const SECRET = 'curdled-4711';
const lines: string[] = [];
let test: TestApp;
beforeAll(async () => {
  test = await createTestApp({ logger: createLogger('debug', { write: (line) => void lines.push(line) }) });
});
afterAll(async () => test.close());

const told = () => lines.map((line) => JSON.parse(line) as Record<string, unknown>);

describe('a log', () => {
  it('tells each request with its route, status, time and person, whatever was in its address', async () => {
    const coordinator = await test.as('coordinator');
    lines.length = 0;
    const answer = await coordinator.get(`/api/vehicles/${SECRET}`);
    expect(answer.status).toBe(404);
    await coordinator.get('/api/gauges').expect(200);
    const [vehicle, gauges] = told().filter(({ msg }) => msg === 'answered');
    expect(vehicle).toMatchObject({
      request: answer.headers['x-request-id'],
      method: 'get',
      route: '/api/vehicles/{unit}',
      status: 404,
      person: test.idOf('coordinator'),
    });
    expect(typeof vehicle?.ms).toBe('number');
    expect(gauges).toMatchObject({ route: '/api/gauges', status: 200 });
    expect(gauges?.request).not.toBe(vehicle?.request);
  });

  it('holds no password, token, address or figure, in what went well and in what failed', async () => {
    const { gaugeId } = await fillSmallFleet(test);
    lines.length = 0;
    const coordinator = await test.as('coordinator');
    const signedIn = await coordinator
      .post('/api/session')
      .send({ email: 'coordinator@dairy.example', password: PASSWORD })
      .expect(200);
    await coordinator
      .post('/api/session')
      .send({ email: `${SECRET}@dairy.example`, password: SECRET })
      .expect(401);
    await coordinator
      .post('/api/people')
      .send({
        id: randomUUID(),
        name: SECRET,
        role: 'technician',
        email: `${SECRET}@dairy.example`,
        password: `${SECRET}${SECRET}`,
      })
      .expect(201);
    await coordinator.post('/api/readings').send({
      inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: TODAY, odometer: '31000', note: SECRET },
      readings: [{ id: randomUUID(), axle: 1, side: 'left', pad: 'inner', thickness: `${SECRET} mm` }],
    });
    // The same address twice is refused by the database, whose words repeat it.
    await coordinator.post('/api/people').send({
      id: randomUUID(),
      name: 'Another',
      role: 'technician',
      email: `${SECRET}@dairy.example`,
      password: `${SECRET}${SECRET}`,
    });
    const [cookie = ''] = (signedIn.headers['set-cookie'] as unknown as string[]) ?? [];
    const token = /=([^;]+)/.exec(cookie)?.[1] ?? 'no token';
    const written = lines.join('\n');
    expect(lines.length).toBeGreaterThan(5);
    for (const planted of [SECRET, PASSWORD, token, 'dairy.example']) expect(written).not.toContain(planted);
  });

  it('tells where a failure of the database happened, without its words', async () => {
    const error: unknown = await test.orm.em
      .fork()
      .execute(`select '${SECRET}'::int`)
      .catch((one: unknown) => one);
    expect(String(error)).toContain(SECRET);
    const failure = failureOf(error);
    expect(JSON.stringify(failure)).not.toContain(SECRET);
    expect(failure.code).toBe('22P02');
    expect(failure.stack?.length).toBeGreaterThan(0);
    expect(failureOf(new Error('the queue ended', { cause: error }))).toMatchObject({
      message: 'the queue ended',
      cause: { code: '22P02' },
    });
    expect(JSON.stringify(failureOf(new Error('it ended', { cause: error })))).not.toContain(SECRET);
    // A driver that lost its database says so in words of its own, behind the statement.
    const lost = new DriverException(
      new Error(`insert into person values ('${SECRET}') - Transaction query already complete`),
    );
    expect(failureOf(lost).message).toBe('Transaction query already complete');
    expect(failureOf('thrown text')).toEqual({ type: 'string' });
  });
});
