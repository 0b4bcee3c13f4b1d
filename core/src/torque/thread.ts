import { MM_PER_INCH } from '../units/index.ts';

/** A screw thread, by its outer diameter and pitch. */
export interface Thread {
  system: 'metric' | 'inch';
  /** Nominal (outer) diameter, mm. */
  diameterMm: number;
  pitchMm: number;
}

/** Pitch of the metric coarse thread by nominal diameter, mm. Source: ISO 261, from memory. */
const COARSE: Record<number, number> = {
  5: 0.8,
  6: 1,
  7: 1,
  8: 1.25,
  10: 1.5,
  12: 1.75,
  14: 2,
  16: 2,
  18: 2.5,
  20: 2.5,
  22: 2.5,
  24: 3,
};

/**
 * Reads a thread as documents write it: `M12`, `M12x1.5`, `M14 × 1,5`, `1/2-20`, `7/16-20 UNF`.
 *
 * @param typed the text; without a pitch a metric thread is the coarse one
 * @returns the thread, or undefined where the text is none or the diameter has no coarse pitch on the list
 */
export function parseThread(typed: string): Thread | undefined {
  const text = typed.trim().replace(',', '.');
  const metric = /^m\s*(\d+(?:\.\d+)?)(?:\s*[x×*]\s*(\d+(?:\.\d+)?))?$/i.exec(text);
  if (metric) {
    const diameterMm = Number(metric[1]);
    const pitchMm = metric[2] === undefined ? COARSE[diameterMm] : Number(metric[2]);
    if (pitchMm === undefined || !isThread(diameterMm, pitchMm)) return undefined;
    return { system: 'metric', diameterMm, pitchMm };
  }
  const inch = /^(?:(\d+)\s*\/\s*(\d+)|(\d+))(?:\s*(?:"|in))?\s*-\s*(\d+)(?:\s*un[cfr]?s?)?$/i.exec(text);
  if (!inch) return undefined;
  const inches = inch[3] === undefined ? Number(inch[1]) / Number(inch[2]) : Number(inch[3]);
  const thread = { diameterMm: inches * MM_PER_INCH, pitchMm: MM_PER_INCH / Number(inch[4]) };
  return isThread(thread.diameterMm, thread.pitchMm) ? { system: 'inch', ...thread } : undefined;
}

/** Whether a screw can have this pitch: between a thirtieth and a quarter of its diameter, up to 60 mm. */
function isThread(diameterMm: number, pitchMm: number): boolean {
  return diameterMm >= 3 && diameterMm <= 60 && pitchMm >= diameterMm / 30 && pitchMm <= diameterMm / 4;
}

/** Pitch diameter d2 = d − 0.6495 P, mm. Source: ISO 724, from memory. */
export function pitchDiameter({ diameterMm, pitchMm }: Thread): number {
  return diameterMm - 0.6495 * pitchMm;
}

/** Diameter of the stress area, mm: mean of d2 and d3 = d − 1.2269 P. Source: ISO 898-1, from memory. */
export function stressDiameter(thread: Thread): number {
  return (pitchDiameter(thread) + thread.diameterMm - 1.2269 * thread.pitchMm) / 2;
}

/**
 * Stress area of a thread, mm².
 *
 * @example stressArea(M12) = 84.3 (the table of ISO 898-1, from memory)
 */
export function stressArea(thread: Thread): number {
  return (Math.PI / 4) * stressDiameter(thread) ** 2;
}

/** How far a screw goes in when it is turned, mm: pitch × angle ÷ 360°. */
export function threadAdvance(thread: Thread, angleDeg: number): number {
  return (thread.pitchMm * angleDeg) / 360;
}
