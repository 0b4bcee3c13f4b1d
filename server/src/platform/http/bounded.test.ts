import { afterEach, describe, expect, it } from '@jest/globals';
import { once } from 'node:events';
import { createServer, get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express, { type Response } from 'express';
import { bounded } from './bounded.ts';

/** No more requests are under way than can be answered soon; the others are told at once. */

let server: Server;
const held: Response[] = [];
afterEach(() => {
  held.length = 0;
  server.closeAllConnections();
  server.close();
});

async function start(most: number): Promise<string> {
  const app = express();
  app.use('/api', bounded(most));
  app.get('/api/health', (_request, response) => void response.json('lives'));
  app.get('/api/slow', (_request, response) => void held.push(response));
  server = createServer(app).listen(0);
  await once(server, 'listening');
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`;
}
const ask = (url: string) => get(url, { agent: false }).on('error', () => undefined);
const answerOf = async (url: string) => {
  const [answer] = (await once(ask(url), 'response')) as [IncomingMessage];
  answer.resume();
  return answer;
};
const isHeld = async (many: number) => {
  while (held.length < many) await new Promise((resolve) => setImmediate(resolve));
};

describe('requests under way', () => {
  it('are bounded: one too many is told when to come again, and is let in when another is answered', async () => {
    const url = await start(2);
    const waiting = [answerOf(`${url}/slow`), answerOf(`${url}/slow`)];
    await isHeld(2);
    const refused = await answerOf(`${url}/slow`);
    expect([refused.statusCode, refused.headers['retry-after']]).toEqual([503, '1']);
    expect(held).toHaveLength(2);
    expect((await answerOf(`${url}/health`)).statusCode).toBe(200);
    held[0]?.json('answered');
    await Promise.race(waiting);
    await new Promise((resolve) => setTimeout(resolve, 20));
    const next = answerOf(`${url}/slow`);
    await isHeld(3);
    held[2]?.json('answered');
    expect((await next).statusCode).toBe(200);
    held[1]?.json('answered');
  });

  it('leave their place where who asked went away', async () => {
    const url = await start(1);
    const gone = ask(`${url}/slow`);
    await isHeld(1);
    const closed = once(held[0] as Response, 'close');
    gone.destroy();
    await closed;
    const next = answerOf(`${url}/slow`);
    await isHeld(2);
    held[1]?.json('answered');
    expect((await next).statusCode).toBe(200);
  });
});
