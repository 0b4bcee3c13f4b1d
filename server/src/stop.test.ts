import { afterEach, describe, expect, it } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import { createGate, type Gate } from './stop.ts';

/** A server that is asked to stop finishes what it began, and says to others that it is going. */

let server: Server;
let gate: Gate;
const begun: (() => void)[] = [];

async function serve(): Promise<string> {
  gate = createGate((_request, response) => {
    begun.push(() => response.end('done'));
  });
  server = createServer(gate.listener);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}
const underWay = async (count: number) => {
  while (begun.length < count) await setTimeout(5);
};
afterEach(() => {
  begun.length = 0;
  server.closeAllConnections();
});

describe('stopping', () => {
  it('waits for requests under way, and refuses others with when to come again', async () => {
    const url = await serve();
    const slow = fetch(url);
    await underWay(1);
    const closed = gate.close(server);
    const late = await fetch(url);
    expect([late.status, late.headers.get('retry-after')]).toEqual([503, '5']);
    expect(await late.json()).toMatchObject({ status: 503, title: expect.stringMatching(/stopping/) });
    begun[0]?.();
    expect(await (await slow).text()).toBe('done');
    expect(await closed).toBe(0);
    await expect(fetch(url)).rejects.toThrow();
  });

  it('cuts off what takes longer than it may', async () => {
    const url = await serve();
    const slow = fetch(url).catch(() => 'cut off');
    await underWay(1);
    expect(await gate.close(server, 100)).toBe(1);
    expect(await slow).toBe('cut off');
  });

  it('counts a request that its client gave up as over', async () => {
    const url = await serve();
    const gone = new AbortController();
    const given = fetch(url, { signal: gone.signal }).catch(() => 'given up');
    await underWay(1);
    gone.abort();
    expect(await given).toBe('given up');
    expect(await gate.close(server, 5000)).toBe(0);
  });
});
