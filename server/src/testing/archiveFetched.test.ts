import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { once } from 'node:events';
import { get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { CONNECTIONS } from '../schema.ts';
import { createTestApp, PASSWORD, type TestApp } from './app.ts';

/** An archive is fetched as slowly as somebody likes, and nobody else waits for it. */

let test: TestApp;
let server: Server;
let url: string;
let cookie: string;
beforeAll(async () => {
  test = await createTestApp({ longApart: true });
  // More than lies on the way between two ends of a connection: some 18 MB that get half as small.
  await test.orm.em.fork().execute(
    `insert into audit (at, action, subject, detail)
     select now(), 'a test', 'test/' || n, jsonb_build_object('told', (select string_agg(md5(n || '-' || m), '') from generate_series(1, 250) m))
     from generate_series(1, 2200) n`,
  );
  server = test.app.listen(0, '127.0.0.1');
  await once(server, 'listening');
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const body = JSON.stringify({ email: 'coordinator@dairy.example', password: PASSWORD });
  const headers = { origin: url, 'content-type': 'application/json' };
  const answer = await fetch(`${url}/api/session`, { method: 'POST', headers, body });
  cookie = (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await test.close();
});

it('files are looked at, and a second archive comes, while others let theirs lie', async () => {
  const asked: ReturnType<typeof get>[] = [];
  const begun: IncomingMessage[] = [];
  for (let i = 0; i < CONNECTIONS.long + 1; i += 1)
    asked.push(
      get(`${url}/api/archive`, { headers: { cookie } }, (answer) => begun.push(answer.pause())).on('error', () => {
        // Let go below.
      }),
    );
  for (const one of asked.slice(0, 1)) await once(one, 'response');
  const imports = await fetch(`${url}/api/imports`, { headers: { cookie }, signal: AbortSignal.timeout(20_000) });
  expect(imports.status).toBe(200);
  // Those that wait for their turn have not begun.
  expect(begun).toHaveLength(1);
  for (const one of asked) one.destroy();
  const archive = await fetch(`${url}/api/archive`, { headers: { cookie } });
  expect(archive.status).toBe(200);
  await archive.body?.cancel();
});
