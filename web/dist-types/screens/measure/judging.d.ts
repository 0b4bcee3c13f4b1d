import { type Suspicion, type ThicknessUnit } from '@mile-mark/core';
import type { AxleDetail, Gauge, PadDetail } from '@mile-mark/contract';
export type FieldState = {
    kind: 'empty';
} | {
    kind: 'wrong';
    message: string;
} | {
    kind: 'fine';
    mm: number;
} | {
    kind: 'suspect';
    mm: number;
    suspicion: Suspicion;
};
/**
 * Judges a figure while it is typed, here in the browser, by the same core code that the server uses.
 *
 * @param pad what is known of the pad; undefined where no forecast has come yet
 */
export declare function judgeTyped(typed: string, unit: ThicknessUnit, gauge: Gauge | undefined, axle: AxleDetail, pad: PadDetail | undefined): FieldState;
