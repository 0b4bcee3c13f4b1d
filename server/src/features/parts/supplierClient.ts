import { createHash } from 'node:crypto';
import { IsoDate } from '@mile-mark/contract';
import { z } from 'zod';

/** A text that can be kept as it is: neither control characters nor halves of characters. */
const Text = z
  .string()
  .min(1)
  .max(200)
  .refine((text) => !/[\p{Cc}\p{Cs}]/u.test(text));

/** What a supplier may say. */
export const SupplierMessage = z.object({
  id: Text,
  kind: z.enum(['acknowledged', 'promised', 'delayed', 'sent', 'part sent', 'instead', 'rejected']),
  line: Text.optional(),
  units: z.int().min(0).optional(),
  day: IsoDate.optional(),
  number: Text.max(60).optional(),
});
export type SupplierMessage = z.output<typeof SupplierMessage>;

/** Something a supplier said that can't be read here: kept as it came, for a person to look at. */
export interface StrangeMessage {
  id: string;
  kind: 'not understood';
  /** As JSON, cut after so many characters. */
  came: string;
}
const MOST_KEPT = 2000;

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

/** What a supplier said about an order so far; the same again has the same id. */
export async function messagesOf(url: string, reference: string): Promise<(SupplierMessage | StrangeMessage)[]> {
  const response = await fetch(new URL(`/orders/${encodeURIComponent(reference)}/messages`, url), {
    signal: AbortSignal.timeout(TIMEOUT_MS),
  });
  if (!response.ok) throw new Error(`the supplier answered ${response.status}`);
  return Messages.parse(await response.json()).messages.map((message) => {
    const read = SupplierMessage.safeParse(message);
    if (read.success) return read.data;
    const came = JSON.stringify(message);
    const id = createHash('sha256').update(came).digest('hex');
    return { id, kind: 'not understood', came: came.slice(0, MOST_KEPT) };
  });
}
