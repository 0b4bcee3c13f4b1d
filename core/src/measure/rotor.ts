/** Thickness of a rotor around its circle. */
export interface RotorThickness {
  leastMm: number;
  /** Index of the thinnest point, 0 at twelve o'clock, clockwise. */
  leastAt: number;
  /** Most less least, mm. */
  variationMm: number;
  points: number;
}

/**
 * Least thickness and variation of a rotor from up to 8 points; points not measured are undefined.
 *
 * @param pointsMm mm, in order around the circle from twelve o'clock, clockwise
 * @returns undefined where nothing was measured
 */
export function rotorThickness(pointsMm: readonly (number | undefined)[]): RotorThickness | undefined {
  const seen = pointsMm.flatMap((mm, at) => (mm === undefined ? [] : [{ mm, at }]));
  const [first] = seen;
  if (!first) return undefined;
  const least = seen.reduce((low, one) => (one.mm < low.mm ? one : low), first);
  const most = Math.max(...seen.map(({ mm }) => mm));
  return { leastMm: least.mm, leastAt: least.at, variationMm: most - least.mm, points: seen.length };
}

/** A once-a-turn wave: amplitude (mm, half of peak to peak) and where its high spot is, as a share of a turn. */
export interface Harmonic {
  amplitudeMm: number;
  highAtTurn: number;
}

/** Lateral runout of a rotor taken apart into hub and rotor. */
export interface RotorRunout {
  /** Total indicated runout: most less least of the dial, mm. */
  tirMm: number;
  /** The once-a-turn part: seating and hub. Its peak to peak is twice the amplitude. */
  first: Harmonic;
  /** Total indicated runout of what is left when the once-a-turn part is taken away: the rotor itself, mm. */
  remainderTirMm: number;
  /** The remainder point by point, mm. */
  remainderMm: number[];
}

interface Wave {
  cos: number;
  sin: number;
}

/** Cosine and sine part of the once-a-turn wave; least squares, which for even spacing is the first Fourier coefficient. */
function firstWave(pointsMm: readonly number[]): Wave {
  const n = pointsMm.length;
  let cos = 0;
  let sin = 0;
  pointsMm.forEach((mm, i) => {
    cos += (2 / n) * mm * Math.cos((2 * Math.PI * i) / n);
    sin += (2 / n) * mm * Math.sin((2 * Math.PI * i) / n);
  });
  return { cos, sin };
}

function harmonicOf({ cos, sin }: Wave): Harmonic {
  const turn = Math.atan2(sin, cos) / (2 * Math.PI);
  return { amplitudeMm: Math.hypot(cos, sin), highAtTurn: (turn + 1) % 1 };
}

/**
 * Runout from dial readings at evenly spaced clock positions: what tilts once a turn (seating, dirt on the
 * hub, the hub) against what is in the rotor itself.
 *
 * @param pointsMm at least 4 readings (8 or 12 by the form), mm, from twelve o'clock, clockwise; the dial's zero
 * is anywhere
 * @throws RangeError with fewer than 4 points
 */
export function rotorRunout(pointsMm: readonly number[]): RotorRunout {
  if (pointsMm.length < 4) throw new RangeError('runout needs at least 4 points');
  const n = pointsMm.length;
  const level = pointsMm.reduce((sum, mm) => sum + mm, 0) / n;
  const wave = firstWave(pointsMm);
  const remainderMm = pointsMm.map(
    (mm, i) => mm - level - wave.cos * Math.cos((2 * Math.PI * i) / n) - wave.sin * Math.sin((2 * Math.PI * i) / n),
  );
  return {
    tirMm: Math.max(...pointsMm) - Math.min(...pointsMm),
    first: harmonicOf(wave),
    remainderTirMm: Math.max(...remainderMm) - Math.min(...remainderMm),
    remainderMm,
  };
}

/** A position of the rotor on its hub, with the runout it leaves. */
export interface Indexing {
  /** Studs to turn the rotor clockwise on the hub, 0 to N − 1. */
  turnStuds: number;
  /** Once-a-turn runout left, peak to peak, mm. */
  runoutMm: number;
}

/**
 * Once-a-turn runout of the rotor in each of the positions in which its holes fit the studs: the hub's wave
 * stays, the rotor's own (measured on the hub, less the hub's) turns with it; both add as vectors.
 *
 * @param onHubMm dial readings on the rotor as it is mounted, mm
 * @param hubMm dial readings on the bare hub, reduced to the rotor's radius, mm
 * @param studs number of studs
 * @returns all positions, least runout first
 */
export function indexRotor(onHubMm: readonly number[], hubMm: readonly number[], studs: number): Indexing[] {
  const all = firstWave(onHubMm);
  const hub = firstWave(hubMm);
  const rotor = { cos: all.cos - hub.cos, sin: all.sin - hub.sin };
  return Array.from({ length: studs }, (_, turnStuds) => {
    const angle = (2 * Math.PI * turnStuds) / studs;
    const cos = hub.cos + rotor.cos * Math.cos(angle) - rotor.sin * Math.sin(angle);
    const sin = hub.sin + rotor.cos * Math.sin(angle) + rotor.sin * Math.cos(angle);
    return { turnStuds, runoutMm: 2 * Math.hypot(cos, sin) };
  }).sort((a, b) => a.runoutMm - b.runoutMm || a.turnStuds - b.turnStuds);
}
