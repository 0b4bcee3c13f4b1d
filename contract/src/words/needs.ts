import { AMOUNTS, isConsumable, type KitPart } from '@mile-mark/core';

interface Line {
  part: KitPart;
  quantity: number | null;
  /** Of a consumable, in its own unit. */
  amount?: number | null;
  side: 'left' | 'right' | 'both';
}

/** `250 mL`, `5 g`: an amount of a consumable, as its kind is counted. */
export const amountInWords = (kind: KitPart, amount: number): string =>
  `${Number(amount.toFixed(1))} ${isConsumable(kind) ? AMOUNTS[kind].unit : 'pieces'}`;

/** `4 brake pads`, `1 wear sensor, left`, `200 mL of brake cleaner`: a line of a kit without its axle. */
export function kitLineInWords({ part, quantity, side, amount }: Line): string {
  if (quantity === null) return amount == null ? part : `${amountInWords(part, amount)} of ${part}`;
  const named = quantity === 1 ? part : `${part}s`;
  return side === 'both' ? `${quantity} ${named}` : `${quantity} ${named}, ${side}`;
}

/** `45 min`, `2 h 10 min`: minutes of work, to five where they are many. */
export function minutesInWords(minutes: number): string {
  if (minutes < 90) return `${minutes < 10 ? Number(minutes.toFixed(1)) : Math.round(minutes)} min`;
  const whole = Math.round(minutes / 5) * 5;
  const rest = whole % 60;
  return `${Math.floor(whole / 60)} h${rest > 0 ? ` ${String(rest).padStart(2, '0')} min` : ''}`;
}
