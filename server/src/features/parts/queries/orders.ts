import { ORDER_STATES, PartKind, type Order } from '@mile-mark/contract/parts';
import { lineDoubts, type LineDoubt, type OpenNeed } from '@mile-mark/core';
import { dayInWords } from '@mile-mark/contract/words';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { measuresOf } from '../catalogue.ts';
import { placesOf } from '../kits.ts';
import { OrderLineEntity, type PurchaseOrderRow } from '../entities.ts';
import { standingOf, type Standing } from './standing.ts';

const OrderSql = z.object({
  id: z.string(),
  serial: z.string(),
  supplier: z.string(),
  depot: z.string(),
  depot_id: z.string(),
  state: z.enum(ORDER_STATES),
  outside: z.boolean(),
  revision: z.number(),
  made_on: z.string(),
  approved_by: z.string().nullable(),
  reference: z.string().nullable(),
  currency: z.string(),
  freight_minor: z.number(),
  freight_free_minor: z.number().nullable(),
});
const LineSql = z.object({
  id: z.string(),
  order_id: z.string(),
  part_id: z.string(),
  number: z.string(),
  name: z.string(),
  kind: PartKind,
  units: z.number(),
  received: z.number(),
  price_minor: z.number(),
  currency: z.string(),
  why: z.array(z.string()),
  latest: z.string().nullable(),
  promised_on: z.string().nullable(),
  instead: z.string().nullable(),
  ended: z.enum(['rejected', 'short']).nullable(),
  shelf_days: z.number().nullable(),
  diameter_mm: z.number().nullable(),
  height_mm: z.number().nullable(),
  thickness_mm: z.number().nullable(),
  holes: z.number().nullable(),
});
const MessageSql = z.object({
  order_id: z.string(),
  kind: z.string(),
  detail: z.object({
    line: z.string().optional(),
    units: z.number().optional(),
    day: z.string().optional(),
    number: z.string().optional(),
  }),
  at: z.string(),
});

/** Orders are listed that many at most, the newest first. */
const MOST = 200;

const ORDERS = (where: string) => `
  select o.id, o.serial::text, s.name as supplier, d.name as depot, o.depot_id, o.state, o.outside, o.revision, o.made_on::text, p.name as approved_by,
    o.supplier_reference as reference, s.currency, s.freight_minor, s.freight_free_minor
  from purchase_order o join supplier s on s.id = o.supplier_id join depot d on d.id = o.depot_id left join person p on p.id = o.approved_by
  where ${where} order by case o.state when 'proposed' then 0 when 'approved' then 1 else 2 end, o.serial desc limit ${MOST}`;

const LINES = (orders: string) => `
  select l.id, l.order_id, l.part_id, p.number, p.name, p.kind, l.units,
    (select coalesce(sum(m.units), 0)::int from stock_movement m where m.order_line_id = l.id and m.kind = 'receive') as received,
    l.price_minor, l.currency, l.why, l.latest::text, l.promised_on::text, i.number as instead, l.ended, q.shelf_days,
    q.diameter_mm, q.height_mm, q.thickness_mm, q.holes
  from order_line l join part p on p.id = l.part_id left join part i on i.id = l.instead_id join part q on q.id = coalesce(l.instead_id, l.part_id)
  where l.order_id in (select x.id from (${orders}) x) order by p.number`;

const MESSAGES = (orders: string) => `
  select order_id, kind, detail, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at from order_message
  where order_id in (select x.id from (${orders}) x) order by at, message_id`;

/** Orders and proposals with what is odd about them, and what their suppliers said. */
export async function listOrders(
  em: EntityManager,
  filter: { depot?: string | undefined; state?: string | undefined },
  today: string,
  /** Holding lines against open needs takes the whole fleet; who shows sums only leaves it out. */
  { doubted = true } = {},
): Promise<Order[]> {
  const where: string[] = ['true'];
  const values: unknown[] = [];
  const add = (sql: string, value: string) => {
    where.push(sql);
    values.push(value);
  };
  if (filter.depot !== undefined) add('d.name = ?', filter.depot);
  if (filter.state === 'open') where.push(`o.state in ('proposed', 'approved', 'sent', 'acknowledged')`);
  else if (filter.state !== undefined) add('o.state = ?', filter.state);
  const sql = ORDERS(where.join(' and '));
  const orders = await rowsOf(em, OrderSql, sql, values);
  const lines = await rowsOf(em, LineSql, LINES(sql), values);
  const messages = await rowsOf(em, MessageSql, MESSAGES(sql), values);
  const proposed = orders.filter(({ state }) => state === 'proposed');
  const doubts =
    doubted && proposed.length > 0 ? await doubtsOf(em, today, lines, proposed) : new Map<string, string[]>();
  return orders.map((order) => {
    const own = lines.filter(({ order_id }) => order_id === order.id);
    const total = own.reduce((sum, { units, price_minor }) => sum + units * price_minor, 0);
    const free = order.freight_free_minor !== null && total >= order.freight_free_minor;
    return {
      id: order.id,
      number: `PO-${order.serial.padStart(4, '0')}`,
      supplier: order.supplier,
      depot: order.depot,
      state: order.state,
      revision: order.revision,
      madeOn: order.made_on,
      approvedBy: order.approved_by,
      outside: order.outside,
      reference: order.reference,
      totalMinor: total,
      freightMinor: free || own.length === 0 ? 0 : order.freight_minor,
      freightFreeMinor: order.freight_free_minor,
      currency: order.currency,
      lines: own.map((line) => lineDto(line, doubts.get(line.id) ?? [])),
      said: messages
        .filter(({ order_id }) => order_id === order.id)
        .map((one) => ({ text: saidInWords(one, own), at: one.at })),
    };
  });
}

