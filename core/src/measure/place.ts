/** Side of the vehicle, seen from the driver’s seat. */
export type Side = 'left' | 'right';
/** Pad of a wheel: inner by the piston, outer by the wheel. */
export type Pad = 'inner' | 'outer';

/** Where on a vehicle a pad sits: axle counted from the front, side seen from the driver's seat. */
export interface PadPlace {
  axle: number;
  side: Side;
  pad: Pad;
}

/** Sides in walking order. */
export const SIDES: readonly Side[] = ['left', 'right'];
/** Pads in the order of the computation. */
export const PADS: readonly Pad[] = ['inner', 'outer'];

/** The pads of a vehicle in the order of the computation: axle, then left and right, then inner and outer. */
export function padPlaces(axles: readonly number[]): PadPlace[] {
  return axles.flatMap((axle) => SIDES.flatMap((side) => PADS.map((pad) => ({ axle, side, pad }))));
}

/** The pads of a wheel as they lie across the vehicle, from left to right: the outer towards the outside. */
export function padsAcross(side: Side): readonly [Pad, Pad] {
  return side === 'left' ? ['outer', 'inner'] : ['inner', 'outer'];
}

/** The pads of a vehicle as forms, tables, drawings and print show them: axle by axle, from left to right. */
export function placesAcross(axles: readonly number[]): PadPlace[] {
  return axles.flatMap((axle) => SIDES.flatMap((side) => padsAcross(side).map((pad) => ({ axle, side, pad }))));
}

/** A key that is the same for the same place. */
export function placeKey({ axle, side, pad }: PadPlace): string {
  return `${axle}-${side}-${pad}`;
}

/** A place in words: "axle 1, left, inner pad". */
export function placeInWords({ axle, side, pad }: PadPlace): string {
  return `axle ${axle}, ${side}, ${pad} pad`;
}
