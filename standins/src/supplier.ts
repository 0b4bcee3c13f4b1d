import type { IncomingMessage, ServerResponse } from 'node:http';
import { dateOfDay, dayNumber, seededRandom } from '@mile-mark/core';
import { listen, textOf } from './http.ts';

/** What a supplier says about an order; each message has an id of its own, and may come more than once. */
export interface SupplierMessage {
  id: string;
  kind: 'acknowledged' | 'promised' | 'delayed' | 'sent' | 'part sent' | 'instead' | 'rejected';
  /** The line it is about, by the buyer's id. */
  line?: string;
  units?: number;
  day?: string;
  /** Number of what is sent instead. */
  number?: string;
}

export interface SupplierLine {
  line: string;
  number: string;
  units: number;
}

export interface SupplierOptions {
  seed: number;
  today: () => string;
  leadDays: number;
  /** Numbers it sends instead of others. */
  instead?: Readonly<Record<string, string>>;
  /** Numbers it no longer has. */
  rejects?: readonly string[];
  /** Chance that it does not answer a request (503) though it took it in, 0 to 1. */
  failing?: number;
}

interface Taken {
  reference: string;
  lines: SupplierLine[];
  messages: SupplierMessage[];
}

const CHANCES = { delayed: 0.15, part: 0.1 };
const LATER_DAYS = 4;

/**
 * A stand-in for a parts supplier over HTTP. `POST /orders` takes an order in once, however often it comes; `GET
 * /orders/{reference}/messages` tells what became of it, now and then the same thing twice. Same seed, same fate.
 */
export async function supplierStandIn(
  options: SupplierOptions,
): Promise<{ url: string; orders: () => readonly Taken[]; close: () => Promise<void> }> {
  const taken = new Map<string, Taken>();
  const faults = seededRandom(options.seed + 1);
  const fails = () => faults() < (options.failing ?? 0);
  const server = await listen((request, response) => answer(request, response, taken, options, fails));
  return { ...server, orders: () => [...taken.values()] };
}

async function answer(
  request: IncomingMessage,
  response: ServerResponse,
  taken: Map<string, Taken>,
  options: SupplierOptions,
  fails: () => boolean,
): Promise<void> {
  const json = (status: number, body: unknown) =>
    response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
  const path = new URL(request.url ?? '/', 'http://supplier').pathname;
  if (request.method === 'POST' && path === '/orders') {
    const order = JSON.parse(await textOf(request)) as { reference: string; lines: SupplierLine[] };
    // The same order again is the one it has.
    if (!taken.has(order.reference)) taken.set(order.reference, { ...order, messages: messagesOf(order, options) });
    if (fails()) return void response.writeHead(503).end();
    return void json(202, {
      reference: order.reference,
      taken: `S-${1000 + [...taken.keys()].indexOf(order.reference)}`,
    });
  }
  const asked = /^\/orders\/([^/]+)\/messages$/.exec(path)?.[1];
  const order = asked === undefined ? undefined : taken.get(decodeURIComponent(asked));
  if (!order) return void json(404, { error: 'no such order' });
  if (fails()) return void response.writeHead(503).end();
  json(200, { messages: [...order.messages, ...order.messages.slice(0, 1)] });
}

function messagesOf(
  { reference, lines }: { reference: string; lines: SupplierLine[] },
  options: SupplierOptions,
): SupplierMessage[] {
  const random = seededRandom(
    options.seed + ([...reference].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7) % 1_000_003),
  );
  const promised = dateOfDay(dayNumber(options.today()) + options.leadDays);
  const later = dateOfDay(dayNumber(promised) + LATER_DAYS);
  const messages: SupplierMessage[] = [{ id: `${reference}/taken`, kind: 'acknowledged' }];
  for (const { line, number, units } of lines) {
    const say = (kind: SupplierMessage['kind'], more: Partial<SupplierMessage> = {}) =>
      messages.push({ id: `${reference}/${line}/${kind}`, kind, line, ...more });
    const instead = options.instead?.[number];
    if (options.rejects?.includes(number)) {
      say('rejected');
      continue;
    }
    if (instead !== undefined) say('instead', { number: instead });
    say('promised', { day: promised, units });
    const draw = random();
    if (draw < CHANCES.delayed) say('delayed', { day: later });
    else if (draw < CHANCES.delayed + CHANCES.part && units > 1)
      say('part sent', { units: Math.floor(units / 2), day: promised });
  }
  return messages;
}
