import { MM_PER_INCH } from '../units/index.ts';
import type { Thread } from './thread.ts';

/** How a tool takes hold of a fastener. */
export type HeadKind = 'hex' | 'hex key' | 'six-lobe' | 'six-lobe outside';

/** Widths across flats of hexagons by metric thread, mm: ISO 272 and the small and flanged series, from memory. */
const HEX: Record<number, number[]> = {
  5: [8],
  6: [8, 10],
  7: [10, 11],
  8: [10, 12, 13],
  10: [13, 14, 15, 16, 17],
  12: [15, 16, 17, 18, 19, 21],
  14: [17, 18, 19, 21, 22],
  16: [21, 22, 24],
  18: [24, 27],
  20: [27, 30],
  22: [30, 32, 33, 34],
  24: [36],
};

/** Hexagon keys by thread, mm: ISO 4762, low and countersunk heads, and guide pins; from memory. */
const HEX_KEY: Record<number, number[]> = {
  5: [3, 4],
  6: [4, 5],
  8: [5, 6, 7],
  9: [7],
  10: [6, 7, 8, 9],
  12: [8, 10],
  14: [10, 12],
  16: [10, 14],
  20: [12, 17],
};

/** Six-lobe sockets by thread: ISO 10664 and the heads that use it, from memory. */
const SIX_LOBE: Record<number, string[]> = {
  5: ['T25'],
  6: ['T27', 'T30'],
  8: ['T30', 'T40', 'T45'],
  10: ['T45', 'T50'],
  12: ['T50', 'T55'],
  14: ['T55', 'T60'],
  16: ['T60', 'T70'],
};
const SIX_LOBE_OUTSIDE: Record<number, string[]> = {
  6: ['E8'],
  8: ['E10', 'E12'],
  10: ['E12', 'E14'],
  12: ['E14', 'E16', 'E18'],
  14: ['E18', 'E20'],
  16: ['E20', 'E24'],
};

/** Widths over the points of six-lobe sizes, mm. Source: ISO 10664, from memory. */
const OVER_POINTS: Record<string, number> = {
  T20: 3.94,
  T25: 4.48,
  T27: 5.07,
  T30: 5.6,
  T40: 6.75,
  T45: 7.93,
  T50: 8.95,
  T55: 11.35,
  T60: 13.45,
  T70: 15.7,
  E7: 6.17,
  E8: 7.47,
  E10: 9.42,
  E12: 11.17,
  E14: 12.9,
  E16: 14.76,
  E18: 16.7,
  E20: 18.45,
  E24: 22.16,
};

/** A head as it was understood: `acrossMm` is its width over flats (hexagons) or points (six-lobe). */
export interface Head {
  kind: HeadKind;
  acrossMm: number;
  /** As the list of sizes writes it: `21 mm`, `13/16 in`, `T50`. */
  size: string;
}

/**
 * Reads a head or drive size: `21`, `21 mm`, `13/16 in`, `13/16"`, `T50`, `E14`.
 *
 * @param kind what takes hold
 * @param typed the size; millimetres where it carries no unit
 * @returns the head, or undefined where the text is no size of this kind
 */
export function parseHead(kind: HeadKind, typed: string): Head | undefined {
  const text = typed.trim().replace(',', '.');
  if (kind === 'six-lobe' || kind === 'six-lobe outside') {
    const size = text.toUpperCase().replace(/\s/g, '');
    const acrossMm = OVER_POINTS[size];
    return acrossMm !== undefined && size.startsWith(kind === 'six-lobe' ? 'T' : 'E')
      ? { kind, acrossMm, size }
      : undefined;
  }
  const metric = /^(\d+(?:\.\d+)?)\s*(?:mm)?$/i.exec(text);
  const acrossMm = metric ? Number(metric[1]) : inchesOf(text) * MM_PER_INCH;
  if (!(acrossMm >= 2 && acrossMm <= 80)) return undefined;
  return { kind, acrossMm, size: metric ? `${metric[1]} mm` : `${text.replace(/(?:"|”|in)$/i, '').trimEnd()} in` };
}

function inchesOf(text: string): number {
  const inch = /^(?:(\d+)[\s-]+)?(\d+)\s*\/\s*(\d+)\s*(?:"|”|in)$|^(\d+(?:\.\d+)?)\s*(?:"|”|in)$/i.exec(text);
  if (!inch) return NaN;
  return inch[4] === undefined ? Number(inch[1] ?? 0) + Number(inch[2]) / Number(inch[3]) : Number(inch[4]);
}

/** What is odd about a head on a thread: no such fastener can be made, or none on the lists has it. */
export type HeadDoubt =
  { kind: 'impossible'; acrossMm: number; diameterMm: number; outside: boolean } | { kind: 'unusual'; usual: string[] };

/**
 * Holds a head against its thread. A hexagon or outer six-lobe over the thread must be wider than the thread, an inner
 * one narrower: no fastener is otherwise. A width that is not on the list of its thread is unusual.
 *
 * @param hollow bleeders and other hollow screws, whose hexagon may be as narrow as the thread's core
 */
export function judgeHead(thread: Thread, head: Head, { hollow = false } = {}): HeadDoubt | undefined {
  const { diameterMm } = thread;
  const outside = head.kind === 'hex' || head.kind === 'six-lobe outside';
  const fits = outside
    ? head.acrossMm >= diameterMm * (hollow ? 0.7 : 1.05) && head.acrossMm <= diameterMm * 2.4
    : head.acrossMm < diameterMm && head.acrossMm > diameterMm / 4;
  if (!fits) return { kind: 'impossible', acrossMm: head.acrossMm, diameterMm, outside };
  const usual = usualHeads(thread, head.kind);
  if (hollow || usual.length === 0 || usual.includes(head.size)) return undefined;
  return { kind: 'unusual', usual };
}

/** The sizes that heads of a kind have on a metric thread; empty where no list covers it. */
export function usualHeads({ system, diameterMm }: Thread, kind: HeadKind): string[] {
  if (system === 'inch') return [];
  const mm = (list: number[] | undefined) => (list ?? []).map((width) => `${width} mm`);
  switch (kind) {
    case 'hex':
      return mm(HEX[diameterMm]);
    case 'hex key':
      return mm(HEX_KEY[diameterMm]);
    case 'six-lobe':
      return SIX_LOBE[diameterMm] ?? [];
    case 'six-lobe outside':
      return SIX_LOBE_OUTSIDE[diameterMm] ?? [];
  }
}
