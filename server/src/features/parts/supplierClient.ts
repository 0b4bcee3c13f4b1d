import { IsoDate } from '@mile-mark/contract';
import { z } from 'zod';

/** What a supplier may say; anything else of it is left out, and said in the log. */
export const SupplierMessage = z.object({
  id: z.string().min(1).max(200),
  kind: z.enum(['acknowledged', 'promised', 'delayed', 'sent', 'part sent', 'instead', 'rejected']),
  line: z.string().optional(),
  units: z.int().min(0).optional(),
  day: IsoDate.optional(),
  number: z.string().max(60).optional(),
});
export type SupplierMessage = z.output<typeof SupplierMessage>;

const Taken = z.object({ taken: z.string().max(120) });
const Messages = z.object({ messages: z.array(z.unknown()).max(2000) });

/** A supplier that answers slower than this did not answer, ms. */
const TIMEOUT_MS = 10_000;

/** Sends an order; the same again is the same order, so that it may be tried until it is answered. */
export async function sendOrder(
  url: string,
  order: { reference: string; lines: { line: string; number: string; units: number }[] },
): Promise<string> {
  const response = await fetch(new URL('/orders', url), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(order),
    signal: AbortSignal.timeout(TIMEOUT_MS),
  });
  if (!response.ok) throw new Error(`the supplier answered ${response.status}`);
  return Taken.parse(await response.json()).taken;
}

/** What a supplier said about an order so far, and how many messages can't be read. */
export async function messagesOf(
  url: string,
  reference: string,
): Promise<{ messages: SupplierMessage[]; unread: number }> {
  const response = await fetch(new URL(`/orders/${encodeURIComponent(reference)}/messages`, url), {
    signal: AbortSignal.timeout(TIMEOUT_MS),
  });
  if (!response.ok) throw new Error(`the supplier answered ${response.status}`);
  const read = Messages.parse(await response.json()).messages.map((one) => SupplierMessage.safeParse(one));
  const messages = read.flatMap((one) => (one.success ? [one.data] : []));
  return { messages, unread: read.length - messages.length };
}
