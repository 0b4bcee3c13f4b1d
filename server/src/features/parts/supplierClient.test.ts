import { afterEach, describe, expect, it } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { messagesOf, sendOrder } from './supplierClient.ts';

let server: Server | undefined;
afterEach(() => {
  server?.close();
});
/** A supplier that answers so, and what it was asked. */
async function answering(status: number, body: string) {
  const asked: { method: string; url: string; body: string }[] = [];
  const made = createServer((request, response) => {
    let text = '';
    request.on('data', (chunk) => (text += String(chunk)));
    request.on('end', () => {
      asked.push({ method: request.method ?? '', url: request.url ?? '', body: text });
      response.writeHead(status, { 'content-type': 'application/json' }).end(body);
    });
  });
  server = made;
  await new Promise<void>((resolve) => made.listen(0, '127.0.0.1', resolve));
  return { url: `http://127.0.0.1:${(made.address() as AddressInfo).port}`, asked };
}
const saying = async (messages: unknown) => messagesOf((await answering(200, JSON.stringify({ messages }))).url, 'o');
const ORDER = { reference: 'o', lines: [{ line: 'l', number: 'PD-1', units: 2 }] };

describe('an order that is sent', () => {
  it('is taken under the name the supplier gives it', async () => {
    const { url, asked } = await answering(202, '{"taken":"S-1001"}');
    expect(await sendOrder(url, ORDER)).toBe('S-1001');
    expect(asked).toEqual([{ method: 'POST', url: '/orders', body: JSON.stringify(ORDER) }]);
  });

  it.each([
    ['an answer of no', 503, '{"taken":"S-1001"}', /answered 503/],
    ['one that is no JSON', 202, 'taken', /JSON/],
    ['one without a name', 202, '{}', /taken/],
    ['one whose name is too long', 202, JSON.stringify({ taken: 'S'.repeat(121) }), /taken/],
  ])('is not taken by %s', async (_name, status, body, words) => {
    await expect(sendOrder((await answering(status, body)).url, ORDER)).rejects.toThrow(words);
  });
});

describe('what a supplier says', () => {
  it('is asked of the order alone, whatever its reference holds, and not believed with an answer of no', async () => {
    const { url, asked } = await answering(200, '{"messages":[]}');
    expect(await messagesOf(url, 'a/../b?c')).toEqual([]);
    expect(asked.map((one) => one.url)).toEqual(['/orders/a%2F..%2Fb%3Fc/messages']);
    await expect(messagesOf((await answering(404, '{"messages":[]}')).url, 'o')).rejects.toThrow('answered 404');
    await expect(messagesOf((await answering(200, '{}')).url, 'o')).rejects.toThrow('messages');
  });

  it('is read where it can be', async () => {
    const said = { id: '1', kind: 'promised', line: 'l', units: 0, day: '2026-12-01', number: 'N'.repeat(60) };
    expect(await saying([said, { id: '2', kind: 'sent' }])).toEqual([said, { id: '2', kind: 'sent' }]);
  });

  it.each([
    ['a kind nobody knows', { id: '1', kind: 'perhaps' }],
    ['no id', { kind: 'sent' }],
    ['an empty id', { id: '', kind: 'sent' }],
    ['an id without end', { id: 'x'.repeat(201), kind: 'sent' }],
    ['a day that is none', { id: '1', kind: 'promised', day: '2026-02-30' }],
    ['less than nothing', { id: '1', kind: 'part sent', units: -1 }],
    ['a number without end', { id: '1', kind: 'instead', number: 'N'.repeat(61) }],
    ['what no database keeps', { id: '1', kind: 'instead', number: 'PD\u0000' }],
    ['half a character', { id: '1\ud800', kind: 'sent' }],
    ['no message at all', 7],
  ])('is kept for a person to look at where it holds %s', async (_name, message) => {
    const [strange, ...more] = await saying([message, { id: '2', kind: 'sent' }]);
    expect(more).toEqual([{ id: '2', kind: 'sent' }]);
    expect(strange).toMatchObject({ kind: 'not understood', id: expect.stringMatching(/^[0-9a-f]{64}$/) });
    // As it came, and such that it can be kept.
    expect(JSON.parse((strange as { came: string }).came)).toEqual(message);
    expect((strange as { came: string }).came).not.toMatch(/[\p{Cc}\p{Cs}]/u);
  });

  it('is the same where it comes again, and another where it differs', async () => {
    const [a, b, again] = await saying([{ kind: 'a' }, { kind: 'b' }, { kind: 'a' }]);
    expect(again).toEqual(a);
    expect(b?.id).not.toBe(a?.id);
    const [long] = await saying([{ kind: 'x'.repeat(9000) }]);
    expect((long as { came: string }).came).toHaveLength(2000);
  });
});
