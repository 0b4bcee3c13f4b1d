import { afterEach, describe, expect, it } from '@jest/globals';
import { supplierStandIn, type SupplierMessage, type SupplierOptions } from './supplier.ts';

const closing: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0)) await close();
});
const LINES = Array.from({ length: 40 }, (_, i) => ({ line: `l${i}`, number: `N-${i}`, units: 4 }));

async function ask(over: Partial<SupplierOptions> = {}, lines = LINES) {
  const supplier = await supplierStandIn({ seed: 5, today: () => '2026-11-20', leadDays: 5, ...over });
  closing.push(supplier.close);
  const order = () =>
    fetch(`${supplier.url}/orders`, { method: 'POST', body: JSON.stringify({ reference: 'O-1', lines }) });
  const first = await order();
  const said = await fetch(`${supplier.url}/orders/O-1/messages`);
  const messages = said.ok ? ((await said.json()) as { messages: SupplierMessage[] }).messages : [];
  return { supplier, order, first, messages };
}

describe('the simulated supplier', () => {
  it('takes an order in once, however often it comes', async () => {
    const { supplier, order, first } = await ask();
    expect(await first.json()).toEqual(await (await order()).json());
    expect(supplier.orders()).toHaveLength(1);
  });

  it('promises every line, delays some, sends some in part, and says its first word twice', async () => {
    const { messages } = await ask();
    const kinds = (kind: string) => messages.filter((one) => one.kind === kind).length;
    expect(kinds('acknowledged')).toBe(2);
    expect(kinds('promised')).toBe(40);
    expect(kinds('delayed')).toBeGreaterThan(0);
    expect(kinds('part sent')).toBeGreaterThan(0);
    expect(messages.find((one) => one.kind === 'promised')?.day).toBe('2026-11-25');
  });

  it('says the same for the same seed, and something else for another', async () => {
    const [one, two, other] = [await ask(), await ask(), await ask({ seed: 6 })];
    expect(one.messages).toEqual(two.messages);
    expect(one.messages).not.toEqual(other.messages);
  });

  it('sends something else, or nothing', async () => {
    const { messages } = await ask({ instead: { 'N-0': 'N-0A' }, rejects: ['N-1'] }, LINES.slice(0, 2));
    expect(messages).toContainEqual(expect.objectContaining({ kind: 'instead', line: 'l0', number: 'N-0A' }));
    expect(messages.filter(({ line }) => line === 'l1').map(({ kind }) => kind)).toEqual(['rejected']);
  });

  it('may have taken in what it did not answer', async () => {
    const { supplier, first } = await ask({ failing: 1 });
    expect(first.status).toBe(503);
    expect(supplier.orders()).toHaveLength(1);
  });

  it('knows no order that nobody sent', async () => {
    const { supplier } = await ask();
    expect((await fetch(`${supplier.url}/orders/O-2/messages`)).status).toBe(404);
  });
});
