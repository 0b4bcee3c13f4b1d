import type { Pad, Side, ThicknessUnit } from '@mile-mark/core';
interface PadFigure {
    mm: number;
    sdMm?: number | undefined;
}
interface Props {
    side: Side;
    pads: Partial<Record<Pad, PadFigure>>;
    newMm: number;
    limitMm: number;
    unit: ThicknessUnit;
    /** Pixels a millimetre of friction material. */
    scale?: number;
}
/**
 * A wheel end seen from above: two pads pressing on a disc, each bar's thickness true to scale, the service
 * limit as a hairline, what a new pad would be as a ghost, the number beside. The outer pad lies towards the
 * outside of the vehicle.
 */
export declare function WheelEnd({ side, pads, newMm, limitMm, unit, scale }: Props): import("react").JSX.Element;
export {};
