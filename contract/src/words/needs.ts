import type { KitPart } from '@mile-mark/core';

interface Line {
  part: KitPart;
  quantity: number | null;
  side: 'left' | 'right' | 'both';
}

/** `4 brake pads`, `1 wear sensor, left`, `brake cleaner`: a line of a kit without its axle. */
export function kitLineInWords({ part, quantity, side }: Line): string {
  if (quantity === null) return part;
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
