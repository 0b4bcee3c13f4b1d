import { afterAll, afterEach, beforeAll, describe, expect, it, jest } from '@jest/globals';
import { createServer, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { ApiProblem, call, isPassing, reach } from './client.ts';

/** Against a real server on loopback that answers well, refuses, fails, or dies in the middle of its answer. */
const WHOLE = JSON.stringify({ vehicles: Array.from({ length: 400 }, (_, i) => ({ unit: `V${i}` })) });

const answers: Record<string, (response: ServerResponse) => void> = {
  '/whole': (response) => response.end(WHOLE),
  '/nothing': (response) => response.writeHead(204).end(),
  '/cut': (response) => {
    response.writeHead(200, { 'Content-Type': 'application/json', 'Content-Length': String(WHOLE.length) });
    response.write(WHOLE.slice(0, 1000), () => response.destroy());
  },
  '/cut-chunked': (response) => {
    response.writeHead(200, { 'Content-Type': 'application/json' });
    response.write(WHOLE.slice(0, 1000), () => response.destroy());
  },
  '/refused': (response) =>
    response.writeHead(422).end(
      JSON.stringify({
        type: 'urn:mile-mark:problem:invalid',
        title: 'Not taken',
        status: 422,
        errors: [{ field: 'odometer', message: 'Give miles or kilometres.' }],
      }),
    ),
  '/failed': (response) => response.writeHead(503).end('<html>'),
  '/hurried': (response) => response.writeHead(429).end(),
};
const server = createServer((request, response) => answers[request.url ?? '']?.(response));
const there = globalThis.fetch;

beforeAll(async () => {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  globalThis.fetch = (path, init) => there(new URL(path as string, `http://127.0.0.1:${port}`), init);
});
afterAll(() => {
  globalThis.fetch = there;
  server.closeAllConnections();
  server.close();
});
afterEach(async () => {
  await call('GET', '/whole');
});

const failure = (path: string) =>
  call('GET', path).then(
    () => undefined,
    (error: unknown) => error as Error,
  );

describe('a call of the API', () => {
  it('gives the whole answer', async () => {
    expect(await call('GET', '/whole')).toEqual(JSON.parse(WHOLE));
    expect(await call('DELETE', '/nothing')).toBeUndefined();
  });

  it.each(['/cut', '/cut-chunked'])('gives no answer at all where it breaks off: %s', async (path) => {
    const heard = jest.fn();
    const stop = reach.subscribe(heard);
    const error = await failure(path);
    stop();
    expect(error).toBeInstanceOf(Error);
    expect(error).not.toBeInstanceOf(ApiProblem);
    expect(error?.message).toContain('broke off');
    expect(isPassing(error)).toBe(true);
    expect(reach.get()).toBe(false);
    expect(heard).toHaveBeenCalledTimes(1);
  });

  it('tells a refusal with its fields from a server that is unwell', async () => {
    const refusal = (await failure('/refused')) as ApiProblem;
    expect(refusal.of('odometer')).toBe('Give miles or kilometres.');
    expect(isPassing(refusal)).toBe(false);
    for (const path of ['/failed', '/hurried']) {
      const unwell = await failure(path);
      expect(unwell).toBeInstanceOf(ApiProblem);
      expect(isPassing(unwell)).toBe(true);
      expect(reach.get()).toBe(true);
    }
  });

  it('says that nothing was saved where no server is', async () => {
    const before = globalThis.fetch;
    globalThis.fetch = () => there('http://127.0.0.1:9/');
    const error = await failure('/whole');
    globalThis.fetch = before;
    expect(error?.message).toContain('nothing was saved');
    expect(reach.get()).toBe(false);
  });
});