const lineDto = (line: z.output<typeof LineSql>, doubts: string[]): Order['lines'][number] => ({
  id: line.id,
  part: line.number,
  name: line.name,
  kind: line.kind,
  units: line.units,
  received: line.received,
  priceMinor: line.price_minor,
  currency: line.currency,
  why: line.why,
  latest: line.latest,
  promisedOn: line.promised_on,
  instead: line.instead,
  ended: line.ended,
  doubts,
  measures: measuresOf(line),
  expires: line.shelf_days !== null,
});

function saidInWords(
  { kind, detail }: z.output<typeof MessageSql>,
  lines: readonly z.output<typeof LineSql>[],
): string {
  const own = lines.find(({ id }) => id === detail.line);
  const number = own?.number ?? 'a line';
  const day = detail.day === undefined ? '' : dayInWords(detail.day);
  switch (kind) {
    case 'acknowledged':
      return 'The supplier has the order.';
    case 'promised':
      return `${number}: promised for ${day}.`;
    case 'delayed':
      return `${number}: delayed to ${day}.`;
    case 'part sent':
      return `${number}: ${detail.units ?? 0} sent first, ${day}.`;
    case 'instead':
      return own?.instead == null
        ? `${number}: ${detail.number ?? 'something else'} is to be sent instead, which does not fit wherever ${number} does. Refuse it.`
        : `${number}: ${detail.number ?? own.instead} is sent instead.`;
    case 'rejected':
      return `${number}: can’t be had.`;
    case 'not understood':
      return 'The supplier said something that can’t be read here: ask there what it is.';
    default:
      return `${number}: ${kind} ${day}`.trim();
  }
}

/** What is odd about an order’s lines, by line, where any is. */
export async function orderDoubts(
  em: EntityManager,
  order: PurchaseOrderRow,
  today: string,
): Promise<Map<string, string[]>> {
  const lines = await em.find(OrderLineEntity, { orderId: order.id });
  return doubtsOf(
    em,
    today,
    lines.map(({ id, partId }) => ({ id, part_id: partId, order_id: order.id })),
    [{ id: order.id, depot_id: order.depotId }],
  );
}

async function doubtsOf(
  em: EntityManager,
  today: string,
  lines: readonly { id: string; part_id: string; order_id: string }[],
  orders: readonly { id: string; depot_id: string }[],
): Promise<Map<string, string[]>> {
  const standing = await standingOf(em, today);
  const places = await placesOf(em);
  const byId = new Map(standing.catalogue.parts.map((part) => [part.id, part]));
  const found = new Map<string, string[]>();
  for (const { id: orderId, depot_id } of orders) {
    const needs = openNeeds(standing, depot_id);
    for (const line of lines.filter(({ order_id }) => order_id === orderId)) {
      const part = byId.get(line.part_id);
      const doubts = part ? lineDoubts(part, needs, places.get(depot_id) ?? []) : [];
      if (part && doubts.length > 0)
        found.set(
          line.id,
          doubts.map((doubt) => doubtInWords(doubt, part.number)),
        );
    }
  }
  return found;
}

/** What open jobs of a depot still miss. */
function openNeeds({ jobs, states }: Standing, depotId: string): OpenNeed[] {
  return jobs
    .filter((job) => job.depotId === depotId)
    .flatMap((job) =>
      (states.get(job.id)?.needs ?? [])
        .filter(({ now }) => now.state !== 'there')
        .flatMap(({ kind, axle, side }) => {
          const place = axle === undefined ? undefined : job.places.get(axle);
          return place ? [{ job: job.id, unit: job.unit, kind, place, side }] : [];
        }),
    );
}

function doubtInWords(doubt: LineDoubt, number: string): string {
  switch (doubt.code) {
    case 'other axle':
      return `${number} fits another axle: ${doubt.needed.unit} needs a ${doubt.needed.kind} at axle ${doubt.needed.place.axle}.`;
    case 'other side':
      return `${number} is of the other side: ${doubt.needed.unit} needs a ${doubt.needed.kind} at the ${doubt.needed.side} of axle ${doubt.needed.place.axle}.`;
    case 'fits nothing here':
      return `${number} fits no vehicle of this depot.`;
  }
}
