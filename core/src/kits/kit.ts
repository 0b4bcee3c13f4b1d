import type { KitLine, KitPart } from '../inspect/index.ts';
import { SIDES, type Side } from '../measure/index.ts';
import { CONSUMABLES, successor, type Fit, type Part } from './part.ts';

/** A wheel end's place, as parts know it. */
export interface Place {
  model: string;
  axle: number;
  /** Diameter of its rotors, mm, where known. */
  rotorMm: number | undefined;
}

/** A part that would do for a line, and how many whole units of it the line opens. */
export interface Option {
  part: string;
  units: number;
  /** Of a consumable, what is used up of them: a fifth of a bottle is 0.2. The rest is there for the next job. */
  used?: number;
}

/** Units that a line takes out of what there is. */
export const takenBy = ({ units, used }: Option): number => used ?? units;

/** A line of a kit with the parts that would do, the one to take first before the others. */
export interface KitNeed {
  kind: KitPart;
  axle: number | undefined;
  side: Side | 'both';
  pieces: number;
  /** Of a consumable: mL or g. */
  amount?: number;
  options: Option[];
  /** What to order where none is in stock; undefined where nothing of the catalogue fits. */
  order: Option | undefined;
}

/** Why a kit can't be complete as the catalogue stands. */
export interface KitFault {
  code: 'no part fits' | 'only one side' | 'pads short' | 'one rotor' | 'washers' | 'sensor on the other side';
  kind: KitPart;
  axle: number | undefined;
  side: Side | 'both';
}

export interface Kit {
  needs: KitNeed[];
  faults: KitFault[];
}

/** Whether a part may go there; a fit that says nothing of the diameter is not held against it. */
export function fitsAt(fit: Fit, place: Place, side: Side | 'both'): boolean {
  return (
    (fit.model === undefined || fit.model === place.model) &&
    (fit.axle === undefined || fit.axle === place.axle) &&
    (fit.rotorMm === undefined || place.rotorMm === undefined || fit.rotorMm === place.rotorMm) &&
    (fit.side === 'both' || fit.side === side)
  );
}

/** Units of issue that a job opens of a consumable of which nobody said what a unit holds. */
const CONSUMED = 1;

function optionOf(part: Part, pieces: number, amount: number | undefined): Option {
  if (amount === undefined || part.content === undefined)
    return { part: part.id, units: Math.ceil(pieces / part.pieces) };
  const used = amount / part.content;
  return { part: part.id, units: Math.ceil(used - 1e-9), used };
}

/**
 * The parts that a job's lines take, out of the catalogue; a handed part is asked for wheel by wheel.
 *
 * @param lines as the job asks for them (`kitOf`)
 * @param places by axle
 */
export function kitFrom(lines: readonly KitLine[], places: ReadonlyMap<number, Place>, parts: readonly Part[]): Kit {
  const byId = new Map(parts.map((part) => [part.id, part]));
  const byKind = new Map<KitPart, Part[]>();
  for (const part of parts) byKind.set(part.kind, [...(byKind.get(part.kind) ?? []), part]);
  const kit: Kit = { needs: [], faults: checkLines(lines) };
  for (const line of lines) {
    const found = needsOf(line, places, byKind.get(line.part) ?? [], byId);
    kit.needs.push(...found);
    for (const need of found)
      if (need.options.length === 0)
        kit.faults.push({
          code: found.length > 1 && found.some(({ options }) => options.length > 0) ? 'only one side' : 'no part fits',
          kind: need.kind,
          axle: need.axle,
          side: need.side,
        });
  }
  return kit;
}

function needsOf(
  line: KitLine,
  places: ReadonlyMap<number, Place>,
  parts: readonly Part[],
  byId: ReadonlyMap<string, Part>,
): KitNeed[] {
  const place = line.axle === undefined ? undefined : places.get(line.axle);
  const optionsAt = (side: Side | 'both', pieces: number): Option[] =>
    parts
      .filter(({ fits, kind }) =>
        place === undefined || (fits.length === 0 && CONSUMABLES.includes(kind))
          ? true
          : fits.some((fit) => fitsAt(fit, place, side)),
      )
      // What is superseded is used up first; the shop's own order decides among the rest.
      .sort((a, b) => Number(b.supersededBy !== undefined) - Number(a.supersededBy !== undefined) || a.rank - b.rank)
      .map((part) => optionOf(part, pieces, line.amount));
  const needAt = (side: Side | 'both', pieces: number): KitNeed => {
    const options = optionsAt(side, pieces);
    const best = options
      .flatMap(({ part }) => byId.get(part) ?? [])
      .sort((a, b) => a.rank - b.rank)
      .map((part) => successor(part, byId))[0];
    return {
      kind: line.part,
      axle: line.axle,
      side,
      pieces,
      ...(line.amount === undefined ? {} : { amount: line.amount }),
      options,
      order: best && optionOf(best, pieces, line.amount),
    };
  };
  const pieces = line.quantity ?? CONSUMED;
  const whole = needAt(line.side, pieces);
  if (line.side !== 'both' || whole.options.length > 0) return [whole];
  // No part does for either wheel: a handed one for each, if there is one at all.
  const handed = SIDES.map((side) => needAt(side, pieces / 2));
  return handed.some(({ options }) => options.length > 0) ? handed : [whole];
}

/** Least pieces an axle's job may take, where both wheels are done: four pads, both rotors. */
const BOTH_WHEELS: Partial<Record<KitPart, [number, KitFault['code']]>> = {
  'brake pad': [4, 'pads short'],
  rotor: [2, 'one rotor'],
};

/** What is wrong with a kit's lines before any part is chosen: three pads, one rotor, an odd washer. */
export function checkLines(lines: readonly KitLine[]): KitFault[] {
  return lines.flatMap((line): KitFault[] => {
    const at = { kind: line.part, axle: line.axle, side: line.side };
    const least = BOTH_WHEELS[line.part];
    if (least && line.side === 'both' && line.quantity !== least[0]) return [{ code: least[1], ...at }];
    // A banjo has a washer on either side.
    if (line.part === 'sealing washer' && (line.quantity ?? 0) % 2 !== 0) return [{ code: 'washers', ...at }];
    return [];
  });
}

/** What is wrong with the sensor's side: sensors sit where the axle is built for them, and nowhere else. */
export function checkSensor(
  lines: readonly KitLine[],
  sensorOf: (axle: number) => 'none' | 'left' | 'right' | 'both',
): KitFault[] {
  return lines
    .filter(({ part }) => part === 'wear sensor')
    .filter(({ axle, side }) => {
      const built = axle === undefined ? 'none' : sensorOf(axle);
      return built !== 'both' && built !== side;
    })
    .map(({ part, axle, side }) => ({ code: 'sensor on the other side', kind: part, axle, side }));
}
